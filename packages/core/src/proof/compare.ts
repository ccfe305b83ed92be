import type { Bench, Problem } from '../bench/index.js';
import { compile, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { observableByDefault, observerOf, type Observer } from '../simulation/index.js';
import { Exploration, type Choice } from './exploration.js';

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

interface Pair {
  readonly reference: readonly number[];
  readonly candidate: readonly number[];
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
}

export function compareCircuits(reference: Solver, candidate: Solver, { observe, maxPairs = MAX_PAIRS }: CompareOptions = {}): Comparison {
  const what = observe && observe.length > 0 ? observe : observableByDefault(reference.circuit);
  const shown = new Shown();
  const left = new Side(reference, what, shown);
  const right = new Side(candidate, what, shown);
  const stimuli = new Map<string, Stimulus>();
  for (const { stimulus } of [...left.exploration.choices, ...right.exploration.choices]) stimuli.set(JSON.stringify(stimulus), stimulus);
  const seen = new Set<number | string>();
  const queue: Pair[] = [];
  let counterexample: Counterexample | null = null;

  const put = (one: readonly number[], other: readonly number[], parent: Pair | null, by: Stimulus | null): void => {
    const [a, b] = [one[0] as number, other[0] as number];
    const key = one.length === 1 && other.length === 1 && a < LARGE && b < LARGE ? a * LARGE + b : `${one.join('|')}#${other.join('|')}`;
    if (seen.has(key)) return;
    seen.add(key);
    queue.push({ reference: one, candidate: other, parent, by });
  };

  /** Compares two sets of outcomes by what they show; queues the pairs that show the same. */
  const meet = (a: Outcomes, b: Outcomes, parent: Pair | null, by: Stimulus | null): boolean => {
    for (const what of new Set([...a.keys(), ...b.keys()])) {
      const one = a.get(what);
      const other = b.get(what);
      if (!one || !other) {
        counterexample = difference(shown.text(one ? what : closest(a)), shown.text(other ? what : closest(b)), trail(parent, by));
        return false;
      }
      if (one.length > 0 && other.length > 0) put(one, other, parent, by);
    }
    return true;
  };

  if (!meet(left.start(), right.start(), null, null)) return { equivalent: false, complete: true, pairs: 1, counterexample };
  for (const here of queue) {
    for (const [key, stimulus] of stimuli) {
      if (!left.admits(here.reference, key) && !right.admits(here.candidate, key)) continue;
      if (!meet(left.after(here.reference, key), right.after(here.candidate, key), here, stimulus)) {
        return { equivalent: false, complete: true, pairs: queue.length, counterexample };
      }
    }
    if (queue.length > maxPairs) return { equivalent: false, complete: false, pairs: queue.length, counterexample: null };
  }
  return { equivalent: true, complete: true, pairs: queue.length, counterexample: null };
}

/** Situation numbers under this make one number of a pair. */
const LARGE = 2 ** 26;

/** By what is shown: the settled situations that show it. A short or an endless chatter ends a bench, and leaves none. */
type Outcomes = Map<number, number[]>;

/** What can be seen, each text once, by number. */
class Shown {
  private readonly numbers = new Map<string, number>();
  private readonly texts: string[] = [];

  number(shown: Observation): number {
    const text = JSON.stringify(shown);
    const known = this.numbers.get(text);
    if (known !== undefined) return known;
    this.numbers.set(text, this.texts.length);
    return this.texts.push(text) - 1;
  }

  text(number: number): string {
    return this.texts[number] ?? '{}';
  }
}

class Side {
  readonly exploration: Exploration;
  private readonly observers: readonly Observer[];
  private readonly choices = new Map<string, Choice[]>();
  /** By situation: what it shows, plus one. */
  private readonly seen: number[] = [];

  constructor(
    private readonly solver: Solver,
    what: readonly string[],
    private readonly shown: Shown,
  ) {
    this.exploration = new Exploration(solver);
    this.observers = what.map((name) => {
      const outcome = observerOf(solver.circuit, name);
      if ('problem' in outcome) throw new Error(outcome.problem);
      return outcome.observer;
    });
    for (const choice of this.exploration.choices) {
      const key = JSON.stringify(choice.stimulus);
      const known = this.choices.get(key);
      if (known) known.push(choice);
      else this.choices.set(key, [choice]);
    }
  }

  start(): Outcomes {
    return this.sort([this.exploration.begin()]);
  }

  /** True where some of the situations admit a stimulus. */
  admits(situations: readonly number[], key: string): boolean {
    return situations.some((situation) => {
      const state = this.exploration.state(situation);
      return this.choice(state, key) !== undefined && !(this.choice(state, key)?.holds && this.exploration.held(state) >= this.exploration.heldLimit);
    });
  }

  /** Where the situations lead; a stimulus that does nothing leaves a bench as it is. */
  after(situations: readonly number[], key: string): Outcomes {
    return this.sort(
      situations.map((situation) => {
        const state = this.exploration.state(situation);
        const choice = this.choice(state, key);
        if (choice) state[choice.mechanism] = choice.to;
        return choice ? this.exploration.lead(state) : situation;
      }),
    );
  }

  private choice(state: MechanicalState, key: string): Choice | undefined {
    return this.choices.get(key)?.find(({ mechanism, when }) => state[mechanism] === when);
  }

  private sort(codes: readonly number[]): Outcomes {
    const outcomes: Outcomes = new Map();
    const put = (number: number, situations: readonly number[]) => {
      const known = outcomes.get(number);
      if (!known) outcomes.set(number, [...situations]);
      else for (const situation of situations) if (!known.includes(situation)) known.push(situation);
    };
    for (const code of codes) {
      if (code >= 0) {
        put(this.look(code), [code]);
        continue;
      }
      const { ends, short, chatter } = this.exploration.outcome(code);
      if (short) put(this.shown.number({ bench: 'short circuit' }), []);
      if (chatter) put(this.shown.number(Object.fromEntries(chatter.map((tag) => [tag, 'chattering']))), []);
      for (const end of ends) put(this.look(end), [end]);
    }
    for (const situations of outcomes.values()) situations.sort((a, b) => a - b);
    return outcomes;
  }

  private look(situation: number): number {
    const known = this.seen[situation];
    if (known !== undefined) return known;
    const { solver, exploration } = this;
    const state = exploration.state(situation);
    // The whole solution is made only for what needs it; fields come from the decisions.
    const moment = {
      solver,
      state,
      get electrical() {
        return solver.at(state);
      },
      drivenBy: (k: number) => exploration.decisions.driven(k, state),
    };
    const number = this.shown.number(Object.fromEntries(this.observers.map((observer) => [observer.what, observer.read(moment)])));
    this.seen[situation] = number;
    return number;
  }
}

const closest = (outcomes: Outcomes): number => outcomes.keys().next().value ?? -1;

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
