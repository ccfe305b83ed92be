import type { Remote } from 'comlink';
import type { Exercise, Trial } from '@contactum/core';
import { bridgeTo, type Bridge } from '../workers/bridge.js';
import type { SetterThread } from '../workers/setter.worker.js';

let shared: Bridge<SetterThread> | null = null;

function open(onFailure?: () => void): Bridge<SetterThread> {
  const worker = new Worker(new URL('../workers/setter.worker.ts', import.meta.url), { type: 'module' });
  return bridgeTo(worker, onFailure);
}

/**
 * One question to the thread of the Setter, with its answer; what it cannot answer is thrown in its words. A
 * thread that has failed is replaced by the next question.
 */
export function askSetter<R>(question: (thread: Remote<SetterThread>) => Promise<R>): Promise<R> {
  shared ??= open(() => (shared = null));
  return shared.ask(question);
}

/** Most threads of a dry run: each holds the reference and what it is worked out to be. */
const MOST_THREADS = 4;

/**
 * A dry run in threads of its own, as many as there are processors; each takes the next wiring when it has
 * marked one. They end with the run, or when it is told to end: then nothing more is heard.
 */
export function followDryRun(
  { exercise, seed }: { readonly exercise: Exercise; readonly seed: number },
  hear: (trial: Trial, of: number) => void,
  done: (problem: string | null) => void,
): () => void {
  const first = open();
  const more = Math.min(MOST_THREADS, navigator.hardwareConcurrency || 1) - 1;
  const threads = [first, ...Array.from({ length: more }, () => open())];
  const over = new AbortController();
  const isOver = (): boolean => over.signal.aborted;
  const end = (): void => {
    if (isOver()) return;
    over.abort();
    for (const thread of threads) thread.end();
  };
  const finish = (problem: string | null): void => {
    if (isOver()) return;
    end();
    done(problem);
  };
  const deal = first
    .ask((thread) => thread.wirings(exercise, seed))
    .then((all) => ({ left: [...all], of: all.length }));
  // Where no thread comes to wait for it, another problem is told.
  deal.catch(() => undefined);
  const mark = async ({ ask }: Bridge<SetterThread>): Promise<void> => {
    await ask((thread) => thread.takeTrials(exercise));
    const { left, of } = await deal;
    for (let next = left.shift(); next && !isOver(); next = left.shift()) {
      const wiring = next;
      const trial = await ask((thread) => thread.mark(wiring));
      if (!isOver()) hear(trial, of);
    }
  };
  Promise.all(threads.map(mark)).then(
    () => finish(null),
    (error: unknown) => finish((error as Error).message),
  );
  return end;
}
