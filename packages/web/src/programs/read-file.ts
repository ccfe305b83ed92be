import { programProblems, readProgramText, type Program } from '@contactum/core';

/** A file of a program as it was read, or what is wrong with it and where. */
export type FileRead =
  | { readonly ok: true; readonly name: string; readonly program: Program }
  | { readonly ok: false; readonly name: string; readonly problem: string };

type Told =
  | { readonly ok: true; readonly program: Program }
  | { readonly ok: false; readonly line: number; readonly message: string };

/** Reads structured text, the XML of IEC 61131-10 or our own document, by the ending of the file's name. */
export async function readProgramFile(file: File): Promise<FileRead> {
  const { name } = file;
  const text = await file.text();
  if (name.toLowerCase().endsWith('.json')) return readDocument(name, text);
  if (!name.toLowerCase().endsWith('.xml')) return taken(name, readProgramText(text));
  const { readProgramXml } = await import('@contactum/core/exchange');
  return taken(name, readProgramXml(text));
}

function taken(name: string, read: Told): FileRead {
  if (!read.ok) return { ok: false, name, problem: `Line ${read.line}: ${read.message}.` };
  const [problem] = programProblems(read.program);
  return problem
    ? { ok: false, name, problem: `${problem.path}: ${problem.message}.` }
    : { ok: true, name, program: read.program };
}

async function readDocument(name: string, text: string): Promise<FileRead> {
  const { readProgram } = await import('@contactum/core/documents');
  try {
    const read = readProgram(JSON.parse(text));
    if (read.ok) return { ok: true, name, program: read.value };
    const [problem] = read.problems;
    return { ok: false, name, problem: `${problem?.path ?? ''}: ${problem?.message ?? ''}.` };
  } catch (error) {
    return { ok: false, name, problem: (error as Error).message };
  }
}
