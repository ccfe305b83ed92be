import type { Bench, Problem } from '../bench/index.js';
import { compile, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { observableByDefault, observerOf, type Observer, type Simulation } from '../simulation/index.js';
import { directed, powered, worked, type Segment, type Shows } from './directed.js';
import { Exploration, SearchBound, type Choice } from './exploration.js';

/** What is seen at one moment, by its name; every entry can be expected by a script. */
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

/**
 * Pairs after which a comparison claims nothing; a board of twenty selectors gets there in under twenty
 * seconds (measured).
 */
const MAX_PAIRS = 120_000;

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

interface Pair {
  readonly reference: readonly number[];
  readonly candidate: readonly number[];
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
}

export function compareCircuits(
  reference: Solver,
  candidate: Solver,
  { observe, maxPairs = MAX_PAIRS }: CompareOptions = {},
): Comparison {
  const what = observe && observe.length > 0 ? observe : observableByDefault(reference.circuit);
  const shown = new Shown();
  const left = new Side(reference, what, shown);
  const right = new Side(candidate, what, shown);
  const stimuli = new Map<string, Stimulus>();
  for (const { stimulus } of [...left.exploration.choices, ...right.exploration.choices])
    stimuli.set(JSON.stringify(stimulus), stimulus);
  const pairs = new Pairs();
  const result = (difference: Difference | null, complete: boolean): Comparison => ({
    equivalent: !difference && complete,
    complete,
    pairs: Math.max(1, pairs.queue.length),
    counterexample: difference && counterexampleOf(difference, left, right, shown),
  });
  try {
    const atOnce = pairs.meet(left.start(), right.start(), null, null);
    if (atOnce) return result(atOnce, true);
    for (const here of pairs.queue) {
      for (const [key, stimulus] of stimuli) {
        if (!left.admits(here.reference, key) && !right.admits(here.candidate, key)) continue;
        const ends = [left.after(here.reference, key), right.after(here.candidate, key)] as const;
        const difference = pairs.meet(...ends, here, stimulus);
        if (difference) return result(difference, true);
      }
      if (pairs.queue.length > maxPairs) return result(null, false);
    }
    return result(null, true);
  } catch (error) {
    if (!(error instanceof SearchBound)) throw error;
    return result(null, false);
  }
}

/** Pairs of situation sets that show the same, each once, in order of discovery. */
class Pairs {
  readonly queue: Pair[] = [];
  private readonly seen = new Set<number | string>();

  private put(pair: Pair): void {
    const { reference, candidate } = pair;
    const [a, b] = [reference[0]!, candidate[0]!];
    const single = reference.length === 1 && candidate.length === 1 && a < LARGE && b < LARGE;
    const key = single ? a * LARGE + b : `${reference.join('|')}#${candidate.join('|')}`;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    this.queue.push(pair);
  }

  /**
   * Compares two sets of outcomes by what they show; queues the pairs that show the same, or tells what
   * only one of them shows.
   */
  meet(a: Outcomes, b: Outcomes, parent: Pair | null, by: Stimulus | null): Difference | null {
    for (const number of new Set([...a.keys(), ...b.keys()])) {
      const [reference, candidate] = [a.get(number), b.get(number)];
      if (!reference || !candidate) {
        const elsewhere = closest(reference ? b : a);
        return { number, isOfReference: reference !== undefined, elsewhere, parent, by };
      }
      if (reference.length > 0 && candidate.length > 0) this.put({ reference, candidate, parent, by });
    }
    return null;
  }
}

/** What one of the two can show after a sequence and the other cannot. */
interface Difference {
  readonly number: number;
  readonly isOfReference: boolean;
  /** Something that the other can show instead. */
  readonly elsewhere: number;
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
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
function difference(left: Side, right: Side, steps: readonly Stimulus[]): Counterexample | null {
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

/** Situation numbers under this make one number of a pair. */
const LARGE = 2 ** 26;

/**
 * By what is shown: the settled situations that show it. A short or an endless chatter ends a bench, and
 * leaves none.
 */
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

  observation(number: number): Observation {
    return JSON.parse(this.texts[number] ?? '{}') as Observation;
  }
}

class Side {
  readonly exploration: Exploration;
  private readonly observers: readonly Observer[];
  private readonly choices = new Map<string, Choice[]>();
  /** By situation: what it shows, plus one. */
  private readonly seen: number[] = [];

  constructor(
    readonly solver: Solver,
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
      return (
        this.choice(state, key) !== undefined &&
        !(this.choice(state, key)?.holds && this.exploration.held(state) >= this.exploration.heldLimit)
      );
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
      if (short) put(this.shown.number(SHORT), []);
      if (chatter) put(this.shown.number(chattering(chatter)), []);
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
    const number = this.shown.number({
      ...Object.fromEntries(this.observers.map((observer) => [observer.what, observer.read(moment)])),
      bench: 'sound',
    });
    this.seen[situation] = number;
    return number;
  }

  /** What is observed on this bench when it is worked in time, and what some armatures and timers do. */
  see(simulation: Simulation, tags: readonly string[]): Observation {
    const moment = {
      solver: this.solver,
      state: simulation.state,
      electrical: simulation.solution,
      simulation,
    };
    const more = ['bench', ...tags].flatMap((name) => {
      const outcome = observerOf(this.solver.circuit, name);
      return 'observer' in outcome ? [outcome.observer] : [];
    });
    return Object.fromEntries(
      [...this.observers, ...more].map((observer) => [observer.what, observer.read(moment)]),
    );
  }

  /**
   * A way through sets of settled situations to one that shows what is looked for; null where there is
   * none.
   */
  segments(
    sets: readonly (readonly number[])[],
    stimuli: readonly Stimulus[],
    shows: number,
  ): { readonly root: MechanicalState; readonly segments: Segment[] } | null {
    if (stimuli.length === 0) {
      const ends = this.start().get(shows);
      return ends
        ? {
            root: worked(this.solver, [], true).state,
            segments: powered(this.solver, this.goalOf(shows, ends)),
          }
        : null;
    }
    const segments: Segment[] = [];
    const keys = stimuli.map((stimulus) => JSON.stringify(stimulus));
    let goal: Segment['goal'] | null = null;
    let next = -1;
    for (let k = stimuli.length - 1; k >= 0; k -= 1) {
      const key = keys[k]!;
      const last = k === stimuli.length - 1;
      const from = (sets[k] ?? []).find((situation) => {
        const outcomes = this.after([situation], key);
        return last ? outcomes.has(shows) : [...outcomes.values()].some((ends) => ends.includes(next));
      });
      if (from === undefined) return null;
      if (last) goal = this.goalOf(shows, this.after([from], key).get(shows) ?? []);
      const started = this.exploration.state(from);
      const choice = this.choice(started, key);
      if (choice) started[choice.mechanism] = choice.to;
      const end = next;
      segments.unshift({
        stimulus: stimuli[k]!,
        started,
        goal: last
          ? (goal as Segment['goal'])
          : (state) => this.exploration.situations.numberOf(state) === end,
      });
      next = from;
    }
    return next < 0 ? null : { root: this.exploration.state(next), segments };
  }

  /**
   * Tells a state that shows something: one of some settled situations, a short circuit, or no end of
   * chatter.
   */
  private goalOf(shows: number, ends: readonly number[]): Segment['goal'] {
    const { exploration } = this;
    if (ends.length > 0) return (state) => ends.includes(exploration.situations.numberOf(state));
    return shows === this.shown.number(SHORT)
      ? (state) => exploration.decisions.shorted(state)
      : (state) => exploration.isEndless(state);
  }
}

const SHORT: Observation = { bench: 'short' };
const chattering = (tags: readonly string[]): Observation =>
  Object.fromEntries(tags.map((tag) => [tag, 'chattering']));

const closest = (outcomes: Outcomes): number => outcomes.keys().next().value ?? -1;
