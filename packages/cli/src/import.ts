import {
  benchProblems,
  compile,
  describeFault,
  readDeck,
  readFault,
  referenceBench,
  spellWire,
  terminalsOf,
  wireProblems,
  wiringFromJoints,
  type Problem,
} from '@contactum/core';
import { readDocument, readJoints } from '@contactum/core/documents';
import {
  readClassList,
  readFaultList,
  readMaterials,
  readWireList,
  takenOf,
  type Preview,
} from '@contactum/core/exchange';
import type { Answer } from './answer.js';
import { save } from './export.js';
import { PROGRAM_FORMATS, programFrom } from './programs.js';
import { Unusable, misfit, readBoard, readFile, readJson, readText } from './input.js';

export interface ImportValues {
  readonly as?: string;
  readonly into?: string;
  readonly out?: string;
}

/** What an import would do: a line for each of the file's, and what comes of it. */
interface Outcome {
  readonly lines: readonly { readonly line: number; readonly words: string; readonly ok: boolean }[];
  readonly problem: string | null;
  readonly document: unknown;
}

function target(into: string | undefined): ReturnType<typeof readBoard> {
  if (into === undefined) throw new Unusable('arguments: this import needs --into BENCH or EXERCISE');
  return readBoard(into);
}

const linesOf = <T>(preview: Preview<T>, words: (value: T) => string): Outcome['lines'] =>
  preview.lines.map(({ line, value, problem, text }) => ({
    line,
    ok: problem === null,
    words: value === null ? `${text}: ${problem ?? ''}` : words(value),
  }));

/** What is wrong with a document or a part of one, each with its place. */
const problemLines = (problems: readonly Problem[]): Outcome['lines'] =>
  problems.map(({ path, message }, k) => ({ line: k + 1, ok: false, words: `${path}: ${message}` }));

const IMPORTS: Readonly<Record<string, (file: string, into: string | undefined) => Outcome>> = {
  /** A wire list becomes the wires of a bench, or the reference of an exercise. */
  csv(file, into) {
    const board = target(into);
    const bench = 'exercise' in board ? board.exercise.bench : board.bench;
    const preview = readWireList(readText(file), terminalsOf(bench));
    const wires = takenOf(preview);
    const [document, problems] =
      'exercise' in board
        ? [{ ...board.exercise, reference: wires }, wireProblems(wires, bench, 'wires')]
        : [{ ...bench, wires }, benchProblems({ ...bench, wires })];
    return {
      lines: linesOf(preview, (wire) => `lead ${spellWire(wire)}`),
      problem: preview.problem ?? problems[0]?.message ?? null,
      document,
    };
  },
  materials(file) {
    const { preview, materials } = readMaterials(readText(file));
    return {
      lines: linesOf(preview, (one) =>
        'device' in one
          ? `${one.device.quantity} × ${one.device.name}`
          : `${one.lead.leads} leads ${one.lead.colour}`,
      ),
      problem: preview.problem,
      document: materials,
    };
  },
  /** Symptoms and faults become the list of faults of an exercise. */
  faults(file, into) {
    const board = target(into);
    if (!('exercise' in board)) throw new Unusable('arguments: faults are imported --into an EXERCISE');
    const { exercise } = board;
    const preview = readFaultList(readText(file), compile(referenceBench(exercise)));
    const faults = takenOf(preview).map(({ fault, title }, k) => ({ id: `fault-${k + 1}`, title, fault }));
    return {
      lines: linesOf(preview, ({ fault }) => describeFault(readFault(fault))),
      problem: preview.problem,
      document: { ...exercise, faults },
    };
  },
  /** What is joined becomes leads: those that serve stay, the fewest others are cut and laid. */
  joints(file, into) {
    const board = target(into);
    const { joined } = readFile(file, readJoints);
    const bench = 'exercise' in board ? referenceBench(board.exercise) : board.bench;
    const fixed = 'exercise' in board ? board.exercise.bench.wires.length : 0;
    const rewired = wiringFromJoints(bench, joined, fixed);
    if (!rewired.ok) throw misfit(file, rewired.problems);
    const { cut, laid, bench: wired } = rewired;
    const changes = [
      ...cut.map((wire) => `cut ${spellWire(wire)}`),
      ...laid.map((wire) => `lay ${spellWire(wire)}`),
    ];
    return {
      lines: changes.map((words, k) => ({ line: k + 1, ok: true, words })),
      problem: null,
      document: 'exercise' in board ? { ...board.exercise, reference: wired.wires.slice(fixed) } : wired,
    };
  },
  /** A document of any kind as it is: every problem with its place. */
  document(file) {
    const document = readJson(file);
    const read = readDocument(document);
    const lines = read.ok
      ? [{ line: 1, ok: true, words: `a valid ${read.value.kind}` }]
      : problemLines(read.problems);
    return { lines, problem: null, document };
  },
  /** A list of students: who is named, and what is missing; enrolling is done in the application. */
  'class-list'(file) {
    const read = readClassList(readText(file));
    const students = 'problem' in read ? [] : read.students;
    const seen = new Set<string>();
    const lines = students.map(({ line, name, login, group }) => {
      const isTwice = login !== '' && seen.has(login.toLowerCase());
      seen.add(login.toLowerCase());
      const missing = name === '' ? 'no name' : login === '' ? 'nothing to sign in with' : '';
      const problem = missing || (isTwice ? `“${login}” stands twice` : '');
      const who = [name, login, group].filter(Boolean).join(', ');
      return { line, ok: problem === '', words: problem === '' ? who : `${who}: ${problem}` };
    });
    return { lines, problem: 'problem' in read ? read.problem : null, document: students };
  },
  spice(file) {
    const { deck, problems } = readDeck(readText(file));
    return {
      lines: [
        ...deck.elements.map(({ name, nodes }, k) => ({
          line: k + 1,
          ok: true,
          words: `${name} between ${nodes.join(' and ')}`,
        })),
        ...problemLines(problems),
      ],
      problem: deck.elements.length === 0 ? 'no element is described' : null,
      document: deck,
    };
  },
};

export const IMPORT_FORMATS = [...Object.keys(IMPORTS), ...PROGRAM_FORMATS];

/** A program is taken whole or not at all: a line for each of its rungs. */
function programOutcome(file: string, format: string): Outcome {
  const program = programFrom(file, format);
  const lines = program.rungs.map(({ comment }, k) => ({
    line: k + 1,
    ok: true,
    words: `rung ${k + 1}${comment ? `: ${comment}` : ''}`,
  }));
  return { lines, problem: null, document: program };
}

/** Says line by line what a file would do; writes what comes of it only where every line is taken. */
export function importAnswer(file: string, { as = '', into, out }: ImportValues): Answer {
  const read = PROGRAM_FORMATS.includes(as) ? (path: string) => programOutcome(path, as) : IMPORTS[as];
  if (!read) throw new Unusable(`arguments: --as is ${IMPORT_FORMATS.join(', ')}`);
  const { lines, problem, document } = read(file, into);
  if (problem !== null) throw new Unusable(`${file}: (document): ${problem}`);
  const bad = lines.filter(({ ok }) => !ok);
  const ok = bad.length === 0;
  if (ok && out !== undefined) save(out, `${JSON.stringify(document, null, 2)}\n`);
  const words = [
    ...lines.map(({ line, words: said, ok: taken }) => `${taken ? '+' : '!'} line ${line}: ${said}`),
    ok
      ? `${lines.length} lines taken${out === undefined ? '; nothing is written without --out FILE' : `; written to ${out}`}`
      : `${bad.length} of ${lines.length} lines cannot be taken; nothing is written`,
  ];
  return { holds: ok, json: { ok, lines, document: ok ? document : null }, words: words.join('\n') };
}
