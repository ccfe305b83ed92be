import {
  ARRIVING,
  BURNT,
  LETTING_GO,
  OPERATED,
  REST,
  RETURNING,
  SUPPLY_TRIPPED,
  TRIPPED,
  type Device,
} from '../catalogue/index.js';
import {
  actOn,
  arrive,
  isHeldOut,
  isMoving,
  isTiming,
  react,
  runOut,
  type Circuit,
  type Coil,
  type Mechanism,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import {
  coilVoltageFault,
  coilWants,
  describeShort,
  isIn,
  isShorted,
  lineAmps,
  potentialOf,
  terminalDraw,
  type Driven,
  type Electrical,
  type Solver,
} from '../electrics/index.js';
import { accelerationOf, motorTorque, type InductionMotor } from '../machines/index.js';
import { orderOf, stateName, travelTime } from './motion.js';
import { Thermal, clearing } from './thermal.js';
import { Travel } from './travel.js';
import {
  CHATTER_MOVES,
  COIL_BURN_OVERVOLTAGE,
  COIL_BURN_SECONDS,
  LAMP_BURNS,
  ROUNDING_AMPS,
  SETTLE_LIMIT,
  STALL_SECONDS,
  STANDSTILL,
  TOUCH_VOLTS,
  TRAVEL,
} from '../tolerances.js';

export type IncidentKind =
  | 'phase-to-phase'
  | 'phase-to-neutral'
  | 'phase-to-earth'
  | 'dc-short'
  | 'coil-overvoltage'
  | 'coil-burnt'
  | 'lamp-burnt'
  | 'chatter'
  | 'overload-trip'
  | 'breaker-trip'
  | 'fuse-blown'
  | 'single-phasing'
  | 'stall'
  | 'plugging'
  | 'live-earth';

/** Something that a real bench would suffer. */
export interface Incident {
  readonly t: number;
  readonly kind: IncidentKind;
  readonly where: readonly string[];
}

/** A change of what a device is doing. */
export interface TraceEvent {
  readonly t: number;
  readonly what: string;
  readonly state: string;
}

/** Torque of a spring-applied brake, per unit of its motor's rated torque. Common practice, no source. */
const BRAKE_TORQUE = 1.5;

interface Shaft {
  /** rad/s, positive forward. */
  speed: number;
  /** Speed settled under the present torque balance: nothing to integrate. */
  steady: boolean;
  load: number;
  /** Mechanism of the brake on this shaft, or −1. */
  readonly brake: number;
  driven: Driven;
  stalledSince: number;
  stallTold: boolean;
  /** Largest line current, RMS amperes. */
  amps: number;
}

const NEVER = Number.POSITIVE_INFINITY;
/** Largest change of slip in one step of the shaft, and shortest step, seconds. */
const SLIP_STEP = 0.08;
const SHORTEST_STEP = 0.0005;
/** Acceleration, per unit of synchronous speed a second, under which a shaft is steady. */
const STEADY_ACCELERATION = 0.002;
const REACTIONS_LIMIT = 40;
/** Seconds of chatter that are worth passing over; how like two cycles must be: seconds, and per unit of synchronous speed. */
const SKIPPED_FROM = 2;
const SAME_CYCLE = 1e-7;
const STEADY_CYCLE = 1e-3;
/** Time between two arrivals of which one is held back until the other has come, seconds. */
const ORDER_GAP = 1e-5;

/** Shafts between two moments: speeds in rad/s. */
interface Glide {
  readonly from: number;
  readonly to: number;
  readonly speedsFrom: readonly number[];
  readonly speedsTo: readonly number[];
}

/**
 * A circuit in time. Armatures, plungers and timers make events; between events only shafts and heaters
 * change. Deterministic: the same circuit and stimuli give the same trace.
 */
export class Simulation {
  t = 0;
  readonly state: MechanicalState;
  readonly events: TraceEvent[] = [];
  readonly incidents: Incident[] = [];
  readonly shafts: Shaft[];
  private readonly circuit: Circuit;
  private electrical: Electrical;
  private readonly deadline: Float64Array;
  private readonly thermal: Thermal;
  private readonly travel: Travel;
  private readonly delays = new Map<number, number>();
  private readonly moves: number[][];
  private readonly chatterTold = new Set<number>();
  private readonly told = new Set<string>();
  private readonly coilStress: Float64Array;
  /** By timer: when it may answer its coil again after it has turned twice at one instant. */
  private readonly again: Float64Array;
  private readonly turns: { t: number; count: number }[];
  /** What is still to arrive in the order that the present stimulus names. */
  private order: number[] = [];
  private shorted = false;
  private glide: Glide | null = null;
  /** The bench when what chatters last began a cycle. */
  private cycle: {
    readonly t: number;
    readonly key: string;
    readonly clocks: readonly number[];
    readonly speeds: readonly number[];
    readonly heats: readonly (readonly number[])[];
  } | null = null;
  private present: {
    readonly key: number | string;
    readonly slips: readonly number[];
    readonly electrical: Electrical;
  } | null = null;
  private torqueStale = true;

  /** Starts from a fresh bench, or from a given mechanical state; settles before it returns. Mechanics alone leave shafts and heat out. */
  constructor(
    readonly solver: Solver,
    from?: MechanicalState,
    private readonly mechanicsAlone = false,
  ) {
    this.circuit = solver.circuit;
    this.state = (from ?? this.circuit.initial).slice();
    this.deadline = new Float64Array(this.circuit.mechanisms.length).fill(NEVER);
    this.again = new Float64Array(this.circuit.mechanisms.length).fill(NEVER);
    this.turns = this.circuit.mechanisms.map(() => ({ t: -1, count: 0 }));
    this.moves = this.circuit.mechanisms.map(() => []);
    this.coilStress = new Float64Array(this.circuit.coils.length).fill(NEVER);
    this.shafts = this.circuit.motors.map((motor) => ({
      speed: 0,
      steady: true,
      load: loadOf(this.circuit.bench.devices.find(({ tag }) => tag === motor.tag)),
      brake: this.circuit.mechanisms.findIndex(
        ({ device, kind }) =>
          device.type === 'brake' && kind === 'armature' && device.options.motor === motor.tag,
      ),
      driven: 'none',
      stalledSince: NEVER,
      stallTold: false,
      amps: 0,
    }));
    this.thermal = new Thermal(solver);
    this.travel = new Travel(this.circuit, solver.motors);
    for (const { index, device } of this.circuit.mechanisms) {
      if (device.type === 'timer' || device.type === 'star-delta-timer')
        this.delays.set(index, device.settings.delay);
    }
    this.electrical = solver.at(this.state);
    this.settleReactions();
    this.settle();
  }

  /** Does one thing to the bench and starts what follows from it; time does not pass, but in a wait and while a timer runs out. */
  apply(stimulus: Stimulus): void {
    this.shorted = false;
    this.order = orderOf(stimulus).flatMap((tag) => this.circuit.mechanismOf.get(tag) ?? []);
    if ('wait' in stimulus) {
      this.advance(this.t + stimulus.wait);
      return;
    }
    if ('elapse' in stimulus) {
      this.elapse(stimulus.elapse);
      return;
    }
    this.cutGlide();
    const list = 'together' in stimulus ? stimulus.together : [stimulus];
    for (const one of list) {
      if ('set' in one) this.set(one.set, one.to);
      else if (!('reset' in one) || this.mayReset(one.reset)) this.act(one);
    }
    this.settleReactions();
  }

  /** Does one step of a script: what was done comes to rest before the next; a wait has its own time. */
  work(stimulus: Stimulus): void {
    this.apply(stimulus);
    if (!('wait' in stimulus)) this.settle();
  }

  /** Time runs until no armature, plunger or contact is moving, 0.3 s at the most. */
  settle(): void {
    const limit = this.t + SETTLE_LIMIT;
    while (this.anythingMoving()) {
      const next = this.nextDeadline();
      this.advance(Math.min(next, limit));
      if (next > limit) return;
    }
  }

  /** Runs to a later moment. What happens, and when, does not depend on how a time is divided into calls. */
  advance(to: number): void {
    for (;;) {
      this.arrange();
      if (this.t < to && !this.glide) this.beginGlide();
      const next = Math.min(to, this.nextDeadline(), this.glide?.to ?? NEVER);
      if (next > this.t) this.flowTo(next);
      if (!this.reachDeadlines() && this.t >= to) return;
      if (this.chatterTold.size > 0 && to - this.t > SKIPPED_FROM) this.skipCycles(to);
    }
  }

  /** True once a short circuit has happened since the last stimulus began. */
  get hasShorted(): boolean {
    return this.shorted;
  }

  /** The present electrical solution, rotors at rest: what coils decide by. */
  get solution(): Electrical {
    return this.electrical;
  }

  /** Slip of every motor now, per unit. */
  get slips(): number[] {
    return this.shafts.map(({ speed }, k) => 1 - speed / (this.solver.motors[k]?.synchronous ?? 1));
  }

  /** True while this armature changes place too often to be called in or out. */
  isChattering(mechanism: number): boolean {
    const recent = this.moves[mechanism]?.filter((t) => t > this.t - SETTLE_LIMIT - 1e-9) ?? [];
    return recent.length >= CHATTER_MOVES;
  }

  /** Heat of an overload's hottest pole, per unit of trip. */
  heatOf(mechanism: number): number {
    return this.thermal.heatOf(mechanism);
  }

  /** What chatters does the same over and over: whole cycles that change nothing but heat are passed over at once. */
  private skipCycles(to: number): void {
    const [leader] = this.chatterTold;
    const { t, state } = this;
    if (leader === undefined || this.moves[leader]?.at(-1) !== t || this.cycle?.t === t) return;
    const clocks = [
      ...this.deadline,
      ...this.again,
      ...this.coilStress,
      ...this.shafts.map(({ stalledSince }) => stalledSince + STALL_SECONDS),
    ];
    const now = {
      t,
      key: state.join(),
      clocks,
      speeds: this.shafts.map(({ speed }) => speed),
      heats: this.thermal.heats,
    };
    const before = this.cycle;
    this.cycle = now;
    if (before?.key !== now.key) return;
    const period = t - before.t;
    const far = clocks.filter((at, k) => at === before.clocks[k] && at !== NEVER);
    const alike = clocks.every(
      (at, k) => at === before.clocks[k] || Math.abs(at - (before.clocks[k] as number) - period) < SAME_CYCLE,
    );
    const steady = now.speeds.every(
      (speed, k) =>
        Math.abs(speed - (before.speeds[k] as number)) <=
        STEADY_CYCLE * (this.solver.motors[k]?.synchronous ?? 1),
    );
    if (period <= 0 || !alike || !steady) return;
    const times = Math.min(
      Math.floor((Math.min(to, ...far) - t) / period) - 1,
      this.thermal.repeatable(before.heats, period, state, t),
    );
    if (times < 1) return;
    const later = period * times;
    const shift = (list: Float64Array) =>
      list.forEach((at, k) => (list[k] = at !== NEVER && !far.includes(at) ? at + later : at));
    for (const list of [this.deadline, this.again, this.coilStress]) shift(list);
    for (const shaft of this.shafts)
      if (!far.includes(shaft.stalledSince + STALL_SECONDS)) shaft.stalledSince += later;
    this.moves.forEach((list) => list.forEach((at, k) => (list[k] = at + later)));
    if (this.glide) this.glide = { ...this.glide, from: this.glide.from + later, to: this.glide.to + later };
    this.thermal.repeat(before.heats, period, times);
    this.t = t + later;
    this.cycle = null;
  }

  // ── what a person does ────────────────────────────────────────────────────────────────────────

  private act(stimulus: Stimulus): void {
    if ('reset' in stimulus) this.thermal.renew(this.circuit.mechanismOf.get(stimulus.reset) ?? -1);
    const before = this.state.slice();
    // What moves because a person acts again is not chatter.
    for (const list of this.moves) list.length = 0;
    this.chatterTold.clear();
    actOn(this.circuit, this.state, stimulus);
    this.noteChanges(before);
  }

  private set(target: string, to: number | string | boolean): void {
    const dot = target.lastIndexOf('.');
    const tag = target.slice(0, dot);
    const setting = target.slice(dot + 1);
    const motor = this.circuit.motors.findIndex((m) => m.tag === tag);
    const shaft = this.shafts[motor];
    if (shaft && typeof to === 'number') shaft.load = to;
    const index = this.circuit.mechanismOf.get(tag);
    if (index === undefined) return;
    this.thermal.set(index, setting, to);
    if (this.delays.has(index) && typeof to === 'number') this.delays.set(index, to);
  }

  private mayReset(tag: string): boolean {
    const index = this.circuit.mechanismOf.get(tag);
    return (
      index === undefined || this.circuit.mechanisms[index]?.kind !== 'trip' || this.thermal.heatOf(index) < 1
    );
  }

  private elapse(tag: string): void {
    const index = this.circuit.mechanismOf.get(tag);
    const mechanism = index === undefined ? undefined : this.circuit.mechanisms[index];
    if (index === undefined || !mechanism) return;
    while (isTiming(mechanism, this.state[index] as number))
      this.advance(Math.min(this.deadline[index] as number, this.t + 3600));
  }

  // ── reactions without time ────────────────────────────────────────────────────────────────────

  /** Shorts open what protects them; coils move their armatures; until nothing changes at this instant. */
  private settleReactions(): void {
    for (let round = 0; round < REACTIONS_LIMIT; round += 1) {
      this.electrical = this.solver.at(this.state);
      const before = this.state.slice();
      if (isShorted(this.electrical)) this.clearShort();
      else {
        this.watchCoils();
        this.moveArmatures();
      }
      this.noteChanges(before);
      if (before.every((value, k) => value === this.state[k])) break;
    }
    this.watchLoads();
    this.wakeShafts();
    this.refreshCurrents();
  }

  private moveArmatures(): void {
    const { circuit, electrical, state, order } = this;
    const ask = (coil: Coil, k: number): void => {
      const mechanism = circuit.mechanisms[coil.mechanism] as Mechanism;
      const now = state[coil.mechanism] as number;
      const next = react(mechanism, now, coilWants(circuit, electrical, state, k));
      if (next === now || this.mustWait(mechanism)) return;
      if (next === ARRIVING && mechanism.kind === 'armature' && isHeldOut(circuit, state, coil.mechanism))
        return;
      // One that is named among what arrives is carried in although its coil is lost on the way.
      if (now === ARRIVING && next === RETURNING && order.includes(coil.mechanism)) return;
      state[coil.mechanism] = next;
    };
    // Of armatures that keep each other out the one that is named first starts.
    for (const named of order) {
      const k = circuit.coils.findIndex(({ mechanism }) => mechanism === named);
      if (k >= 0) ask(circuit.coils[k] as Coil, k);
    }
    circuit.coils.forEach(ask);
  }

  /** A timer whose own contacts cut its coil at one instant answers again after the travel of its relay. */
  private mustWait({ kind, index }: Mechanism): boolean {
    if (kind !== 'timer') return false;
    if ((this.again[index] as number) !== NEVER) return true;
    const turn = this.turns[index] as { t: number; count: number };
    if (turn.t !== this.t) Object.assign(turn, { t: this.t, count: 0 });
    turn.count += 1;
    if (turn.count <= 2) return false;
    this.again[index] = this.t + TRAVEL.pullIn;
    return true;
  }

  /** A short opens the nearest protection that clears it first; without any, the supply itself trips. */
  private clearShort(): void {
    const { circuit, state } = this;
    const found = describeShort(this.solver, state, this.electrical);
    this.shorted = true;
    this.incident(found.kind, [...found.path]);
    let fastest: { device: Device; seconds: number } | null = null;
    for (const { tag, amps } of found.through) {
      const device = circuit.bench.devices.find((d) => d.tag === tag);
      const seconds = clearing(device, amps);
      if (device && seconds < (fastest?.seconds ?? NEVER)) fastest = { device, seconds };
    }
    if (fastest) {
      this.open(fastest.device);
      return;
    }
    for (const tag of found.supplies) {
      const index = circuit.mechanismOf.get(tag);
      if (index === undefined) continue;
      state[index] = (state[index] as number) | SUPPLY_TRIPPED;
      this.incident('breaker-trip', [tag]);
    }
  }

  /** A breaker trips or a fuse blows. */
  private open({ tag, type }: Device): void {
    const index = this.circuit.mechanismOf.get(tag);
    if (index !== undefined) this.state[index] = TRIPPED;
    this.incident(type === 'fuse' ? 'fuse-blown' : 'breaker-trip', [tag]);
  }

  /** Coils that are energised outside their limits, also between two moves of one instant. */
  private watchCoils(): void {
    const { circuit, electrical } = this;
    circuit.coils.forEach(({ tag, a, b }, k) => {
      const fault = coilVoltageFault(circuit, electrical, k);
      this.once((fault?.perUnit ?? 0) > 1, `over ${tag}`, 'coil-overvoltage', [tag]);
      const key = `volts ${tag}`;
      if (!fault) this.told.delete(key);
      else if (!this.told.has(key)) {
        this.told.add(key);
        const [from, to] = [a, b].map((end) => circuit.terminals[end] as string);
        this.note(`volts(${from ?? ''}, ${to ?? ''})`, `${(electrical.coilVolts[k] as number).toFixed(1)} V`);
      }
    });
  }

  /** Coils and lamps that will burn, live earths, and the field of each motor. */
  private watchLoads(): void {
    const { circuit, electrical, state } = this;
    circuit.coils.forEach((coil, k) => {
      const volts = electrical.coilVolts[k] as number;
      const fault = coilVoltageFault(circuit, electrical, k);
      const mechanism = circuit.mechanisms[coil.mechanism] as Mechanism;
      const blocked =
        coil.kind === 'ac' &&
        mechanism.kind === 'armature' &&
        state[coil.mechanism] === REST &&
        coilWants(circuit, electrical, state, k);
      const direct = coil.kind === 'ac' && fault?.wrongKind === true;
      const stressed = volts > COIL_BURN_OVERVOLTAGE * coil.voltage || blocked || direct;
      if (!stressed) this.coilStress[k] = NEVER;
      else if (this.coilStress[k] === NEVER) this.coilStress[k] = this.t + COIL_BURN_SECONDS;
    });
    circuit.lamps.forEach((lamp, k) => {
      if ((electrical.lampVolts[k] as number) <= LAMP_BURNS * lamp.voltage) return;
      const before = state.slice();
      state[lamp.mechanism] = BURNT;
      this.incident('lamp-burnt', [lamp.tag]);
      this.noteChanges(before);
      this.electrical = this.solver.at(state);
    });
    circuit.motors.forEach((motor, k) => {
      const earth = motor.earth;
      this.once(
        potentialOf(this.solver, this.electrical, earth) > TOUCH_VOLTS,
        `earth ${motor.tag}`,
        'live-earth',
        [`${motor.tag}:PE`],
      );
      const shaft = this.shafts[k] as Shaft;
      const driven = this.electrical.motors[k]?.driven ?? 'none';
      if (driven === shaft.driven) return;
      shaft.driven = driven;
      // What chatters is told once, with what follows from it.
      const chatters = this.chatterTold.size > 0;
      if (!chatters) this.note(`${motor.tag}.driven`, driven);
      if (driven === 'single-phase' && !(chatters && this.told.has(`single ${motor.tag}`)))
        this.incident('single-phasing', [motor.tag]);
      if (driven === 'single-phase') this.told.add(`single ${motor.tag}`);
      const against = (driven === 'forward' && shaft.speed < 0) || (driven === 'reverse' && shaft.speed > 0);
      const synchronous = this.solver.motors[k]?.synchronous ?? 1;
      if (against && !chatters && Math.abs(shaft.speed) > 0.2 * synchronous)
        this.incident('plugging', [motor.tag]);
    });
  }

  private once(now: boolean, key: string, kind: IncidentKind, where: string[]): void {
    if (!now) this.told.delete(key);
    else if (!this.told.has(key)) {
      this.told.add(key);
      this.incident(kind, where);
    }
  }

  private incident(kind: IncidentKind, where: string[]): void {
    this.incidents.push({ t: this.t, kind, where });
  }

  private note(what: string, state: string): void {
    this.events.push({ t: this.t, what, state });
  }

  // ── time ──────────────────────────────────────────────────────────────────────────────────────

  /** Gives every mechanism that changed its state the moment at which it will arrive, and writes the trace. */
  private noteChanges(before: MechanicalState): void {
    this.circuit.mechanisms.forEach((mechanism, k) => {
      const now = this.state[k] as number;
      if (now === before[k]) return;
      if (isMoving(mechanism, now))
        this.deadline[k] =
          this.t + travelTime(mechanism, now, before[k] as number, (this.deadline[k] as number) - this.t);
      else if (isTiming(mechanism, now)) this.deadline[k] = this.t + (this.delays.get(k) ?? 0);
      else this.deadline[k] = NEVER;
      const begins =
        mechanism.kind === 'armature' ? now === ARRIVING || now === RETURNING : isTiming(mechanism, now);
      if (begins) this.noteMove(k, mechanism);
      const name = stateName(mechanism, now);
      if (name !== null && name !== stateName(mechanism, before[k] as number) && !this.chatterTold.has(k))
        this.note(mechanism.device.tag, name);
    });
  }

  private noteMove(k: number, { device }: Mechanism): void {
    const recent = (this.moves[k] ?? []).slice(1 - CHATTER_MOVES).filter((t) => t > this.t - SETTLE_LIMIT);
    recent.push(this.t);
    this.moves[k] = recent;
    if (recent.length >= CHATTER_MOVES) {
      if (this.chatterTold.has(k)) return;
      this.chatterTold.add(k);
      this.incident('chatter', [device.tag]);
      this.note(device.tag, 'chattering');
    } else this.chatterTold.delete(k);
  }

  private anythingMoving(): boolean {
    return this.circuit.mechanisms.some(
      (mechanism, k) => isMoving(mechanism, this.state[k] as number) || (this.again[k] as number) !== NEVER,
    );
  }

  private nextDeadline(): number {
    let next = NEVER;
    for (const at of this.deadline) next = Math.min(next, at);
    next = Math.min(next, this.thermal.next);
    for (const at of this.coilStress) next = Math.min(next, at);
    for (const at of this.again) next = Math.min(next, at);
    for (const shaft of this.shafts)
      if (!shaft.stallTold) next = Math.min(next, shaft.stalledSince + STALL_SECONDS);
    return next;
  }

  /**
   * Keeps the order of arrival: of what is named, the next one arrives before the rest of it; and an armature never
   * arrives while another one that lets go has not parted, since the lag of the one is shorter than the travel of the other.
   */
  private arrange(): void {
    const { deadline, order, circuit, state } = this;
    const moves = (k: number) => isMoving(circuit.mechanisms[k] as Mechanism, state[k] as number);
    const isArmature = (k: number, doing: number) =>
      state[k] === doing && circuit.mechanisms[k]?.kind === 'armature';
    const [head] = order;
    if (head !== undefined && moves(head)) {
      const at = deadline[head] as number;
      const held = [...new Set(order)].filter(
        (k) =>
          k !== head &&
          moves(k) &&
          (deadline[k] as number) <= at &&
          !(isArmature(head, ARRIVING) && isArmature(k, LETTING_GO)),
      );
      const shift = at - Math.min(...held.map((k) => deadline[k] as number)) + ORDER_GAP;
      for (const k of held) deadline[k] = (deadline[k] as number) + shift;
    }
    let parted = -1;
    for (const { mechanism: k } of circuit.coils)
      if (isArmature(k, LETTING_GO)) parted = Math.max(parted, deadline[k] as number);
    if (parted < 0) return;
    for (const { mechanism: k } of circuit.coils) {
      if (isArmature(k, ARRIVING) && (deadline[k] as number) <= parted)
        deadline[k] = parted + ORDER_GAP * (1 + k);
    }
  }

  /** Everything whose time has come, in the order of the bench; false where nothing was due. */
  private reachDeadlines(): boolean {
    const due = this.t + 1e-12;
    const before = this.state.slice();
    let changed = false;
    let told = false;
    this.circuit.mechanisms.forEach((mechanism, k) => {
      if ((this.again[k] as number) <= due) {
        this.again[k] = NEVER;
        changed = true;
      }
      if ((this.deadline[k] as number) > due) return;
      const place = this.order.indexOf(k);
      if (place >= 0) this.order.splice(place, 1);
      const now = this.state[k] as number;
      this.state[k] = isTiming(mechanism, now) ? runOut(mechanism) : arrive(mechanism, now);
      this.deadline[k] = NEVER;
      changed = true;
    });
    for (const { device, mechanism } of this.thermal.due(due)) {
      changed = true;
      if (device.type === 'overload') {
        if (this.state[mechanism] === OPERATED) this.state[mechanism] = RETURNING;
        else {
          this.state[mechanism] = ARRIVING;
          this.incident('overload-trip', [device.tag]);
        }
        continue;
      }
      this.open(device);
    }
    this.circuit.coils.forEach((coil, k) => {
      if ((this.coilStress[k] as number) > due) return;
      this.coilStress[k] = NEVER;
      this.state[coil.winding] = BURNT;
      this.incident('coil-burnt', [coil.tag]);
      changed = true;
    });
    this.shafts.forEach((shaft, k) => {
      if (shaft.stallTold || shaft.stalledSince + STALL_SECONDS > due) return;
      shaft.stallTold = true;
      told = true;
      this.incident('stall', [this.circuit.motors[k]?.tag ?? '']);
    });
    if (!changed) return told;
    this.cutGlide();
    this.noteChanges(before);
    this.settleReactions();
    return true;
  }

  // ── shafts and heaters ────────────────────────────────────────────────────────────────────────

  private wakeShafts(): void {
    this.torqueStale = true;
    for (const shaft of this.shafts) shaft.steady = false;
  }

  /**
   * Begins a step of the shafts and of the loads that they move. Its length hangs on the state alone, never on how long
   * somebody waits; what happens on the way cuts it.
   */
  private beginGlide(): void {
    const steady = this.shafts.every((shaft) => shaft.steady);
    if ((this.travel.still && steady) || this.mechanicsAlone) return;
    const torques = steady ? null : this.torques();
    const from = this.shafts.map(({ speed }) => speed);
    let step = Math.min(this.nextDeadline() - this.t, this.travel.secondsToSwitch(from));
    const acceleration = this.shafts.map((shaft, k) => {
      if (!torques) return 0;
      const machine = this.solver.motors[k] as InductionMotor;
      const a = accelerationOf(machine, shaft.speed, torques[k] as number, this.opposing(shaft));
      const perUnit = Math.abs(a) / machine.synchronous;
      if (perUnit <= STEADY_ACCELERATION) {
        shaft.steady = true;
        return 0;
      }
      step = Math.min(step, Math.max(SHORTEST_STEP, SLIP_STEP / perUnit));
      return a;
    });
    if (step <= 0) return;
    if (acceleration.some((a) => a !== 0)) {
      this.shafts.forEach((shaft, k) => {
        if (acceleration[k] !== 0)
          this.stepShaft(shaft, this.solver.motors[k] as InductionMotor, k, acceleration[k] as number, step);
      });
    } else if (this.travel.still) return;
    const to = this.shafts.map(({ speed }) => speed);
    this.glide = { from: this.t, to: this.t + step, speedsFrom: from, speedsTo: to };
    this.shafts.forEach((shaft, k) => (shaft.speed = from[k] as number));
  }

  /** Lets time pass to a moment before which nothing happens. */
  private flowTo(to: number): void {
    this.thermal.advance(to - this.t);
    this.t = to;
    const { glide } = this;
    if (!glide) return;
    if (to < glide.to) {
      this.placeShafts(glide);
      return;
    }
    const unsteady = this.shafts.some(({ steady }) => !steady);
    if (this.endGlide()) this.settleReactions();
    else if (unsteady) this.refreshCurrents();
  }

  /** Speeds at the present moment of a step. */
  private placeShafts({ from, to, speedsFrom, speedsTo }: Glide): void {
    const part = Number.isFinite(to) ? Math.min(1, (this.t - from) / (to - from)) : 0;
    this.shafts.forEach((shaft, k) => {
      const [a, b] = [speedsFrom[k] as number, speedsTo[k] as number];
      shaft.speed = part === 1 ? b : a + (b - a) * part;
    });
  }

  /** Ends a step where it is; true where a load has reached or left a switch on it. */
  private endGlide(): boolean {
    const { glide } = this;
    if (!glide) return false;
    this.glide = null;
    this.placeShafts(glide);
    const mean = this.shafts.map(({ speed }, k) => (speed + (glide.speedsFrom[k] as number)) / 2);
    const reached = this.travel.move(this.t - glide.from, mean);
    if (reached.length === 0) return false;
    const before = this.state.slice();
    for (const { mechanism, pressed } of reached) this.state[mechanism] = pressed ? ARRIVING : RETURNING;
    this.noteChanges(before);
    return true;
  }

  /** Something happens before a step has ended: the shafts are where they are. */
  private cutGlide(): void {
    if (!this.glide) return;
    this.endGlide();
    this.torqueStale = true;
  }

  /** One step of the shaft by Heun's method; a load never turns a shaft backwards through zero. */
  private stepShaft(shaft: Shaft, machine: InductionMotor, k: number, a: number, step: number): void {
    const before = shaft.speed;
    shaft.speed = before + a * step;
    const torque = this.torques()[k] as number;
    const ahead = accelerationOf(machine, shaft.speed, torque, this.opposing(shaft));
    const mean = (a + ahead) / 2;
    // Near balance the two slopes oppose each other: the shaft has reached its speed within this step.
    const next =
      a * ahead < 0
        ? before + (a * step * Math.abs(a)) / (Math.abs(a) + Math.abs(ahead))
        : before + mean * step;
    shaft.speed = before !== 0 && next * before < 0 && shaft.driven === 'none' ? 0 : next;
    if (Math.abs(shaft.speed) < STANDSTILL * 0.1 * machine.synchronous && shaft.driven === 'none')
      shaft.speed = 0;
    this.torqueStale = true;
  }

  /** The solution at the present slips; solved once for each contact state and set of speeds. */
  private running(): Electrical {
    const key = this.solver.contactKey(this.state);
    const { slips } = this;
    const known = this.present;
    if (known && known.key === key && known.slips.every((slip, k) => slip === slips[k]))
      return known.electrical;
    const electrical = this.solver.solve(this.state, slips);
    this.present = { key, slips, electrical };
    return electrical;
  }

  /** Load and brake against a shaft, per unit of rated torque. */
  private opposing({ load, brake }: Shaft): number {
    return brake >= 0 && !isIn(this.state[brake] as number) ? load + BRAKE_TORQUE : load;
  }

  private torques(): number[] {
    const { slips } = this;
    const { motors } = this.running();
    return motors.map(({ positive, negative }, k) =>
      motorTorque(this.solver.motors[k] as InductionMotor, positive, negative, slips[k] as number),
    );
  }

  /** Line currents, what they heat, and stalls, at the present speeds. */
  private refreshCurrents(): void {
    if (this.mechanicsAlone || (!this.torqueStale && this.shafts.every(({ steady }) => steady))) return;
    this.torqueStale = false;
    const { slips } = this;
    const driven = this.electrical.motors.some((field) => field.driven !== 'none');
    const running = driven ? this.running() : this.electrical;
    const network = running.potentials.find(({ frequency }) => frequency > 0) ?? running.potentials[0];
    const draw = network ? terminalDraw(this.solver, this.state, running, network, slips) : null;
    this.thermal.refresh(this.state, draw, this.t);
    this.shafts.forEach((shaft, k) => {
      const motor = this.circuit.motors[k];
      const amps = draw && motor ? lineAmps(this.solver, running, draw, motor) : 0;
      shaft.amps = amps < ROUNDING_AMPS ? 0 : amps;
      const machine = this.solver.motors[k] as InductionMotor;
      const stalled =
        shaft.driven !== 'none' && Math.abs(shaft.speed) < STANDSTILL * 10 * machine.synchronous;
      if (!stalled) {
        shaft.stalledSince = NEVER;
        shaft.stallTold = false;
      } else if (shaft.stalledSince === NEVER) shaft.stalledSince = this.t;
    });
  }
}

function loadOf(device: Device | undefined): number {
  return device?.type === 'motor-3' || device?.type === 'motor-1' ? device.settings.load : 0;
}
