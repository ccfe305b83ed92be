import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { terminalsAt, type Fault } from '../faults/index.js';
import { firstMismatch, runSteps, whyAfter, type Step } from '../simulation/index.js';
import type { ReferenceCircuit } from './table.js';

/** What a fault changes in one behaviour of its board. */
export interface ChangedBehaviour {
  readonly id: string;
  /** From a fresh board up to the moment at which it first shows. */
  readonly steps: readonly Step[];
  /** What should be, and what is. */
  readonly found: string;
  /** What holds each device that is not as it should be, or what keeps it out. */
  readonly why: readonly string[];
}

/** Where a fault is, and what it changes. */
export interface FaultStory {
  readonly at: readonly string[];
  readonly changed: readonly ChangedBehaviour[];
}

/** A fault worked through the behaviours of a board: where each first goes another way, and why. */
export function faultStory({ bench, behaviours }: ReferenceCircuit, fault: Fault): FaultStory {
  const solver = new Solver(compile(bench));
  const changed = behaviours.flatMap(({ id, steps }): ChangedBehaviour[] => {
    const wrong = firstMismatch(steps, runSteps(solver, steps, { faults: [fault] }));
    if (!wrong) return [];
    const observed = wrong.mismatches.map(({ what }) => what);
    return [
      { id, steps: wrong.steps, found: wrong.found, why: whyAfter(solver, wrong.steps, observed, [fault]) },
    ];
  });
  return { at: terminalsAt(solver.circuit, fault), changed };
}
