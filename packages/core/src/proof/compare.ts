import type { Bench, Problem } from '../bench/index.js';
import { compile, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { observableByDefault, observerOf, type Observer } from '../simulation/index.js';
import { Transitions, type Settling } from './transitions.js';

export type Observation = Readonly<Record<string, string | number>>;

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
}

const MAX_PAIRS = 200_000;

/** Reasons why what is to be observed cannot be compared on these benches. */
export function compareProblems(reference: Bench, candidate: Bench, observe: readonly string[] | undefined): Problem[] {
  const circuits = [compile(reference), compile(candidate)];
  return (observe ?? []).flatMap((what, k) =>
    circuits.flatMap((circuit) => {
      const outcome = observerOf(circuit, what);
      if ('problem' in outcome) return [{ path: `observe[${k}]`, message: outcome.problem }];
      return outcome.observer.timed || outcome.observer.numeric
        ? [{ path: `observe[${k}]`, message: `"${what}" changes continuously and cannot be compared in settled states` }]
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

type StateSet = ReadonlyMap<string, MechanicalState>;

interface Pair {
  readonly reference: StateSet;
  readonly candidate: StateSet;
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
}

export function compareCircuits(reference: Solver, candidate: Solver, { observe, maxPairs = MAX_PAIRS }: CompareOptions = {}): Comparison {
  const what = observe && observe.length > 0 ? observe : observableByDefault(reference.circuit);
  const left = new Side(reference, what);
  const right = new Side(candidate, what);
  const seen = new Set<string>();
  const queue: Pair[] = [];
  let counterexample: Counterexample | null = null;

  /** Compares two sets of outcomes by what they show; queues the pairs that show the same. */
  const meet = (a: Outcomes, b: Outcomes, parent: Pair | null, by: Stimulus | null): boolean => {
    for (const shown of new Set([...a.keys(), ...b.keys()])) {
      const one = a.get(shown);
      const other = b.get(shown);
      if (!one || !other) {
        counterexample = difference(one ? shown : closest(a), other ? shown : closest(b), trail(parent, by));
        return false;
      }
      if (one.size === 0 || other.size === 0) continue;
      const key = `${[...one.keys()].sort().join('|')}#${[...other.keys()].sort().join('|')}`;
      if (seen.has(key)) continue;
      seen.add(key);
      queue.push({ reference: one, candidate: other, parent, by });
    }
    return true;
  };

  if (!meet(left.start(), right.start(), null, null)) return { equivalent: false, complete: true, pairs: 1, counterexample };
  for (const here of queue) {
    const stimuli = new Map<string, Stimulus>();
    for (const stimulus of [...left.stimuli(here.reference), ...right.stimuli(here.candidate)]) stimuli.set(JSON.stringify(stimulus), stimulus);
    for (const stimulus of stimuli.values()) {
      if (!meet(left.after(here.reference, stimulus), right.after(here.candidate, stimulus), here, stimulus)) {
        return { equivalent: false, complete: true, pairs: queue.length, counterexample };
      }
    }
    if (queue.length > maxPairs) return { equivalent: false, complete: false, pairs: queue.length, counterexample: null };
  }
  return { equivalent: true, complete: true, pairs: queue.length, counterexample: null };
}

/** By what is shown: the states that show it. A short or an endless chatter ends a bench, and leaves no state. */
type Outcomes = Map<string, Map<string, MechanicalState>>;

class Side {
  private readonly transitions: Transitions;
  private readonly observers: readonly Observer[];

  constructor(
    private readonly solver: Solver,
    what: readonly string[],
  ) {
    this.transitions = new Transitions(solver);
    this.observers = what.map((name) => {
      const outcome = observerOf(solver.circuit, name);
      if ('problem' in outcome) throw new Error(outcome.problem);
      return outcome.observer;
    });
  }

  start(): Outcomes {
    return this.sort([this.transitions.settle(this.solver.circuit.initial)]);
  }

  stimuli(states: StateSet): Stimulus[] {
    return [...states.values()].flatMap((state) => this.transitions.stimuli(state, false));
  }

  after(states: StateSet, stimulus: Stimulus): Outcomes {
    return this.sort([...states.values()].map((state) => this.transitions.after(state, stimulus)));
  }

  private sort(settlings: readonly Settling[]): Outcomes {
    const outcomes: Outcomes = new Map();
    const put = (shown: string) => {
      let states = outcomes.get(shown);
      states ??= new Map<string, MechanicalState>();
      outcomes.set(shown, states);
      return states;
    };
    for (const { ends, short, chatter } of settlings) {
      if (short) put(JSON.stringify({ bench: 'short circuit' }));
      if (chatter) put(JSON.stringify(Object.fromEntries(chatter.map((tag) => [tag, 'chattering']))));
      for (const { key, state } of ends) put(this.shown(state)).set(key, state);
    }
    return outcomes;
  }

  private shown(state: MechanicalState): string {
    const moment = { solver: this.solver, state, electrical: this.solver.at(state) };
    return JSON.stringify(Object.fromEntries(this.observers.map((observer) => [observer.what, observer.read(moment)])));
  }
}

const closest = (outcomes: Outcomes): string => outcomes.keys().next().value ?? '{}';

function difference(expected: string, actual: string, steps: readonly Stimulus[]): Counterexample {
  const one = JSON.parse(expected) as Record<string, string>;
  const other = JSON.parse(actual) as Record<string, string>;
  const differs = [...new Set([...Object.keys(one), ...Object.keys(other)])].filter((what) => one[what] !== other[what]);
  const pick = (from: Record<string, string>) => Object.fromEntries(differs.flatMap((what) => (what in from ? [[what, from[what] as string]] : [])));
  return { steps, expected: pick(one), actual: pick(other) };
}

function trail(parent: Pair | null, by: Stimulus | null): Stimulus[] {
  const steps: Stimulus[] = by ? [by] : [];
  for (let pair = parent; pair?.by; pair = pair.parent) steps.unshift(pair.by);
  return steps;
}
