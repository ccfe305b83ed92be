import { Piscina } from 'piscina';
import type { Exercise, Readiness } from '@contactum/core';
import type { MarkingCost } from '@contactum/contract';
import { Refusal } from './refusal.js';

/** What a thread that marks and searches runs. */
export interface Worker {
  readonly url: URL;
  readonly arguments?: readonly string[];
}

/**
 * A task that did not end in its time, or wanted more memory than it may have: its thread was ended for it.
 */
export class TooMuch extends Refusal {
  constructor(readonly limit: string) {
    super(
      'too-large',
      `The computation was ended: it took more than ${limit}. This board is too large for it.`,
    );
  }
}

export interface LaneOptions {
  readonly worker: Worker;
  /**
   * Threads that stay; with none there is one that comes when it is needed and goes when it has not been
   * for half a minute.
   */
  readonly staying?: number;
  /** Longest time of a task from its turn, seconds. */
  readonly seconds: number;
  /** Most memory of a thread. */
  readonly megabytes?: number;
}

/** Memory of a thread where nothing else is said: of what ships, the largest board needs a tenth of it. */
const MEGABYTES = 1_000;

/**
 * Threads for one kind of work: each task has its turn and its time, and what takes longer holds up nobody
 * after that.
 */
export class Lane<Task, Answer> {
  private readonly pool: Piscina<Task, Answer>;
  private readonly seconds: number;
  private readonly megabytes: number;
  /** By whose they are, in the order of their turns: one who asks much waits behind everybody's first. */
  private readonly waiting = new Map<string, (() => void)[]>();
  private free: number;

  constructor({ worker, staying = 0, seconds, megabytes = MEGABYTES }: LaneOptions) {
    this.seconds = seconds;
    this.megabytes = megabytes;
    this.free = Math.max(1, staying);
    this.pool = new Piscina<Task, Answer>({
      filename: worker.url.href,
      minThreads: staying,
      maxThreads: this.free,
      ...(staying === 0 ? { idleTimeout: 30_000 } : {}),
      resourceLimits: { maxOldGenerationSizeMb: megabytes },
      execArgv: [...process.execArgv, ...(worker.arguments ?? [])],
    });
  }

  /**
   * Runs a function of the worker, for somebody; rejects with `TooMuch` where it does not end within its
   * limits.
   */
  async run<T = Answer>(task: unknown, name?: string, who = ''): Promise<T> {
    if (this.free > 0) this.free -= 1;
    else await new Promise<void>((resolve) => this.wait(who, resolve));
    const signal = AbortSignal.timeout(this.seconds * 1000);
    try {
      return (await this.pool.run(task as Task, { signal, ...(name === undefined ? {} : { name }) })) as T;
    } catch (error) {
      if (signal.aborted) throw new TooMuch(`${this.seconds} seconds`);
      if ((error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new TooMuch(`${this.megabytes} MB`);
      throw error;
    } finally {
      const next = this.nextWaiting();
      if (next) next();
      else this.free += 1;
    }
  }

  private wait(who: string, go: () => void): void {
    const own = this.waiting.get(who);
    if (own) own.push(go);
    else this.waiting.set(who, [go]);
  }

  /** The first of whose turn it is; whoever has more waits behind the others again. */
  private nextWaiting(): (() => void) | undefined {
    const [turn] = this.waiting;
    if (!turn) return undefined;
    const [who, own] = turn;
    this.waiting.delete(who);
    const [next, ...more] = own;
    if (more.length > 0) this.waiting.set(who, more);
    return next;
  }

  destroy(): Promise<void> {
    return this.pool.destroy();
  }
}

/** Looks, in a thread, whether an exercise's reference stands up to what it asks. */
export type Judge = (exercise: Exercise) => Promise<Readiness>;

export const judgeIn =
  (lane: Lane<unknown, unknown>): Judge =>
  (exercise) =>
    lane.run<Readiness>({ exercise }, 'ready');

/** What marking takes, in a thread of its own and within the limits of marking. */
export type CostIn = (exercise: Exercise) => Promise<MarkingCost>;

export const costIn =
  (lane: Lane<unknown, unknown>, most: number): CostIn =>
  async (exercise) => {
    try {
      return { seconds: await lane.run<number>({ exercise }, 'cost'), most };
    } catch (error) {
      if (error instanceof TooMuch) return { seconds: null, most };
      throw error;
    }
  };
