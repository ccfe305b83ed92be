import type { Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { Simulation, momentOf, observerOf, type Observer, type Step } from '../simulation/index.js';

/** What is observed at a moment, as words. */
export type Values = Readonly<Record<string, string>>;

/** A bench that is worked, with everything that is observed written down after each thing done. */
export class Worked {
  private readonly simulation: Simulation;
  private readonly observers: readonly Observer[];
  readonly steps: Step[] = [];
  readonly rest: Values;
  /** What was other at any moment than at rest. */
  readonly moved = new Set<string>();
  last: Values;

  constructor(
    private readonly solver: Solver,
    observe: readonly string[],
  ) {
    this.simulation = new Simulation(solver);
    this.observers = observe.flatMap((what) => {
      const outcome = observerOf(solver.circuit, what);
      // Numbers are for a person to say: a range is a judgement.
      return 'problem' in outcome || outcome.observer.numeric ? [] : [outcome.observer];
    });
    this.rest = this.look();
    this.last = this.rest;
    if (this.observers.length > 0) this.steps.push({ expect: this.rest });
  }

  private look(): Values {
    const now = momentOf(this.simulation);
    return Object.fromEntries(this.observers.map((one) => [one.what, String(one.read(now))]));
  }

  private take(): void {
    this.last = this.look();
    for (const key of Object.keys(this.last)) if (this.last[key] !== this.rest[key]) this.moved.add(key);
  }

  /** Does something, and writes down what is so afterwards. */
  do(...stimuli: Stimulus[]): Values {
    for (const stimulus of stimuli) {
      this.simulation.work(stimulus);
      this.take();
      this.steps.push(stimulus);
      if (this.observers.length > 0) this.steps.push({ expect: this.last });
    }
    return this.last;
  }

  /** Does something in passing: only the last of it is looked at. */
  pass(...stimuli: Stimulus[]): Values {
    for (const stimulus of stimuli) {
      this.simulation.work(stimulus);
      this.steps.push(stimulus);
    }
    this.take();
    this.steps.push({ expect: this.last });
    return this.last;
  }

  stateOf(tag: string): string {
    const outcome = observerOf(this.solver.circuit, tag);
    return 'problem' in outcome ? '' : String(outcome.observer.read(momentOf(this.simulation)));
  }
}

export const same = (a: Values, b: Values): boolean => Object.keys(a).every((key) => a[key] === b[key]);

/** What is other in some values than in others, as it is told. */
export const changes = (before: Values, after: Values): string =>
  Object.keys(after)
    .filter((key) => after[key] !== before[key])
    .map((key) => (key.endsWith('.driven') ? `motor ${after[key]!}` : `${key} ${after[key]!}`))
    .join(', ');
