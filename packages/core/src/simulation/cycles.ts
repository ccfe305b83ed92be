import { STALL_SECONDS } from '../tolerances.js';
import type { Clocks } from './clocks.js';
import { NEVER, type Present } from './present.js';
import type { Shafts } from './shafts.js';
import type { Thermal } from './thermal.js';
import type { Watch } from './watch.js';

/**
 * Seconds of chatter that are worth passing over; how like two cycles must be: seconds, and per unit of
 * synchronous speed.
 */
export const SKIPPED_FROM = 2;
const SAME_CYCLE = 1e-7;
const STEADY_CYCLE = 1e-3;

/** A bench when what chatters begins a cycle. */
interface Cycle {
  readonly t: number;
  readonly key: string;
  readonly clocks: readonly number[];
  readonly speeds: readonly number[];
  readonly heats: readonly (readonly number[])[];
}

/**
 * What chatters does the same over and over: whole cycles that change nothing but heat are passed over at
 * once.
 */
export class Cycles {
  private last: Cycle | null = null;

  constructor(
    private readonly present: Present,
    private readonly clocks: Clocks,
    private readonly watch: Watch,
    private readonly shafts: Shafts,
    private readonly thermal: Thermal,
  ) {}

  /** The circuit is another: no cycle is like one before. */
  forget(): void {
    this.last = null;
  }

  /** Passes over whole cycles towards a moment, where one like the last has just ended. */
  skip(to: number): void {
    const { clocks, present, last: before } = this;
    const { t } = present;
    const [leader] = clocks.chattering;
    if (leader === undefined || clocks.moves[leader]?.at(-1) !== t || before?.t === t) return;
    const now = this.now();
    this.last = now;
    if (before?.key !== now.key) return;
    const period = t - before.t;
    if (period <= 0 || !this.isLike(before, now, period)) return;
    const far = now.clocks.filter((at, k) => at === before.clocks[k] && at !== NEVER);
    const times = Math.min(
      Math.floor((Math.min(to, ...far) - t) / period) - 1,
      this.thermal.repeatable(before.heats, period, present.state, t),
    );
    if (times < 1) return;
    this.postpone(period * times, far);
    this.thermal.repeat(before.heats, period, times);
    present.t = t + period * times;
    this.last = null;
  }

  private now(): Cycle {
    const { clocks, shafts } = this;
    return {
      t: this.present.t,
      key: this.present.state.join(),
      clocks: [
        ...clocks.deadline,
        ...clocks.again,
        ...this.watch.burns,
        ...shafts.list.map(({ stalledSince }) => stalledSince + STALL_SECONDS),
      ],
      speeds: shafts.list.map(({ speed }) => speed),
      heats: this.thermal.heats,
    };
  }

  /** Every clock has moved on by one period or not at all, and every shaft turns as it did. */
  private isLike(before: Cycle, now: Cycle, period: number): boolean {
    return (
      now.clocks.every(
        (at, k) => at === before.clocks[k] || Math.abs(at - before.clocks[k]! - period) < SAME_CYCLE,
      ) &&
      now.speeds.every(
        (speed, k) =>
          Math.abs(speed - before.speeds[k]!) <= STEADY_CYCLE * this.shafts.machines[k]!.synchronous,
      )
    );
  }

  /** Puts off everything but what comes at a set moment. */
  private postpone(later: number, far: readonly number[]): void {
    const { clocks, shafts } = this;
    const moved = (at: number) => (at !== NEVER && !far.includes(at) ? at + later : at);
    for (const list of [clocks.deadline, clocks.again, this.watch.burns])
      list.forEach((at, k) => (list[k] = moved(at)));
    for (const shaft of shafts.list)
      if (!far.includes(shaft.stalledSince + STALL_SECONDS)) shaft.stalledSince += later;
    for (const list of clocks.moves) list.forEach((at, k) => (list[k] = at + later));
    shafts.postpone(later);
  }
}
