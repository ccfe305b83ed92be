import type { Circuit, MechanismIndex } from '../circuit/index.js';
import type { InductionMotor } from '../machines/index.js';

/**
 * Seconds from end to end at synchronous speed; the load begins in the middle. Common practice, no source.
 */
const END_TO_END = 8;
const START = 0.5;
/** Way back from an end at which its switch lets go, and way beyond it to the stop, per unit of travel. */
const LETS_GO = 0.01;
const STOP = 0.05;
const NEAR = 1e-9;

interface Path {
  readonly motor: number;
  readonly switches: readonly {
    readonly mechanism: MechanismIndex;
    readonly end: 'forward' | 'reverse';
    pressed: boolean;
  }[];
  position: number;
}

/** Loads that motors move between limit switches: 0 is the reverse end, 1 the forward end. */
export class Travel {
  private readonly paths: Path[];

  constructor(
    circuit: Circuit,
    private readonly motors: readonly InductionMotor[],
  ) {
    this.paths = circuit.motors.flatMap((_, motor): Path[] => {
      const switches = circuit.travels.filter((travel) => travel.motor === motor);
      if (switches.length === 0) return [];
      return [{ motor, switches: switches.map((one) => ({ ...one, pressed: false })), position: START }];
    });
  }

  /** True where no load moves between switches. */
  get still(): boolean {
    return this.paths.length === 0;
  }

  /** Seconds until the next switch is reached or left at these speeds; Infinity where none is. */
  secondsToSwitch(speeds: readonly number[]): number {
    let next = Number.POSITIVE_INFINITY;
    for (const path of this.paths) {
      const rate = this.rate(path, speeds);
      if (rate === 0) continue;
      for (const one of path.switches) {
        const seconds = (threshold(one) - path.position) / rate;
        if (seconds > NEAR) next = Math.min(next, seconds);
      }
    }
    return next;
  }

  /** Moves the loads and returns the switches that were reached or left. */
  move(
    seconds: number,
    speeds: readonly number[],
  ): { readonly mechanism: MechanismIndex; readonly pressed: boolean }[] {
    const changed: { mechanism: MechanismIndex; pressed: boolean }[] = [];
    for (const path of this.paths) {
      path.position = Math.min(1 + STOP, Math.max(-STOP, path.position + this.rate(path, speeds) * seconds));
      for (const one of path.switches) {
        const forward = one.end === 'forward' ? path.position : 1 - path.position;
        const pressed = one.pressed ? forward > 1 - LETS_GO + NEAR : forward >= 1 - NEAR;
        if (pressed === one.pressed) continue;
        one.pressed = pressed;
        changed.push({ mechanism: one.mechanism, pressed });
      }
    }
    return changed;
  }

  private rate({ motor }: Path, speeds: readonly number[]): number {
    return (speeds[motor] ?? 0) / (this.motors[motor]?.synchronous ?? 1) / END_TO_END;
  }
}

/** Where a switch changes next. */
function threshold({ end, pressed }: { end: 'forward' | 'reverse'; pressed: boolean }): number {
  const at = pressed ? 1 - LETS_GO : 1;
  return end === 'forward' ? at : 1 - at;
}
