import type { Remote } from 'comlink';
import type { Exercise, Trial } from '@contactum/core';
import { bridgeTo, heard, type Bridge } from '../workers/bridge.js';
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

/** A dry run in a thread of its own, which ends when it is told to. */
export function followDryRun(
  { exercise, seed }: { readonly exercise: Exercise; readonly seed: number },
  hear: (trial: Trial, of: number) => void,
  done: (problem: string | null) => void,
): () => void {
  const { ask, end } = open();
  ask((thread) => thread.dryRun(exercise, seed, heard(hear))).then(
    () => done(null),
    (error: unknown) => done((error as Error).message),
  );
  return end;
}
