import type { Bench, Problem } from '../bench/index.js';
import {
  compile,
  stimulusProblem,
  type Circuit,
  type Stimulus,
  type StimulusProblem,
} from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { faultProblem, readFault, type Fault } from '../faults/index.js';
import { observerOf, type Moment, type Observer } from './observe.js';
import { isExpectation, type Expected, type Step } from './script.js';
import { Simulation } from './simulation.js';
import type { Incident, TraceEvent } from './trace.js';

export interface Mismatch {
  /** Index of the step. */
  readonly step: number;
  readonly what: string;
  readonly expected: Expected;
  readonly actual: string | number;
}

export interface RunResult {
  readonly ok: boolean;
  readonly mismatches: readonly Mismatch[];
  readonly events: readonly TraceEvent[];
  readonly incidents: readonly Incident[];
  /** Of what was watched: what any stimulus left otherwise than the fresh bench has it. */
  readonly moved: readonly string[];
}

export interface RunOptions {
  /** Observed values of which to tell whether they ever move. */
  readonly watch?: readonly string[];
  /** Shafts and heat are left out. */
  readonly mechanicsAlone?: boolean;
  /** On the board from the beginning. */
  readonly faults?: readonly Fault[];
  /** Ends with the first expectation in which something is wrong. */
  readonly untilWrong?: boolean;
}

/** Why a stimulus cannot be given to a circuit's bench, faults included; null where it can. */
export function stepProblem(circuit: Circuit, stimulus: Stimulus): StimulusProblem | null {
  for (const [k, one] of ('together' in stimulus ? stimulus.together : []).entries()) {
    const problem = stepProblem(circuit, one);
    if (problem) return { key: `together[${k}].${problem.key}`, message: problem.message };
  }
  const key = 'inject' in stimulus ? 'inject' : 'clear';
  const written = 'inject' in stimulus ? stimulus.inject : 'clear' in stimulus ? stimulus.clear : null;
  if (!written) return stimulusProblem(circuit, stimulus);
  const fault = readFault(written);
  const message = faultProblem(circuit, fault);
  return message === null ? null : { key: `${key}["${fault.kind}"]`, message };
}

/** What in a script does not fit the bench, with its path from the list of steps. */
export function scriptProblems(circuit: Circuit, steps: readonly Step[], path = 'steps'): Problem[] {
  const problems: Problem[] = [];
  steps.forEach((step, k) => {
    if (!isExpectation(step)) {
      const problem = stepProblem(circuit, step);
      if (problem) problems.push({ path: `${path}[${k}].${problem.key}`, message: problem.message });
      return;
    }
    for (const [what, expected] of Object.entries(step.expect)) {
      const outcome = observerOf(circuit, what);
      const at = `${path}[${k}].expect["${what}"]`;
      if ('problem' in outcome) problems.push({ path: at, message: outcome.problem });
      else if (outcome.observer.numeric === (typeof expected === 'string')) {
        problems.push({
          path: at,
          message: outcome.observer.numeric ? 'must be a number or a range' : 'must be a word',
        });
      }
    }
  });
  return problems;
}

/** Runs steps on a fresh bench with the supply on. The steps must fit the bench (`scriptProblems`). */
export function runSteps(
  solver: Solver,
  steps: readonly Step[],
  { watch = [], mechanicsAlone = false, faults = [], untilWrong = false }: RunOptions = {},
): RunResult {
  const simulation = new Simulation(solver, undefined, mechanicsAlone, faults);
  const observers = new Map<string, Observer>();
  const mismatches: Mismatch[] = [];
  const now = (): Moment => momentOf(simulation);
  const look = () => watch.map((what) => observer(solver.circuit, observers, what).read(now()));
  const atRest = look();
  const moved = new Set<string>();
  for (const [k, step] of steps.entries()) {
    if (!isExpectation(step)) {
      simulation.work(step);
      if (moved.size < watch.length)
        look().forEach((value, n) => value !== atRest[n] && moved.add(watch[n]!));
      continue;
    }
    const moment = now();
    for (const [what, expected] of Object.entries(step.expect)) {
      const actual = observer(solver.circuit, observers, what).read(moment);
      if (!isAsExpected(actual, expected)) mismatches.push({ step: k, what, expected, actual });
    }
    if (untilWrong && mismatches.length > 0) break;
  }
  return {
    ok: mismatches.length === 0,
    mismatches,
    events: simulation.events,
    incidents: simulation.incidents,
    moved: [...moved],
  };
}

/** Compiles a bench and runs steps on it. */
export function run(bench: Bench, steps: readonly Step[]): RunResult {
  return runSteps(new Solver(compile(bench)), steps);
}

function observer(circuit: Circuit, known: Map<string, Observer>, what: string): Observer {
  const kept = known.get(what);
  if (kept) return kept;
  const outcome = observerOf(circuit, what);
  if ('problem' in outcome) throw new Error(outcome.problem);
  known.set(what, outcome.observer);
  return outcome.observer;
}

/** A run's present moment. */
export const momentOf = (simulation: Simulation): Moment => ({
  solver: simulation.solver,
  state: simulation.state,
  electrical: simulation.solution,
  simulation,
});

/** Relative tolerance of a number expected exactly. */
const EXACT = 1e-6;

export function isAsExpected(actual: string | number, expected: Expected): boolean {
  // A lamp that is burnt out is dark.
  if (typeof expected === 'string') return actual === expected || (actual === 'burnt' && expected === 'dark');
  if (typeof actual !== 'number') return false;
  if (typeof expected === 'number')
    return Math.abs(actual - expected) <= EXACT * Math.max(1, Math.abs(expected));
  return (
    (expected.min === undefined || actual >= expected.min) &&
    (expected.max === undefined || actual <= expected.max)
  );
}
