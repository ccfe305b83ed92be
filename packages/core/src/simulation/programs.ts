import {
  isUnseen,
  isUnwritten,
  isUp,
  nowWritten,
  runOut,
  type Controller,
  type MechanicalState,
} from '../circuit/index.js';
import { PROGRAM_STATES } from '../program/index.js';
import type { Clocks } from './clocks.js';
import { CHATTER_MOVES, SETTLE_LIMIT } from '../tolerances.js';
import { NEVER, type Present } from './present.js';
import type { Trace } from './trace.js';

const { there: THERE, seen: SEEN } = PROGRAM_STATES.input;
const { bit: BIT } = PROGRAM_STATES.output;

/** Rounding of a moment, and of a number of scans. */
const AT_ONCE = 1e-9;
const ROUNDING = 1e-6;

/** A controller in time. */
interface Item {
  /** When its program began to run; NEVER while it does not. */
  since: number;
  /** Scans that have ended since then. */
  done: number;
  /** The last scan changed something, so the next one may. */
  due: boolean;
  /** Scans one after another that changed something. */
  restless: number;
  /**
   * By output: how often it has changed place since a person acted, or since a scan that could make no
   * difference. A lead from an output to an input lets every second scan wait for the filter.
   */
  readonly moves: Uint8Array;
  /**
   * By input: what its filter lets through (as the bit of what is there), and since when the other is
   * there.
   */
  readonly filtered: Uint8Array;
  readonly changed: Float64Array;
}

/**
 * Programs in time: a scan begins every so many seconds after its program began to run, reads the inputs
 * through their filters and works the rungs; what it writes stands at the outputs when it ends, as the next
 * one begins. Only those scans are worked that can make a difference: what comes out is as if all were.
 */
export class Programs {
  private readonly items: readonly Item[];
  /** Inputs and outputs that an instructor holds on or off, whatever is wired or written, by mechanism. */
  private readonly forced = new Map<number, boolean>();

  constructor(
    private readonly present: Present,
    private readonly clocks: Clocks,
    private readonly trace: Trace,
  ) {
    const { state, t } = this.present;
    this.items = this.controllers.map((one) => ({
      since: one.isRunning(state) ? t : NEVER,
      done: 0,
      due: true,
      restless: 0,
      moves: new Uint8Array(one.outputs.length),
      filtered: Uint8Array.from(one.inputs, (k) => ((state[k]! & SEEN) === 0 ? 0 : THERE)),
      changed: new Float64Array(one.inputs.length).fill(t),
    }));
  }

  private get controllers(): readonly Controller[] {
    return this.present.solver.circuit.controllers;
  }

  /** The end of the next scan that can make a difference; NEVER while nothing does. */
  get next(): number {
    return this.items.reduce(
      (next, item, c) => Math.min(next, this.nextOf(item, this.controllers[c]!)),
      NEVER,
    );
  }

  private nextOf(item: Item, { scan, inputs, outputs, timers }: Controller): number {
    if (item.since === NEVER) return NEVER;
    const { state, t } = this.present;
    const isPending =
      item.due ||
      inputs.some((k, n) => this.isPending(k, state[k]!, item.filtered[n] !== 0)) ||
      outputs.some((k) => isUnwritten(state[k]!)) ||
      timers.some((k) => isUp(state[k]!));
    if (!isPending) return NEVER;
    const index = Math.max(item.done + 1, Math.ceil((t - item.since) / scan - ROUNDING));
    return item.since + index * scan;
  }

  /** True of an input that the program does not see yet as it will. */
  private isPending(k: number, input: number, passed: boolean): boolean {
    const held = this.forced.get(k);
    const isSeen = (input & SEEN) !== 0;
    return held === undefined ? isUnseen(input) || passed !== isSeen : held !== isSeen;
  }

  /** Holds an input or output on or off from the next scan on; with null it is as it was before. */
  force(k: number, value: boolean | null): void {
    if (value === null) this.forced.delete(k);
    else this.forced.set(k, value);
    for (const item of this.items) item.due = true;
  }

  /** What moves because a person acts again is not chatter. */
  forgetMoves(): void {
    for (const { moves } of this.items) moves.fill(0);
  }

  /** Takes what has changed at this moment at the inputs. */
  note(before: MechanicalState): void {
    const { state, t } = this.present;
    this.items.forEach((item, c) => {
      const { inputs, filter } = this.controllers[c]!;
      inputs.forEach((k, n) => {
        if (((before[k]! ^ state[k]!) & THERE) === 0) return;
        this.pass(item, n, before[k]!, filter);
        item.changed[n] = t;
      });
    });
  }

  /** Lets an input through its filter where it has been there long enough. */
  private pass({ filtered, changed }: Item, n: number, input: number, filter: number): void {
    if (this.present.t >= changed[n]! + filter - AT_ONCE) filtered[n] = input & THERE;
  }

  /** Programs begin to run as their device has its supply, and stop at once without. */
  hold(): void {
    const { state, t } = this.present;
    this.items.forEach((item, c) => {
      const controller = this.controllers[c]!;
      if (!controller.isRunning(state)) {
        controller.stop(state);
        item.since = NEVER;
      } else if (item.since === NEVER) {
        Object.assign(item, { since: t, done: 0, due: true, restless: 0 });
        item.moves.fill(0);
        controller.inputs.forEach((k, n) => (item.filtered[n] = (state[k]! & SEEN) === 0 ? 0 : THERE));
      }
    });
  }

  /** Ends and begins the scans whose time has come; true where anything has changed. */
  reach(due: number): boolean {
    let changed = false;
    this.items.forEach((item, c) => {
      const controller = this.controllers[c]!;
      if (this.nextOf(item, controller) > due) return;
      const now = Math.round((this.present.t - item.since) / controller.scan);
      if (now > item.done + 1) item.moves.fill(0);
      item.done = now;
      if (this.work(item, controller)) changed = true;
    });
    return changed;
  }

  private work(item: Item, controller: Controller): boolean {
    const { present, clocks } = this;
    const { state, t } = present;
    const before = controller.members.map((k) => state[k]!);
    controller.outputs.forEach((k, n) => {
      if (isUnwritten(state[k]!) && item.moves[n]! < CHATTER_MOVES) item.moves[n]! += 1;
      state[k] = nowWritten(state[k]!);
    });
    for (const k of controller.timers)
      if (clocks.deadline[k]! <= t + ROUNDING) state[k] = runOut(present.solver.circuit.mechanisms[k]!);
    controller.inputs.forEach((k, n) => {
      this.pass(item, n, state[k]!, controller.filter);
      const isOn = this.forced.get(k) ?? item.filtered[n] !== 0;
      state[k] = (state[k]! & THERE) | (isOn ? SEEN : 0);
    });
    const read = controller.members.map((k) => state[k]!);
    controller.work(state);
    for (const k of controller.outputs) {
      const held = this.forced.get(k);
      if (held !== undefined) state[k] = (state[k]! & ~BIT) | (held ? BIT : 0);
    }
    item.due = controller.members.some((k, n) => state[k] !== read[n]);
    item.restless = item.due ? item.restless + 1 : 0;
    const chatters =
      item.restless * controller.scan >= SETTLE_LIMIT || item.moves.some((moves) => moves >= CHATTER_MOVES);
    if (this.trace.begins(`${controller.tag} chatters`, chatters))
      this.trace.incident('chatter', [controller.tag]);
    return controller.members.some((k, n) => state[k] !== before[n]);
  }
}
