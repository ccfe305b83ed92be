import { ARRIVING, RETURNING } from '../catalogue/index.js';
import { isIn, type Circuit } from '../circuit/index.js';
import { lineAmps, type Draw, type Driven, type Electrical } from '../electrics/index.js';
import { accelerationOf, motorTorque, type InductionMotor } from '../machines/index.js';
import { CREEPING, ROUNDING_AMPS, STALL_SECONDS, STANDSTILL } from '../tolerances.js';
import type { Clocks } from './clocks.js';
import { NEVER, type Present } from './present.js';
import type { Trace } from './trace.js';
import { Travel } from './travel.js';

/** Torque of a spring-applied brake, per unit of its motor's rated torque. Common practice, no source. */
const BRAKE_TORQUE = 1.5;
/** Largest change of slip in one step of the shaft, and shortest step, seconds. */
const SLIP_STEP = 0.08;
const SHORTEST_STEP = 0.0005;
/** Acceleration, per unit of synchronous speed a second, under which a shaft is steady. */
const STEADY_ACCELERATION = 0.002;
/** Speed, per unit of synchronous, above which a field against the shaft plugs it. */
const PLUGGING_SPEED = 0.2;

export interface Shaft {
  /** rad/s, positive forward. */
  speed: number;
  /** Speed settled under the present torque balance: nothing to integrate. */
  steady: boolean;
  /** Torque of the load, per unit of the rated. */
  load: number;
  /** Mechanism of the brake on this shaft, or −1. */
  readonly brake: number;
  driven: Driven;
  stalledSince: number;
  stallTold: boolean;
  /** Largest line current, RMS amperes. */
  amps: number;
}

/** Shafts between two moments: speeds in rad/s. */
interface Glide {
  readonly from: number;
  readonly to: number;
  readonly speedsFrom: readonly number[];
  readonly speedsTo: readonly number[];
}

/** The shafts of a bench and the loads that they move. */
export class Shafts {
  readonly list: Shaft[];
  readonly machines: readonly InductionMotor[];
  private readonly travel: Travel;
  private glide: Glide | null = null;
  private solved: {
    readonly key: number | string;
    readonly slips: readonly number[];
    readonly electrical: Electrical;
  } | null = null;
  /** Torque and currents have changed since they were last worked out. */
  private stale = true;

  constructor(
    private readonly present: Present,
    private readonly clocks: Clocks,
  ) {
    const { solver } = present;
    this.machines = solver.motors;
    this.list = this.circuit.motors.map(({ load, brake }) => ({
      speed: 0,
      steady: true,
      load,
      brake,
      driven: 'none',
      stalledSince: NEVER,
      stallTold: false,
      amps: 0,
    }));
    this.travel = new Travel(this.circuit, this.machines);
  }

  private get circuit(): Circuit {
    return this.present.solver.circuit;
  }

  /** The circuit is another from now on. */
  refit(): void {
    this.solved = null;
    this.wake();
  }

  /** Slip of every motor now, per unit. */
  get slips(): number[] {
    return this.list.map(({ speed }, k) => 1 - speed / this.machines[k]!.synchronous);
  }

  get steady(): boolean {
    return this.list.every(({ steady }) => steady);
  }

  /** The moment at which the next stall is told. */
  get nextStall(): number {
    let next = NEVER;
    for (const { stallTold, stalledSince } of this.list)
      if (!stallTold) next = Math.min(next, stalledSince + STALL_SECONDS);
    return next;
  }

  /** The end of the present step; Infinity where shafts and loads stand or are steady. */
  get stepEnds(): number {
    return this.glide?.to ?? NEVER;
  }

  get isGliding(): boolean {
    return this.glide !== null;
  }

  wake(): void {
    this.stale = true;
    for (const shaft of this.list) shaft.steady = false;
  }

  /** Takes the field that drives a shaft from now on; true where it plugs the shaft. */
  drive(k: number, driven: Driven): boolean {
    const shaft = this.list[k]!;
    shaft.driven = driven;
    const against = (driven === 'forward' && shaft.speed < 0) || (driven === 'reverse' && shaft.speed > 0);
    return against && Math.abs(shaft.speed) > PLUGGING_SPEED * this.machines[k]!.synchronous;
  }

  /**
   * Begins a step of the shafts and of the loads that they move, up to a moment at the most. Its length
   * hangs on the state alone, never on how long somebody waits; what happens on the way cuts it.
   */
  begin(until: number): void {
    const { steady } = this;
    if (this.travel.still && steady) return;
    const from = this.list.map(({ speed }) => speed);
    const torques = steady ? null : this.torques();
    const accelerations = this.list.map((_, k) => (torques ? this.acceleration(k, torques[k]!) : 0));
    let step = Math.min(until - this.present.t, this.travel.secondsToSwitch(from));
    accelerations.forEach((a, k) => {
      if (a !== 0)
        step = Math.min(
          step,
          Math.max(SHORTEST_STEP, SLIP_STEP / (Math.abs(a) / this.machines[k]!.synchronous)),
        );
    });
    if (step <= 0) return;
    if (accelerations.every((a) => a === 0)) {
      if (this.travel.still) return;
    } else
      accelerations.forEach((a, k) => {
        if (a !== 0) this.stepShaft(k, a, step);
      });
    const to = this.list.map(({ speed }) => speed);
    const { t } = this.present;
    this.glide = { from: t, to: t + step, speedsFrom: from, speedsTo: to };
    this.list.forEach((shaft, k) => (shaft.speed = from[k]!));
  }

  /** rad/s2; 0 where the shaft has settled, which it is then told. */
  private acceleration(k: number, torque: number): number {
    const shaft = this.list[k]!;
    const machine = this.machines[k]!;
    const a = accelerationOf(machine, shaft.speed, torque, this.opposing(shaft));
    if (Math.abs(a) / machine.synchronous > STEADY_ACCELERATION) return a;
    shaft.steady = true;
    return 0;
  }

  /** Places the shafts at the present moment of their step, or ends it there; says what that leads to. */
  follow(): 'nothing' | 'currents' | 'switch' {
    const { glide } = this;
    if (!glide) return 'nothing';
    if (this.present.t < glide.to) {
      this.place(glide);
      return 'nothing';
    }
    const unsteady = !this.steady;
    if (this.end()) return 'switch';
    return unsteady ? 'currents' : 'nothing';
  }

  /** Speeds at the present moment of a step. */
  private place({ from, to, speedsFrom, speedsTo }: Glide): void {
    const part = Number.isFinite(to) ? Math.min(1, (this.present.t - from) / (to - from)) : 0;
    this.list.forEach((shaft, k) => {
      const [a, b] = [speedsFrom[k]!, speedsTo[k]!];
      shaft.speed = part === 1 ? b : a + (b - a) * part;
    });
  }

  /**
   * Ends a step where it is, and moves the switches that a load has reached or left on it; false where
   * there are none.
   */
  private end(): boolean {
    const { glide, present } = this;
    if (!glide) return false;
    this.glide = null;
    this.place(glide);
    const mean = this.list.map(({ speed }, k) => (speed + glide.speedsFrom[k]!) / 2);
    const reached = this.travel.move(present.t - glide.from, mean);
    if (reached.length === 0) return false;
    const before = present.state.slice();
    for (const { mechanism, pressed } of reached) present.state[mechanism] = pressed ? ARRIVING : RETURNING;
    this.clocks.noteChanges(before);
    return true;
  }

  /** Something happens before a step has ended: the shafts are where they are. */
  cut(): void {
    if (!this.glide) return;
    this.end();
    this.stale = true;
  }

  /** Puts a whole step off by some seconds. */
  postpone(seconds: number): void {
    if (this.glide)
      this.glide = { ...this.glide, from: this.glide.from + seconds, to: this.glide.to + seconds };
  }

  /** One step of the shaft by Heun's method; a load never turns a shaft backwards through zero. */
  private stepShaft(k: number, a: number, step: number): void {
    const shaft = this.list[k]!;
    const machine = this.machines[k]!;
    const before = shaft.speed;
    shaft.speed = before + a * step;
    const ahead = accelerationOf(machine, shaft.speed, this.torques()[k]!, this.opposing(shaft));
    const mean = (a + ahead) / 2;
    // Near balance the two slopes oppose each other: the shaft has reached its speed within this step.
    const next =
      a * ahead < 0
        ? before + (a * step * Math.abs(a)) / (Math.abs(a) + Math.abs(ahead))
        : before + mean * step;
    shaft.speed = before !== 0 && next * before < 0 && shaft.driven === 'none' ? 0 : next;
    if (Math.abs(shaft.speed) < CREEPING * machine.synchronous && shaft.driven === 'none') shaft.speed = 0;
    this.stale = true;
  }

  /** The solution at the present slips; solved once for each contact state and set of speeds. */
  running(): Electrical {
    const { solver, state } = this.present;
    const key = solver.contactKey(state);
    const { slips, solved } = this;
    if (solved?.key === key && solved.slips.every((slip, k) => slip === slips[k])) return solved.electrical;
    const electrical = solver.solve(state, slips);
    this.solved = { key, slips, electrical };
    return electrical;
  }

  /** Load and brake against a shaft, per unit of rated torque. */
  private opposing({ load, brake }: Shaft): number {
    return brake >= 0 && !isIn(this.present.state[brake]!) ? load + BRAKE_TORQUE : load;
  }

  /** Electromagnetic torque of every motor now, N m. */
  torques(): number[] {
    const { slips } = this;
    return this.running().motors.map(({ positive, negative }, k) =>
      motorTorque(this.machines[k]!, positive, negative, slips[k]!),
    );
  }

  /** True where torque and currents must be worked out anew; they are then taken as worked out. */
  takeStale(): boolean {
    if (!this.stale && this.steady) return false;
    this.stale = false;
    return true;
  }

  /** Line currents at the present speeds, and what stalls by them. */
  takeCurrents(running: Electrical, draw: Draw | null): void {
    this.list.forEach((shaft, k) => {
      const amps = draw ? lineAmps(this.present.solver, running, draw, this.circuit.motors[k]!) : 0;
      shaft.amps = amps < ROUNDING_AMPS ? 0 : amps;
      const still = Math.abs(shaft.speed) < STANDSTILL * 10 * this.machines[k]!.synchronous;
      if (shaft.driven === 'none' || !still) {
        shaft.stalledSince = NEVER;
        shaft.stallTold = false;
      } else if (shaft.stalledSince === NEVER) shaft.stalledSince = this.present.t;
    });
  }

  /** Tells every stall whose time has come; false where none was due. */
  tellStalls(due: number, trace: Trace): boolean {
    let told = false;
    this.list.forEach((shaft, k) => {
      if (shaft.stallTold || shaft.stalledSince + STALL_SECONDS > due) return;
      shaft.stallTold = true;
      told = true;
      trace.incident('stall', [this.circuit.motors[k]!.tag]);
    });
    return told;
  }
}
