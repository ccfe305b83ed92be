import type { Solver } from '../electrics/index.js';
import { explain, explained } from '../explain/index.js';
import type { Fault } from '../faults/index.js';
import type { Mismatch, RunResult } from './run.js';
import { describeExpected, isExpectation, type Step } from './script.js';
import { Simulation } from './simulation.js';

/**
 * Why devices are as they are after steps on a fresh bench with the supply on, a sentence for each coil, lamp
 * and motor among the observed values: `M1.driven` and `KM1:13-14` ask about `M1` and `KM1`.
 *
 * @throws where a step does not fit the bench (`scriptProblems`).
 */
export function whyAfter(
  solver: Solver,
  steps: readonly Step[],
  observed: readonly string[],
  faults: readonly Fault[] = [],
): string[] {
  const known = explained(solver.circuit);
  const tags = new Set(observed.map((what) => what.split(/[.:]/)[0]!));
  const asked = known.filter((tag) => tags.has(tag));
  if (asked.length === 0) return [];
  const simulation = new Simulation(solver, undefined, false, faults);
  for (const step of steps) if (!isExpectation(step)) simulation.work(step);
  const { solver: now, state } = simulation;
  return asked.map((tag) => explain(now, state, tag).sentence);
}

const readable = (value: string | number): string =>
  typeof value === 'number' ? String(Number(value.toPrecision(4))) : value;

/** Where a run first goes another way than expected: the steps up to it, and what should be there. */
export function firstMismatch(
  steps: readonly Step[],
  result: Pick<RunResult, 'mismatches'>,
): {
  readonly found: string;
  readonly steps: readonly Step[];
  readonly mismatches: readonly Mismatch[];
} | null {
  const first = result.mismatches[0];
  if (!first) return null;
  const mismatches = result.mismatches.filter(({ step }) => step === first.step);
  const found = mismatches
    .map(
      ({ what, expected, actual }) =>
        `${what} should be ${describeExpected(expected)} and is ${readable(actual)}`,
    )
    .join('; ');
  return { found, steps: steps.slice(0, first.step + 1).filter((step) => !isExpectation(step)), mismatches };
}
