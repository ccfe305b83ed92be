import {
  programOf,
  programProblems,
  programText,
  readProgramText,
  type Program,
  type ReadText,
} from '@contactum/core';
import { readBench, readProgram } from '@contactum/core/documents';
import { programXml, readProgramXml } from '@contactum/core/exchange';
import { Unusable, kindIn, readFile, readText } from './input.js';

/** A program in the formats of others, by the word after `--to` and `--as`. */
const FORMATS: Readonly<
  Record<string, { readonly write: (program: Program) => string; readonly read: (text: string) => ReadText }>
> = {
  st: { write: programText, read: readProgramText },
  iec61131: { write: programXml, read: readProgramXml },
};

export const PROGRAM_FORMATS = Object.keys(FORMATS);

function formatOf(name: string) {
  const format = FORMATS[name];
  if (!format) throw new Unusable(`arguments: there is no format "${name}" of programs`);
  return format;
}

/** True of a file that says it is a program. */
export const isProgram = (file: string): boolean => kindIn(file) === 'program/1';

/** A program, or that of the only controller of a bench. */
export function programIn(file: string): Program {
  if (kindIn(file) !== 'bench/1') return readFile(file, readProgram);
  const programs = readFile(file, readBench).devices.flatMap((device) => programOf(device) ?? []);
  const [only] = programs;
  if (!only || programs.length > 1)
    throw new Unusable(
      `${file}: devices: there must be one controller with a program, there are ${programs.length}`,
    );
  return only;
}

/** A program as text in a format. */
export const programAs = (file: string, format: string): string => formatOf(format).write(programIn(file));

/** A program from a file of a format; what has no ladder form is refused with its line. */
export function programFrom(file: string, format: string): Program {
  const read = formatOf(format).read(readText(file));
  if (!read.ok) throw new Unusable(`${file}: line ${read.line}: ${read.message}`);
  const [problem] = programProblems(read.program);
  if (problem) throw new Unusable(`${file}: ${problem.path}: ${problem.message}`);
  return read.program;
}
