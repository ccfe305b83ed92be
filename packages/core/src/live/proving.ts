import { isExpectation, type Expected, type Step } from '../simulation/index.js';
import type { Stimulus } from '../circuit/index.js';
import type { Frame, Shape } from './perception.js';
import { SETTLE_LIMIT } from '../tolerances.js';

/** A function that is to be proved by working the board. */
export interface Provable {
  readonly id: string;
  readonly steps: readonly Step[];
}

interface Trial {
  readonly id: string;
  readonly steps: readonly Step[];
  at: number;
  /** When the step before was done, by the bench's clock. */
  since: number;
  done: boolean;
}

/**
 * Follows a person who works a live board, and tells which functions the board has shown: their stimuli in
 * order, with what is expected between them. Anything else that is done begins a function anew.
 */
export class Proving {
  private readonly trials: Trial[];
  private frame: Frame | null = null;
  private shape: Shape | null = null;

  constructor(behaviours: readonly Provable[]) {
    this.trials = behaviours.map(({ id, steps }) => ({ id, steps, at: 0, since: 0, done: false }));
  }

  /** Functions that were shown since the wiring was last changed. */
  get shown(): ReadonlySet<string> {
    return new Set(this.trials.flatMap(({ id, done }) => (done ? [id] : [])));
  }

  /** The wiring is another: nothing is proved of it. */
  restart(): void {
    for (const trial of this.trials) Object.assign(trial, { at: 0, done: false });
  }

  act(stimulus: Stimulus): void {
    for (const trial of this.trials) {
      if (trial.done) continue;
      this.advance(trial, true);
      if (!this.take(trial, stimulus)) {
        trial.at = 0;
        this.advance(trial, true);
        this.take(trial, stimulus);
      }
    }
  }

  /** Takes what is perceived now; true where a function was shown by it. */
  perceive(frame: Frame, shape: Shape): boolean {
    this.frame = frame;
    this.shape = shape;
    let isNew = false;
    for (const trial of this.trials) {
      if (trial.done) continue;
      this.advance(trial, false);
      if (trial.at < trial.steps.length || trial.at === 0) continue;
      trial.done = true;
      isNew = true;
    }
    return isNew;
  }

  private take(trial: Trial, stimulus: Stimulus): boolean {
    const step = trial.steps[trial.at];
    if (!step || isExpectation(step) || !sameAct(step, stimulus)) return false;
    trial.at += 1;
    trial.since = this.frame?.t ?? 0;
    return true;
  }

  /**
   * Passes what is expected and holds, and times that are over. An act that comes early is judged by what
   * is seen as it comes.
   */
  private advance(trial: Trial, isNow: boolean): void {
    const { frame } = this;
    if (!frame) return;
    for (;;) {
      const step = trial.steps[trial.at];
      if (!step) return;
      if (isExpectation(step)) {
        if (!isNow && frame.t - trial.since < SETTLE_LIMIT && trial.at > 0) return;
        if (!this.holds(step.expect)) return;
      } else if ('wait' in step) {
        if (frame.t - trial.since < step.wait) return;
        trial.since += step.wait;
      } else if ('elapse' in step) {
        if (this.seen(step.elapse) !== 'done') return;
        trial.since = frame.t;
      } else return;
      trial.at += 1;
    }
  }

  private holds(expect: Readonly<Record<string, Expected>>): boolean {
    return Object.entries(expect).every(([what, value]) => {
      const seen = this.seen(what);
      if (seen === null) return true;
      if (typeof value === 'object' && typeof seen === 'number')
        return seen >= (value.min ?? -Infinity) && seen <= (value.max ?? Infinity);
      return seen === value;
    });
  }

  /** What a person sees of a thing that a script may name; null of what no eye tells. */
  private seen(what: string): string | number | null {
    const { frame, shape } = this;
    if (!frame || !shape) return null;
    const [tag = '', value] = what.split('.');
    const motor = frame.motors[shape.motors.indexOf(tag)];
    if (motor && value === 'driven') return motor.driven;
    if (motor && value === 'speed') return Math.abs(motor.rpm);
    if (motor && value === 'turning')
      return Math.abs(motor.rpm) < 5 ? 'stopped' : motor.rpm > 0 ? 'forward' : 'reverse';
    const contact = shape.contacts.indexOf(what);
    if (contact >= 0) return frame.closed[contact] === 1 ? 'closed' : 'open';
    const lamp = shape.lamps.indexOf(what);
    if (lamp >= 0) return frame.lamps[lamp] ?? null;
    const device = shape.devices.indexOf(what);
    return device >= 0 ? (frame.states[device] ?? null) : null;
  }
}

/** The same done to the same thing; in which order armatures arrive is nobody's to choose. */
function sameAct(step: Step, stimulus: Stimulus): boolean {
  const plain = (one: object) => JSON.stringify(Object.entries(one).filter(([key]) => key !== 'first'));
  return plain(step) === plain(stimulus);
}
