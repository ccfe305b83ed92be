import { ARRIVING, LETTING_GO, RETURNING } from '../catalogue/index.js';
import {
  isArmature,
  isClockwork,
  secondsSet,
  arrive,
  isBlocked,
  isMoving,
  isTiming,
  runOut,
  stateName,
  toldAs,
  type Circuit,
  type Mechanism,
  type MechanicalState,
} from '../circuit/index.js';
import { CHATTER_MOVES, SETTLE_LIMIT, TRAVEL } from '../tolerances.js';
import { travelTime } from './motion.js';
import { NEVER, type Present } from './present.js';
import type { Trace } from './trace.js';

/** Time between two arrivals of which one is held back until the other has come, seconds. */
const ORDER_GAP = 1e-5;
/** Turns at one instant after which a timer waits before it answers its coil again. */
const TURNS_AT_ONCE = 2;

/** When each mechanism arrives or runs out, in which order, and which of them chatter. */
export class Clocks {
  /** By mechanism, seconds. */
  readonly deadline: Float64Array;
  /** By timer: when it may answer its coil again after it has turned too often at one instant. */
  readonly again: Float64Array;
  /** By mechanism: when its armature has lately begun a move. */
  readonly moves: number[][];
  /** Mechanisms that chatter, as was told. */
  readonly chattering = new Set<number>();
  private readonly delays: number[];
  private readonly turns: { t: number; count: number }[];

  constructor(
    private readonly present: Present,
    private readonly trace: Trace,
  ) {
    const { mechanisms } = this.circuit;
    this.deadline = new Float64Array(mechanisms.length).fill(NEVER);
    this.again = new Float64Array(mechanisms.length).fill(NEVER);
    this.moves = mechanisms.map(() => []);
    this.turns = mechanisms.map(() => ({ t: -1, count: 0 }));
    this.delays = mechanisms.map((mechanism) => secondsSet(mechanism) ?? 0);
  }

  private get circuit(): Circuit {
    return this.present.solver.circuit;
  }

  /**
   * The circuit is another from now on: timers that it sets otherwise, or that no longer run out, or do
   * again.
   */
  refit(before: Circuit): void {
    this.circuit.mechanisms.forEach((mechanism, k) => {
      const seconds = secondsSet(mechanism);
      if (seconds === null) return;
      if (seconds !== secondsSet(before.mechanisms[k]!)) this.delays[k] = seconds;
      if (isBlocked(before, k, 'run-out') === isBlocked(this.circuit, k, 'run-out')) return;
      if (isTiming(mechanism, this.present.state[k]!)) this.deadline[k] = this.runsOutAt(k);
    });
  }

  /** Seconds for which a timer is set to run. */
  delayOf(mechanism: number): number {
    return this.delays[mechanism]!;
  }

  private runsOutAt(timer: number): number {
    return isBlocked(this.circuit, timer, 'run-out') ? NEVER : this.present.t + this.delays[timer]!;
  }

  setDelay(mechanism: number, seconds: number): void {
    const timer = this.circuit.mechanisms[mechanism];
    if (timer && secondsSet(timer) !== null) this.delays[mechanism] = seconds;
  }

  /** The moment of the next arrival; Infinity where nothing is on its way. */
  get next(): number {
    let next = NEVER;
    for (const at of this.deadline) if (at < next) next = at;
    for (const at of this.again) if (at < next) next = at;
    return next;
  }

  get anythingMoving(): boolean {
    return this.circuit.mechanisms.some(
      (mechanism, k) => isMoving(mechanism, this.present.state[k]!) || this.again[k] !== NEVER,
    );
  }

  /** True while this armature changes place too often to be called in or out. */
  isChattering(mechanism: number): boolean {
    const recent = this.moves[mechanism]?.filter((t) => t > this.present.t - SETTLE_LIMIT - 1e-9) ?? [];
    return recent.length >= CHATTER_MOVES;
  }

  /** What moves because a person acts again is not chatter. */
  forgetMoves(): void {
    for (const list of this.moves) list.length = 0;
    this.chattering.clear();
  }

  /** A timer whose own contacts cut its coil at one instant answers again after the travel of its relay. */
  mustWait(mechanism: Mechanism): boolean {
    if (!isClockwork(mechanism)) return false;
    const { index } = mechanism;
    if (this.again[index] !== NEVER) return true;
    const { t } = this.present;
    const turn = this.turns[index]!;
    if (turn.t !== t) Object.assign(turn, { t, count: 0 });
    turn.count += 1;
    if (turn.count <= TURNS_AT_ONCE) return false;
    this.again[index] = t + TRAVEL.pullIn;
    return true;
  }

  /**
   * Gives every mechanism that changed its state the moment at which it will arrive, and writes the trace.
   */
  noteChanges(before: MechanicalState): void {
    const { state } = this.present;
    this.circuit.mechanisms.forEach((mechanism, k) => {
      const now = state[k]!;
      if (now === before[k]) return;
      this.deadline[k] = this.arrivalOf(mechanism, now, before[k]!);
      const begins = isArmature(mechanism)
        ? now === ARRIVING || now === RETURNING
        : isClockwork(mechanism) && isTiming(mechanism, now);
      if (begins) this.noteMove(k, mechanism);
      const name = stateName(mechanism, now);
      if (name !== null && name !== stateName(mechanism, before[k]!) && !this.chattering.has(k))
        this.trace.note(toldAs(mechanism), name);
    });
  }

  private arrivalOf(mechanism: Mechanism, now: number, before: number): number {
    const { t } = this.present;
    const { index } = mechanism;
    if (isMoving(mechanism, now))
      return t + travelTime(mechanism, { now, before, left: this.deadline[index]! - t });
    return isTiming(mechanism, now) ? this.runsOutAt(index) : NEVER;
  }

  private noteMove(k: number, { device }: Mechanism): void {
    const { t } = this.present;
    const recent = this.moves[k]!.slice(1 - CHATTER_MOVES).filter((at) => at > t - SETTLE_LIMIT);
    recent.push(t);
    this.moves[k] = recent;
    if (recent.length < CHATTER_MOVES) {
      this.chattering.delete(k);
      return;
    }
    if (this.chattering.has(k)) return;
    this.chattering.add(k);
    this.trace.incident('chatter', [device.tag]);
    this.trace.note(device.tag, 'chattering');
  }

  /**
   * Keeps the order of arrival: of what is named, the next one arrives before the rest of it; and an
   * armature never arrives while another one that lets go has not parted, since the lag of the one is
   * shorter than the travel of the other.
   */
  arrange(): void {
    const { deadline } = this;
    const [head] = this.present.order;
    if (head !== undefined && this.isUnderWay(head)) this.holdBehind(head);
    let parted = -1;
    for (const { index: k } of this.circuit.mechanisms)
      if (this.isArmature(k, LETTING_GO)) parted = Math.max(parted, deadline[k]!);
    if (parted < 0) return;
    for (const { index: k } of this.circuit.mechanisms)
      if (this.isArmature(k, ARRIVING) && deadline[k]! <= parted) deadline[k] = parted + ORDER_GAP * (1 + k);
  }

  private isUnderWay(k: number): boolean {
    return isMoving(this.circuit.mechanisms[k]!, this.present.state[k]!);
  }

  private isArmature(k: number, doing: number): boolean {
    return this.present.state[k] === doing && isArmature(this.circuit.mechanisms[k]!);
  }

  private holdBehind(head: number): void {
    const { deadline } = this;
    const at = deadline[head]!;
    const held = [...new Set(this.present.order)].filter(
      (k) =>
        k !== head &&
        this.isUnderWay(k) &&
        deadline[k]! <= at &&
        !(this.isArmature(head, ARRIVING) && this.isArmature(k, LETTING_GO)),
    );
    const shift = at - Math.min(...held.map((k) => deadline[k]!)) + ORDER_GAP;
    for (const k of held) deadline[k]! += shift;
  }

  /**
   * Lets everything arrive or run out whose time has come, in the order of the bench; false where nothing
   * was due.
   */
  reach(due: number): boolean {
    const { present, deadline, again } = this;
    let changed = false;
    this.circuit.mechanisms.forEach((mechanism, k) => {
      if (again[k]! <= due) {
        again[k] = NEVER;
        changed = true;
      }
      if (deadline[k]! > due) return;
      const now = present.state[k]!;
      // A timer that runs out only begins to change its contacts over.
      const place = isTiming(mechanism, now) ? -1 : present.order.indexOf(k);
      if (place >= 0) present.order.splice(place, 1);
      present.state[k] = isTiming(mechanism, now) ? runOut(mechanism) : arrive(mechanism, now);
      deadline[k] = NEVER;
      changed = true;
    });
    return changed;
  }
}
