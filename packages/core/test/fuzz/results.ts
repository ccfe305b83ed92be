/**
 * Prints a line for everything that is worked out on the shipped exercises and on wrong boards of them: its
 * name and a hash of the result. Two trees that print the same lines compute the same: `npm run results`.
 */
import { createHash } from 'node:crypto';
import {
  DRAWING_FORMS,
  Simulation,
  Solver,
  benchSheet,
  compile,
  deadTestTable,
  drawingDocument,
  drawingOf,
  faultEffects,
  finished,
  grade,
  planningPaper,
  prove,
  referenceBench,
  repair,
  repairTask,
  referenceCircuitOf,
  toSpice,
  type Exercise,
} from '@contactum/core';
import { withoutControllers, seeded } from '../help.js';
import { twoWrong, wrongWiring } from './wrong-wirings.js';

const BOARDS = 32;
const REPAIRS = 3;
/** Situations of a board: a wrong one may have many times those of a right one. */
const MOST = 20_000;

/** Results without what a clock put into them. */
const plain = (value: unknown): string =>
  JSON.stringify(value, (key, one: unknown) => {
    if (key === 'milliseconds' || key === 'ms' || typeof one === 'function') return undefined;
    if (one instanceof Map || one instanceof Set) return [...one];
    return one;
  });

function tell(name: string, result: () => unknown): void {
  let text: string;
  try {
    text = plain(result());
  } catch (error) {
    text = `throws ${(error as Error).message}`;
  }
  console.log(`${name} ${createHash('sha256').update(text).digest('hex').slice(0, 16)}`);
}

function tellExercise(one: Exercise): void {
  const board = referenceBench(one);
  const circuit = compile(board);
  tell(`${one.id}/grade`, () => grade(one, board, { most: MOST }));
  tell(`${one.id}/proof`, () => prove(board, { maxSituations: MOST }));
  tell(`${one.id}/deck`, () => toSpice(circuit, new Simulation(new Solver(circuit)).state));
  for (const form of DRAWING_FORMS)
    tell(`${one.id}/drawing ${form}`, () => drawingDocument(drawingOf(board, form)));
  tell(`${one.id}/paper`, () => planningPaper(board, one, 'iec'));
  tell(`${one.id}/faults`, () => finished(faultEffects(referenceCircuitOf(one))));
}

function tellWrongBoards(one: Exercise, k: number): void {
  for (let n = 0; n < BOARDS; n += 1) {
    const board = wrongWiring(one, seeded(1000 * k + n));
    tell(`${one.id}/wrong ${n}/grade`, () => grade(one, board, { most: MOST }));
    tell(`${one.id}/wrong ${n}/proof`, () => prove(board, { maxSituations: MOST }));
    if (n < 4) tell(`${one.id}/wrong ${n}/drawing`, () => drawingDocument(drawingOf(board, 'iec')));
  }
  for (let n = 0; n < REPAIRS; n += 1)
    tell(`${one.id}/two wrong ${n}/repair`, () =>
      repair(repairTask(one, twoWrong(one, seeded(7000 + 100 * k + n))), { most: 2, effort: 3000 }),
    );
}

const [from = 0, to = Infinity] = process.argv.slice(2).map(Number);
withoutControllers().forEach((one, k) => {
  if (k < from || k >= to) return;
  tellExercise(one);
  if (one.task !== 'find' && one.reference.length > 0) {
    tellWrongBoards(one, k);
    // A table takes seconds to make.
    if (k % 8 === 0) {
      tell(`${one.id}/dead tests`, () => deadTestTable(referenceBench(one)));
      tell(`${one.id}/sheet`, () => benchSheet(one));
    }
  }
});
