import type { Circuit, MechanicalState, Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { observerOf, type Observer, type Simulation } from '../simulation/index.js';
import { powered, worked, type Segment } from './directed.js';
import { Exploration, type Choice, type Explored } from './exploration.js';

/** What is seen at one moment, by its name; every entry can be expected by a script. */
export type Observation = Readonly<Record<string, string | number>>;

/**
 * By what is shown: the settled situations that show it. A short or an endless chatter ends a bench, and
 * leaves none.
 */
export type Outcomes = Map<number, number[]>;

/** What can be seen, each text once, by number. */
export class Shown {
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

/** What is observed on a circuit, by name; throws what cannot be. */
export function observersOf(circuit: Circuit, what: readonly string[]): Observer[] {
  return what.map((name) => {
    const outcome = observerOf(circuit, name);
    if ('problem' in outcome) throw new Error(outcome.problem);
    return outcome.observer;
  });
}

export class Side {
  readonly exploration: Exploration;
  private readonly observers: readonly Observer[];
  private readonly choices = new Map<string, Choice[]>();
  /** By situation: what it shows. */
  private readonly seen: number[] = [];
  /** Some way ends in a short circuit or does not end. */
  mayEnd = false;

  constructor(
    readonly solver: Solver,
    what: readonly string[],
    private readonly shown: Shown,
    explored: Explored = {},
    /** Stimuli that are written otherwise here than on the other side. */
    names: ReadonlyMap<string, string> = new Map(),
  ) {
    this.exploration = new Exploration(solver, undefined, undefined, 'controls', explored);
    this.observers = observersOf(solver.circuit, what);
    for (const choice of this.exploration.choices) {
      const written = JSON.stringify(choice.stimulus);
      const key = names.get(written) ?? written;
      const known = this.choices.get(key);
      if (known) known.push(choice);
      else this.choices.set(key, [choice]);
    }
  }

  start(): Outcomes {
    return this.sort([this.exploration.begin()]);
  }

  /** Stimuli that the mechanisms of this side know, by how they are written. */
  get stimuli(): Map<string, Stimulus> {
    return new Map([...this.choices.keys()].map((key) => [key, JSON.parse(key) as Stimulus]));
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
      this.mayEnd ||= short || chatter !== null;
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
      lampBy: (k: number) => exploration.decisions.lamp(k, state),
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

export const closest = (outcomes: Outcomes): number => outcomes.keys().next().value ?? -1;
