import { Piscina } from 'piscina';
import type { Exercise, Readiness } from '@contactum/core';

/** What a thread that marks and searches runs. */
export interface Worker {
  readonly url: URL;
  readonly arguments?: readonly string[];
}

/** A number of threads that stay; or one that comes when it is needed, and goes when it has not been for half a minute. */
export function openThreads<Task, Answer>(worker: Worker, staying = 0): Piscina<Task, Answer> {
  return new Piscina<Task, Answer>({
    filename: worker.url.href,
    minThreads: staying,
    maxThreads: Math.max(1, staying),
    ...(staying === 0 ? { idleTimeout: 30_000 } : {}),
    execArgv: [...process.execArgv, ...(worker.arguments ?? [])],
  });
}

/** Looks, in a thread, whether an exercise's reference stands up to what it asks. */
export type Judge = (exercise: Exercise) => Promise<Readiness>;

export const judgeIn =
  (threads: Piscina): Judge =>
  (exercise) =>
    threads.run({ exercise }, { name: 'ready' }) as Promise<Readiness>;
