import type { Bench, Problem } from '../bench/index.js';
import { compile, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { observableByDefault, observerOf } from '../simulation/index.js';
import { compareByParts } from './compare-parts.js';
import { Shown, Side, type Observation } from './compared-side.js';
import { Decisions } from './decisions.js';
import { directed, worked, type Shows } from './directed.js';
import { onBoth, timerNames } from './timer-names.js';
import { MAX_PAIRS, search, type Difference, type Pair } from './pairs.js';

export type { Observation } from './compared-side.js';

export interface Counterexample {
  readonly steps: readonly Stimulus[];
  /** What the reference shows and the candidate shows instead; only what differs. */
  readonly expected: Observation;
  readonly actual: Observation;
}

export interface Comparison {
  readonly equivalent: boolean;
  readonly complete: boolean;
  /** Pairs of situations that were compared. */
  readonly pairs: number;
  readonly counterexample: Counterexample | null;
}

export interface CompareOptions {
  readonly observe?: readonly string[];
  readonly maxPairs?: number;
  /** Works the whole boards at once, although parts of them do not depend on each other. */
  readonly asOne?: boolean;
}

/** Reasons why what is to be observed cannot be compared on these benches. */
export function compareProblems(
  reference: Bench,
  candidate: Bench,
  observe: readonly string[] | undefined,
): Problem[] {
  const circuits = [compile(reference), compile(candidate)];
  return (observe ?? []).flatMap((what, k) =>
    circuits.flatMap((circuit) => {
      const outcome = observerOf(circuit, what);
      if ('problem' in outcome) return [{ path: `observe[${k}]`, message: outcome.problem }];
      return outcome.observer.timed || outcome.observer.numeric
        ? [
            {
              path: `observe[${k}]`,
              message: `"${what}" changes continuously and cannot be compared in settled states`,
            },
          ]
        : [];
    }),
  );
}

/**
 * Works both benches alike and compares what is observed whenever both are settled. A race may leave a
 * bench in one of several states; the benches are equivalent when, after every sequence of stimuli, they
 * can show the same things (subset construction). Breadth first: a counterexample is a shortest one.
 */
export function compare(reference: Bench, candidate: Bench, options: CompareOptions = {}): Comparison {
  return compareCircuits(new Solver(compile(reference)), new Solver(compile(candidate)), options);
}

export function compareCircuits(
  reference: Solver,
  candidate: Solver,
  { observe, maxPairs = MAX_PAIRS, asOne = false }: CompareOptions = {},
): Comparison {
  const what = observe && observe.length > 0 ? observe : observableByDefault(reference.circuit);
  const shown = new Shown();
  const decisions = [new Decisions(reference), new Decisions(candidate)] as const;
  const names = timerNames(reference.circuit, candidate.circuit);
  const renamed = [...names].some(([own, other]) => own !== other);
  const found =
    asOne || renamed ? null : compareByParts([reference, candidate], decisions, { what, shown, maxPairs });
  if (found && !found.stimuli)
    return { equivalent: found.complete, complete: found.complete, pairs: found.pairs, counterexample: null };
  const left = new Side(reference, what, shown, { decisions: decisions[0] });
  const right = new Side(candidate, what, shown, { decisions: decisions[1] }, names);
  // What a part shows differently is told of the whole boards.
  const along = found?.stimuli && search(left, right, { maxPairs, along: found.stimuli });
  const { difference, complete, pairs } = along?.difference
    ? { ...along, pairs: found!.pairs }
    : search(left, right, { maxPairs });
  return {
    equivalent: !difference && complete,
    complete,
    pairs,
    counterexample: difference && counterexampleOf(difference, left, right, shown),
  };
}

/** The difference as a script, and what both benches show when they are worked by it in time. */
function counterexampleOf(
  { number, isOfReference, elsewhere, parent, by }: Difference,
  left: Side,
  right: Side,
  shown: Shown,
): Counterexample {
  const pairs: Pair[] = [];
  for (let pair = parent; pair; pair = pair.parent) pairs.unshift(pair);
  const stimuli = [...pairs.slice(1).map((pair) => pair.by as Stimulus), ...(by ? [by] : [])];
  const shows: Shows = (_, steps) => difference(left, right, steps) !== null;
  const plain = difference(left, right, stimuli);
  if (plain) return plain;
  for (const side of isOfReference ? [left, right] : [right, left]) {
    const sets = pairs.map((pair) => (side === left ? pair.reference : pair.candidate));
    const segments = side.segments(sets, stimuli, (side === left) === isOfReference ? number : elsewhere);
    const found =
      segments && difference(left, right, directed(side.solver, side.exploration, segments, shows).steps);
    if (found) return found;
  }
  const [expected, actual] = (isOfReference ? [number, elsewhere] : [elsewhere, number]).map((one) =>
    shown.observation(one),
  ) as [Observation, Observation];
  return { steps: stimuli, ...unlike(expected, actual) };
}

/** What two benches show differently after the same steps in time; null where they show the same. */
function difference(left: Side, right: Side, sequence: readonly Stimulus[]): Counterexample | null {
  const steps = onBoth([left.solver.circuit, right.solver.circuit], sequence);
  const simulations = [left, right].map((side) => ({ side, simulation: worked(side.solver, steps) }));
  const chattering = simulations.flatMap(({ simulation }) =>
    simulation.solver.circuit.mechanisms.flatMap(({ index, device }) =>
      simulation.isChattering(index) ? [device.tag] : [],
    ),
  );
  const [expected, actual] = simulations.map(({ side, simulation }) => side.see(simulation, chattering)) as [
    Observation,
    Observation,
  ];
  const seen = unlike(expected, actual);
  return Object.keys(seen.expected).length > 0 ? { steps, ...seen } : null;
}

/** What both show, and show differently. */
function unlike(one: Observation, other: Observation): Pick<Counterexample, 'expected' | 'actual'> {
  const differs = Object.keys(one).filter((what) => what in other && one[what] !== other[what]);
  const pick = (from: Observation) => Object.fromEntries(differs.map((what) => [what, from[what] as string]));
  return { expected: pick(one), actual: pick(other) };
}
