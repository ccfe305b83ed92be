import type { Bench, BenchSheet, DeadTestTable, Exercise } from '@contactum/core';
import type { Remote } from 'comlink';
import { bridgeTo } from '../workers/bridge.js';
import type { PaperThread } from '../workers/paper.worker.js';

/** One question to a thread of its own, which ends with the answer or when nobody waits for it any more. */
async function asked<R>(
  question: (thread: Remote<PaperThread>) => Promise<R>,
  signal?: AbortSignal,
): Promise<R> {
  const { ask, end } = bridgeTo<PaperThread>(
    new Worker(new URL('../workers/paper.worker.ts', import.meta.url), { type: 'module' }),
  );
  signal?.addEventListener('abort', end);
  try {
    return await ask(question);
  } finally {
    signal?.removeEventListener('abort', end);
    if (!signal?.aborted) end();
  }
}

export const askTable = (bench: Bench, signal?: AbortSignal): Promise<DeadTestTable> =>
  asked((thread) => thread.table(bench), signal);

export const askSheet = (exercise: Exercise): Promise<BenchSheet> =>
  asked((thread) => thread.sheet(exercise));
