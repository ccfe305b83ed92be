import { proxy, releaseProxy, wrap, type Remote } from 'comlink';

/** A thread of the page that is asked by calling it. */
export interface Bridge<T> {
  /** What is asked, with its answer; rejects where the thread throws, or could not be started at all. */
  readonly ask: <R>(question: (thread: Remote<T>) => R | Promise<R>) => Promise<R>;
  /** Ends the thread; whoever waits for it waits in vain. */
  readonly end: () => void;
}

/**
 * Speaks to a thread by the functions that it exposes. What it throws while it is asked rejects the question
 * (Comlink); what happens to it otherwise, its file that cannot be loaded or an error in a timer of its own,
 * rejects every question and is told to `onFailure`.
 */
export function bridgeTo<T>(worker: Worker, onFailure?: (error: Error) => void): Bridge<T> {
  const thread = wrap<T>(worker);
  let fail: (error: Error) => void = () => undefined;
  const failed = new Promise<never>((_, reject) => (fail = reject));
  failed.catch((error: unknown) => onFailure?.(error as Error));
  worker.addEventListener('error', ({ message }) =>
    fail(new Error(message || 'A part of this page could not be loaded. Load the page again.')),
  );
  worker.addEventListener('messageerror', () => fail(new Error('An answer could not be read.')));
  return {
    ask: (question) => Promise.race([Promise.resolve(question(thread)), failed]),
    end: () => {
      thread[releaseProxy]();
      worker.terminate();
    },
  };
}

/** A function that a thread may call, and wait for. */
export const heard = <A extends unknown[]>(hear: (...answer: A) => void): ((...answer: A) => Promise<void>) =>
  proxy((...answer: A) => {
    hear(...answer);
    return Promise.resolve();
  });
