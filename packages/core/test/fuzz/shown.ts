import { DANGERS, Solver, proveCircuit, type Danger } from '@contactum/core';
import { shownAfter } from '../../src/questions/danger.js';
import { boardWithFault } from './until-lost.js';

/** More situations than this are left out. */
const MOST = 20_000;

export interface ShownAsTold {
  /** Lost properties whose steps were worked, and those of them that no steps are said to show. */
  readonly worked: number;
  readonly unshown: number;
  readonly findings: readonly string[];
}

/**
 * The steps of each lost property, worked in time by what questions about dangers are judged with: they show
 * what was found, but for those of which the proof says that no steps do.
 */
export function shownAsTold(seed: number): ShownAsTold {
  const board = boardWithFault(seed);
  if (!board) return { worked: 0, unshown: 0, findings: [] };
  const solver = new Solver(board.circuit);
  const lost = proveCircuit(solver, { maxSituations: MOST }).properties.filter(
    ({ id, holds, trace }) =>
      !holds &&
      trace.length > 0 &&
      DANGERS.includes(id as Danger) &&
      // What cannot trip is not seen tripped, and by a jammed armature a board without motors runs before.
      ((id !== 'no-self-start' && id !== 'overload-drops') || board.with === 'sound'),
  );
  return {
    worked: lost.length,
    unshown: lost.filter(({ unshown }) => unshown).length,
    findings: lost.flatMap(({ id, trace, unshown = false, found }) =>
      (shownAfter(solver, id as Danger, trace) === null) === unshown
        ? []
        : [`${said(seed, board.with, unshown)}: ${id} ${JSON.stringify(trace)} ${found}`],
    ),
  };
}

const said = (seed: number, fault: string, unshown: boolean): string =>
  `seed ${seed}, ${fault}, ${unshown ? 'said not to show' : 'said to show'}`;
