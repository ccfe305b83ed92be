import {
  Solver,
  compile,
  describeFault,
  possibleFaults,
  proveCircuit,
  withFault,
  type Bench,
  type Circuit,
} from '@contactum/core';
import { shippedExercises } from '@contactum/core/exercises';
import { seeded } from '../help.js';
import { groupedBoard } from './groups.js';
import { wiredAnyhow, wrongWiring } from './wrong-wirings.js';

/** More situations than this are left out. */
const MOST = 20_000;

export interface UntilLost {
  /** Properties that the whole proof says are lost. */
  readonly lost: number;
  readonly findings: readonly string[];
}

function boardOf(seed: number): Bench | null {
  if (seed % 3 === 0) return groupedBoard(seed);
  const random = seeded(seed);
  const wired = shippedExercises().filter(({ reference }) => reference.length > 0);
  const exercise = wired[Math.floor(random() * wired.length)]!;
  return (seed % 3 === 1 ? wrongWiring : wiredAnyhow)(exercise, random);
}

/** Every second board has a fault in it. */
function faulty(circuit: Circuit, seed: number): { readonly circuit: Circuit; readonly with: string } {
  if (seed % 2 === 0) return { circuit, with: 'sound' };
  const faults = possibleFaults(circuit);
  const fault = faults[seed % faults.length]!;
  const outcome = withFault(circuit, fault);
  return 'problem' in outcome
    ? { circuit, with: 'sound' }
    : { circuit: outcome.circuit, with: describeFault(fault) };
}

/** A board wired wrongly or anyhow, or of several groups, every second one with a fault in it. */
export function boardWithFault(seed: number): { readonly circuit: Circuit; readonly with: string } | null {
  const bench = boardOf(seed);
  return bench && faulty(compile(bench), seed);
}

/** A proof that ends with the first lost property beside one of all: the same up to there, trace and words. */
export function untilLostOf(seed: number): UntilLost {
  const board = boardWithFault(seed);
  if (!board) return { lost: 0, findings: [] };
  const proof = (untilLost: boolean) =>
    proveCircuit(new Solver(board.circuit), { untilLost, maxSituations: MOST });
  const [all, until] = [proof(false).properties, proof(true).properties];
  const first = all.findIndex(({ holds, unshown }) => !holds && !unshown);
  const expected = first < 0 ? all : all.slice(0, first + 1);
  return {
    lost: all.filter(({ holds }) => !holds).length,
    findings:
      JSON.stringify(until) === JSON.stringify(expected)
        ? []
        : [
            `seed ${seed}, ${board.with}: ${JSON.stringify(until.at(-1))}, of all ${JSON.stringify(expected.at(-1))}`,
          ],
  };
}
