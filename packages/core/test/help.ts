import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  NOTHING_ENTERED,
  compile,
  Solver,
  type Bench,
  type BenchSheet,
  type Exercise,
  type Script,
  type SheetEntries,
  type TerminalIndex,
} from '@contactum/core';
import { readBench, readExercise, readScript, type Read } from '@contactum/core/documents';
import { shippedExercise, shippedExercises } from '@contactum/core/exercises';

export const FIXTURES = join(import.meta.dirname, 'fixtures');

const proved = JSON.parse(readFileSync(join(FIXTURES, 'proved.json'), 'utf8')) as { core: string };
const isProved = process.env.CONTACTUM_PROVE !== 'all' && proved.core === process.env.CONTACTUM_CORE;

/** One case in so many is tried again where `npm run prove` has been through all of them on these sources. */
const AGAIN = 6;

/** The cases of a long oracle: all of them, but where they were proved on these very sources. */
export const longList = <T>(cases: readonly T[]): T[] => cases.filter((_, k) => !isProved || k % AGAIN === 0);

/** How often a long oracle is tried, in the same way. */
export const longRuns = (runs: number): number => (isProved ? Math.ceil(runs / AGAIN) : runs);

/** Every second of a list: what is tried on boards of each family and need not be on all. */
export const everySecond = <T>(list: readonly T[]): T[] => list.filter((_, k) => k % 2 === 0);

/** Everything of a bench sheet as a right board shows it; its settings are as they should be. */
export const enteredRight = ({ deadTests, functions, checks }: BenchSheet): SheetEntries => ({
  ...NOTHING_ENTERED,
  dead: Object.fromEntries(
    deadTests.tests.map(({ expect: right, ohms }, k) => [
      String(k),
      typeof right === 'string' ? right : ohms,
    ]),
  ),
  functions: Object.fromEntries(
    functions.map(({ id, rows }) => [
      id,
      Object.fromEntries(rows.map((_, k) => [String(k), 'as expected' as const])),
    ]),
  ),
  checks: Object.fromEntries(checks.map(({ part, id }) => [`${part}/${id}`, true])),
});

/** The value of a document that must be readable. */
export function must<T>(read: Read<T>): T {
  if (!read.ok) throw new Error(read.problems.map(({ path, message }) => `${path}: ${message}`).join('; '));
  return read.value;
}

export interface Case {
  readonly name: string;
  readonly command: string;
  readonly bench: Bench;
  readonly reference?: Bench;
  readonly script?: Script;
  readonly exercise?: Exercise;
  readonly observe?: string[];
  readonly want: Record<string, unknown>;
}

/** Conformance cases of the document format. */
export function readCases(): Case[] {
  const folder = join(FIXTURES, 'cases');
  return readdirSync(folder).map((file) => {
    const raw = JSON.parse(readFileSync(join(folder, file), 'utf8')) as Record<string, unknown>;
    return {
      name: file,
      command: raw.command as string,
      bench: must(readBench(raw.bench)),
      want: raw.want as Record<string, unknown>,
      ...(raw.reference ? { reference: must(readBench(raw.reference)) } : {}),
      ...(raw.script ? { script: must(readScript(raw.script)) } : {}),
      ...(raw.exercise ? { exercise: must(readExercise(raw.exercise)) } : {}),
      ...(raw.observe ? { observe: (raw.observe as string).split(',') } : {}),
    };
  });
}

/** The shipped exercises in order of their ids. */
export const exercises = (): Exercise[] => shippedExercises().sort((a, b) => (a.id < b.id ? -1 : 1));

/** Without programmable controllers: what knows relays alone is asked of these. */
export const withoutControllers = (): Exercise[] =>
  exercises().filter(({ bench: { devices } }) => devices.every(({ type }) => type !== 'plc'));

export function exercise(id: string): Exercise {
  const found = shippedExercise(id);
  if (!found) throw new Error(`no exercise ${id}`);
  return found;
}

/** A bench written shortly: devices as documents, wires as `A:1>B:2 …`. */
export function bench(devices: readonly object[], wires: string, more: object = {}): Bench {
  return must(
    readBench({
      contactum: 'bench/1',
      devices,
      wires: wires
        .trim()
        .split(/\s+/)
        .filter(Boolean)
        .map((pair) => ({ from: pair.split('>')[0], to: pair.split('>')[1] })),
      ...more,
    }),
  );
}

/** The same board with other wires: `cut` removes, `add` appends. */
export function rewire(board: Bench, cut: string, add = ''): Bench {
  const gone = cut.split(/\s+/).filter(Boolean);
  for (const pair of gone)
    if (!board.wires.some(({ from, to }) => `${from}>${to}` === pair)) throw new Error(`no wire ${pair}`);
  const added = bench(
    board.devices.map((device) => ({ ...device })),
    add,
  ).wires;
  return {
    ...board,
    wires: [...board.wires.filter(({ from, to }) => !gone.includes(`${from}>${to}`)), ...added],
  };
}

export const solverOf = (board: Bench): Solver => new Solver(compile(board));

export function terminal(solver: Solver, ref: string): TerminalIndex {
  const index = solver.circuit.indexOf.get(ref);
  if (index === undefined) throw new Error(`no terminal ${ref}`);
  return index;
}

export { seeded } from './fixtures/seeded.mjs';
