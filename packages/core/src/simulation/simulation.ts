import { splitRef } from '../bench/index.js';
import { ARRIVING, OPERATED, RETURNING } from '../catalogue/index.js';
import {
  partOf,
  isBitSet,
  isTripBar,
  staysWhenRenewed,
  actOn,
  isArmature,
  isBlocked,
  isHeldOut,
  isIn,
  isTiming,
  react,
  splitSetting,
  type Circuit,
  type Mechanism,
  type MechanismIndex,
  type MechanicalState,
  type Stimulus,
  type TerminalIndex,
} from '../circuit/index.js';
import {
  coilWants,
  isShorted,
  potentialOf,
  terminalDraw,
  type Electrical,
  type Solver,
} from '../electrics/index.js';
import { devicesOf, readFault, type Fault } from '../faults/index.js';
import { SETTLE_LIMIT, TOUCH_VOLTS } from '../tolerances.js';
import { Clocks } from './clocks.js';
import { Cycles, SKIPPED_FROM } from './cycles.js';
import { Injected } from './injected.js';
import { orderOf } from './motion.js';
import { NEVER, type Present } from './present.js';
import { Programs } from './programs.js';
import { Shafts, type Shaft } from './shafts.js';
import { Thermal } from './thermal.js';
import { Trace, type Incident, type TraceEvent } from './trace.js';
import { Watch } from './watch.js';

/** Rounds of reactions at one instant after which a circuit is taken as it is. */
const REACTIONS_LIMIT = 40;
/** Rounding of a moment, seconds. */
const AT_ONCE = 1e-12;

/** An armature that a hand holds in, as the fault of one that sticks. */
const heldIn = (tag: string): Fault => readFault({ 'armature-jammed': tag, position: 'in' });

/**
 * A circuit in time. Armatures, plungers and timers make events; between events only shafts and heaters
 * change. Deterministic: the same circuit and stimuli give the same trace.
 */
export class Simulation {
  private readonly present: Present;
  private readonly trace: Trace;
  private readonly clocks: Clocks;
  private readonly programs: Programs;
  private readonly rotating: Shafts;
  private readonly thermal: Thermal;
  private readonly watch: Watch;
  private readonly cycles: Cycles;
  private readonly injected: Injected;

  /**
   * Starts from a fresh bench, or from a given mechanical state; settles before it returns. Mechanics alone
   * leave shafts and heat out.
   */
  constructor(
    sound: Solver,
    from?: MechanicalState,
    private readonly mechanicsAlone = false,
    faults: readonly Fault[] = [],
  ) {
    const state = (from ?? sound.circuit.initial).slice();
    this.injected = new Injected(sound, faults, state);
    const { solver } = this.injected;
    takeInitial(sound.circuit, solver.circuit, state);
    this.present = { solver, t: 0, state, electrical: solver.at(state), shorted: false, order: [] };
    this.trace = new Trace(this.present);
    this.clocks = new Clocks(this.present, this.trace);
    this.programs = new Programs(this.present, this.clocks, this.trace);
    this.rotating = new Shafts(this.present, this.clocks);
    this.thermal = new Thermal(solver);
    this.watch = new Watch(this.present, this.trace, this.clocks, this.rotating);
    this.cycles = new Cycles(this.present, this.clocks, this.watch, this.rotating, this.thermal);
    this.settleReactions();
    this.settle();
  }

  /** Of the circuit as it is now, with the faults that are there. */
  get solver(): Solver {
    return this.present.solver;
  }

  private get circuit(): Circuit {
    return this.present.solver.circuit;
  }

  /** The faults of the board, those included that are not there now. */
  get faults(): readonly Fault[] {
    return this.injected.all;
  }

  /** Seconds since the run began. */
  get t(): number {
    return this.present.t;
  }

  get state(): MechanicalState {
    return this.present.state;
  }

  get events(): readonly TraceEvent[] {
    return this.trace.events;
  }

  get incidents(): readonly Incident[] {
    return this.trace.incidents;
  }

  get shafts(): readonly Shaft[] {
    return this.rotating.list;
  }

  /** True once a short circuit has happened since the last stimulus began. */
  get hasShorted(): boolean {
    return this.present.shorted;
  }

  /** The present electrical solution, rotors at rest: what coils decide by. */
  get solution(): Electrical {
    return this.present.electrical;
  }

  /** A motor is driven, or on a bench without motors a contactor or relay is in. */
  get isRunning(): boolean {
    const { motors, coils } = this.circuit;
    if (motors.length === 0) return coils.some(({ mechanism }) => isIn(this.state[mechanism]!));
    return this.solution.motors.some(({ driven }) => driven !== 'none');
  }

  /** Slip of every motor now, per unit. */
  get slips(): number[] {
    return this.rotating.slips;
  }

  /** Electromagnetic torque of every motor now, N m. */
  get torques(): number[] {
    return this.rotating.torques();
  }

  /** True while this armature changes place too often to be called in or out. */
  isChattering(mechanism: number): boolean {
    return this.clocks.isChattering(mechanism);
  }

  /** Heat of a protection's hottest pole, per unit of release. */
  heatOf(mechanism: number): number {
    return this.thermal.heatOf(mechanism);
  }

  /** Amperes to which an overload relay is really set; undefined of anything else. */
  dialOf(mechanism: number): number | undefined {
    return this.thermal.dialOf(mechanism);
  }

  /** Seconds for which a timer has run; 0 of one that does not. */
  runFor(mechanism: number): number {
    const left = this.clocks.deadline[mechanism]! - this.t;
    return Number.isFinite(left) ? this.clocks.delayOf(mechanism) - left : 0;
  }

  /** Seconds to which a timer is really set. */
  delayOf(mechanism: number): number {
    return this.clocks.delayOf(mechanism);
  }

  /**
   * Does one thing to the bench and starts what follows from it; time does not pass, but in a wait and
   * while a timer runs out.
   */
  apply(stimulus: Stimulus): void {
    const { present } = this;
    present.shorted = false;
    present.order = orderOf(stimulus).flatMap((tag) => this.circuit.mechanismOf.get(tag) ?? []);
    if ('wait' in stimulus) {
      this.advance(present.t + stimulus.wait);
      return;
    }
    if ('elapse' in stimulus) {
      this.elapse(stimulus.elapse);
      return;
    }
    this.rotating.cut();
    for (const one of 'together' in stimulus ? stimulus.together : [stimulus]) {
      if ('set' in one) this.set(one.set, one.to);
      else if ('inject' in one) this.injected.inject(readFault(one.inject), present.t);
      else if ('clear' in one) this.injected.clear(readFault(one.clear));
      else if ('pushIn' in one) this.pushIn(one.pushIn);
      else if ('letOut' in one) this.letOut(one.letOut);
      else if (this.can(one)) this.act(one);
    }
    this.settleReactions();
  }

  /**
   * Holds an input or output of a controller on or off, whatever is wired or written, from its next scan on;
   * null lets it go. Nothing of it stands in a script: it is a look at what would be.
   */
  force(tag: string, at: string, value: boolean | null): void {
    const place = partOf(this.circuit, tag, at);
    if (place?.kind === 'input' || place?.kind === 'output') this.programs.force(place.index, value);
  }

  /** A new device stands in the place of one: nothing of it is burnt, blown, tripped or warm. */
  renew(tag: string): void {
    const { circuit, state } = this;
    this.rotating.cut();
    const before = state.slice();
    for (const mechanism of circuit.mechanisms)
      if (mechanism.device.tag === tag && !staysWhenRenewed(mechanism)) {
        this.thermal.renew(mechanism.index, true);
        state[mechanism.index] = mechanism.initial;
      }
    this.noteChanges(before);
    this.settleReactions();
  }

  /** Does one step of a script: what was done comes to rest before the next; a wait has its own time. */
  work(stimulus: Stimulus): void {
    this.apply(stimulus);
    if (!('wait' in stimulus)) this.settle();
  }

  /** Time runs until no armature, plunger or contact is moving and no program has anything to do, 0.3 s at the most. */
  settle(): void {
    const limit = this.t + SETTLE_LIMIT;
    while (this.clocks.anythingMoving || this.programs.next !== NEVER) {
      const next = this.next();
      this.advance(Math.min(next, limit));
      if (next > limit) return;
    }
  }

  /** Runs to a later moment. What happens, and when, does not depend on how a time is divided into calls. */
  advance(to: number): void {
    const { present, rotating } = this;
    for (;;) {
      this.clocks.arrange();
      if (present.t < to && !rotating.isGliding && !this.mechanicsAlone) rotating.begin(this.next());
      const next = Math.min(to, this.next(), rotating.stepEnds);
      if (next > present.t) this.flowTo(next);
      if (!this.reachDeadlines() && present.t >= to) return;
      if (this.mayPassOver(to)) this.cycles.skip(to);
    }
  }

  /** What chatters may be passed over by whole cycles, but not where faults come and go. */
  private mayPassOver(to: number): boolean {
    return (
      this.circuit.controllers.length === 0 &&
      this.clocks.chattering.size > 0 &&
      to - this.present.t > SKIPPED_FROM &&
      !this.injected.anyComesAndGoes
    );
  }

  // ── what a person does ────────────────────────────────────────────────────────────────────────

  private act(stimulus: Stimulus): void {
    const { circuit, state, clocks } = this;
    if ('reset' in stimulus) this.thermal.renew(circuit.mechanismOf.get(stimulus.reset) ?? -1);
    const before = state.slice();
    clocks.forgetMoves();
    this.programs.forgetMoves();
    actOn(circuit, state, stimulus);
    this.noteChanges(before);
  }

  /**
   * A hand pushes an armature in where nothing locks it; where a terminal of its device is live that is an
   * incident.
   */
  private pushIn(tag: string): void {
    const { circuit, state, present } = this;
    const index = circuit.mechanismOf.get(tag);
    if (index === undefined) return;
    const partners = circuit.interlocks.filter((group) => group.includes(index)).flat();
    if (partners.some((other) => other !== index && isIn(state[other]!))) return;
    const isLive = circuit.terminals.some(
      (ref, k) =>
        splitRef(ref).tag === tag &&
        potentialOf(present.solver, present.electrical, k as TerminalIndex) > TOUCH_VOLTS,
    );
    if (isLive) this.trace.incident('pushed-in-live', [tag]);
    this.injected.hold(heldIn(tag), true);
  }

  /** A hand lets an armature go: its coil holds it from there on, or lets it fall. */
  private letOut(tag: string): void {
    const index = this.circuit.mechanismOf.get(tag);
    if (index === undefined) return;
    this.injected.hold(heldIn(tag), false);
    this.refit(index);
  }

  private set(target: string, to: number | string | boolean): void {
    const { circuit } = this;
    const { tag, name } = splitSetting(target);
    const shaft = this.rotating.list[circuit.motors.findIndex((motor) => motor.tag === tag)];
    if (shaft && typeof to === 'number') shaft.load = to;
    const index = circuit.mechanismOf.get(tag);
    if (index === undefined) return;
    this.thermal.set(index, name, to);
    if (typeof to === 'number') this.clocks.setDelay(index, to);
  }

  /** A hot overload relay does not reset; one that is broken does neither trip nor reset. */
  private can(stimulus: Stimulus): boolean {
    const verb = 'reset' in stimulus ? 'reset' : 'trip' in stimulus ? 'trip' : null;
    const tag = 'reset' in stimulus ? stimulus.reset : 'trip' in stimulus ? stimulus.trip : '';
    const index = this.circuit.mechanismOf.get(tag);
    if (verb === null || index === undefined || !isTripBar(this.circuit.mechanisms[index]!)) return true;
    if (isBlocked(this.circuit, index, verb)) return false;
    return verb === 'trip' || this.thermal.heatOf(index) < 1;
  }

  private elapse(tag: string): void {
    const index = this.circuit.mechanismOf.get(tag);
    if (index === undefined) return;
    // One that never runs out, or begins anew again and again, is waited for as long as it is set to.
    const patience = this.t + this.clocks.delayOf(index);
    const isRunning = () => isTiming(this.circuit.mechanisms[index]!, this.state[index]!);
    while (isRunning()) {
      this.advance(Math.min(this.clocks.deadline[index]!, patience));
      if (this.t >= patience) return;
    }
  }

  // ── reactions without time ────────────────────────────────────────────────────────────────────

  /** Shorts open what protects them; coils move their armatures; until nothing changes at this instant. */
  private settleReactions(): void {
    const { present, watch, state } = this;
    for (let round = 0; round < REACTIONS_LIMIT; round += 1) {
      this.refit();
      present.electrical = this.solver.at(state);
      const before = state.slice();
      if (isShorted(present.electrical)) watch.clearShort();
      else {
        watch.coilVoltages();
        this.moveArmatures();
      }
      this.programs.hold();
      this.noteChanges(before);
      if (before.every((value, k) => value === state[k])) break;
    }
    watch.loads();
    this.rotating.wake();
    this.refreshCurrents();
  }

  private noteChanges(before: MechanicalState): void {
    this.clocks.noteChanges(before);
    this.programs.note(before);
    this.injected.note(before, this.state, this.t);
  }

  /** Takes the circuit as it is now, where a fault has come or gone; one mechanism may stay where it is. */
  private refit(stays = -1): void {
    const { present, injected, state } = this;
    const { solver } = injected;
    if (solver === present.solver) return;
    const { circuit } = present.solver;
    this.rotating.cut();
    present.solver = solver;
    const before = state.slice();
    takeInitial(circuit, solver.circuit, state);
    if (stays >= 0) state[stays] = before[stays]!;
    this.clocks.refit(circuit);
    this.thermal.refit(solver);
    this.rotating.refit();
    this.cycles.forget();
    this.noteChanges(before);
  }

  private moveArmatures(): void {
    const { mechanisms } = this.circuit;
    // Of armatures that keep each other out the one that is named first starts.
    for (const named of this.present.order) this.ask(mechanisms[named]!);
    for (const mechanism of mechanisms) this.ask(mechanism);
  }

  /** Lets its coils move an armature or a timer. */
  private ask(mechanism: Mechanism): void {
    const { index, coils } = mechanism;
    if (coils.length === 0) return;
    const { circuit, state } = this;
    const now = state[index]!;
    const wants = coils.map((k) => this.wants(index, k));
    const next = react(mechanism, now, wants);
    if (next === now || this.clocks.mustWait(mechanism)) return;
    if (next === ARRIVING && isArmature(mechanism) && isHeldOut(circuit, state, index)) return;
    // One that is named among what arrives is carried in although its coil is lost on the way.
    if (now === ARRIVING && next === RETURNING && this.present.order.includes(index)) return;
    state[index] = next;
  }

  /** What a coil asks of its armature; one that is jammed stays where it is. */
  private wants(mechanism: MechanismIndex, k: number): boolean {
    const { circuit, state } = this;
    if (circuit.jammedIn.includes(mechanism)) return true;
    return !circuit.jammed.includes(mechanism) && coilWants(circuit, this.present.electrical, state, k);
  }

  // ── time ──────────────────────────────────────────────────────────────────────────────────────

  /** The next moment at which anything happens but the end of a shaft's step. */
  private next(): number {
    const next = Math.min(
      this.clocks.next,
      this.programs.next,
      this.thermal.next,
      this.watch.next,
      this.rotating.nextStall,
    );
    return this.injected.anyComesAndGoes ? Math.min(next, this.injected.next(this.t)) : next;
  }

  /** Lets time pass to a moment before which nothing happens. */
  private flowTo(to: number): void {
    this.thermal.advance(to - this.t);
    this.present.t = to;
    const follows = this.rotating.follow();
    if (follows === 'switch') this.settleReactions();
    else if (follows === 'currents') this.refreshCurrents();
  }

  /** Everything whose time has come, in the order of the bench; false where nothing was due. */
  private reachDeadlines(): boolean {
    const due = this.t + AT_ONCE;
    const before = this.state.slice();
    const arrived = this.clocks.reach(due);
    const scanned = this.programs.reach(due);
    const released = this.release(due);
    const burnt = this.watch.reach(due);
    const told = this.rotating.tellStalls(due, this.trace);
    const comes = this.injected.anyComesAndGoes && this.injected.reach(this.t, this.heatAt);
    if (!arrived && !scanned && !released && !burnt && !comes) return told;
    this.rotating.cut();
    this.noteChanges(before);
    this.settleReactions();
    return true;
  }

  /** Protections that release, and overload relays that reset by themselves. */
  private release(due: number): boolean {
    const { state } = this;
    const items = this.thermal.due(due);
    for (const { tag, mechanism, spec } of items) {
      if (spec.curve !== 'overload') this.watch.open(mechanism);
      else if (state[mechanism] === OPERATED) state[mechanism] = RETURNING;
      else {
        state[mechanism] = ARRIVING;
        this.trace.incident('overload-trip', [tag]);
      }
    }
    return items.length > 0;
  }

  /** Heat that a fault which waits for it feels: of the protection at its place, else of the hottest. */
  private readonly heatAt = (fault: Fault): number => {
    const { protections } = this.circuit;
    const own = protections.filter(({ tag }) => devicesOf(fault).includes(tag));
    return Math.max(
      0,
      ...(own.length > 0 ? own : protections).map(({ mechanism }) => this.thermal.heatOf(mechanism)),
    );
  };

  // ── currents and heat ─────────────────────────────────────────────────────────────────────────

  /** Line currents, what they heat, and stalls, at the present speeds. */
  private refreshCurrents(): void {
    const { present, rotating, solver, state } = this;
    if (this.mechanicsAlone || !rotating.takeStale()) return;
    const { slips } = rotating;
    const driven = present.electrical.motors.some((field) => field.driven !== 'none');
    const running = driven ? rotating.running() : present.electrical;
    const network = running.potentials.find(({ frequency }) => frequency > 0) ?? running.potentials[0];
    const draw = network ? terminalDraw(solver, state, running, network, slips) : null;
    this.thermal.refresh(state, draw, present.t);
    rotating.takeCurrents(running, draw);
  }
}

/**
 * Takes the fresh states that another circuit has otherwise: what is blown, lost or burnt in one of them.
 * Of a set of bits only what differs.
 */
function takeInitial(before: Circuit, after: Circuit, state: MechanicalState): void {
  after.mechanisms.forEach((mechanism, k) => {
    const [was, is] = [before.initial[k]!, after.initial[k]!];
    if (was === is) return;
    const differs = was ^ is;
    state[k] = isBitSet(mechanism) ? (state[k]! & ~differs) | (is & differs) : is;
  });
}
