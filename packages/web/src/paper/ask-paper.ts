import type { Bench, BenchSheet, DeadTestTable, Exercise } from '@contactum/core';
import type { PaperQuestion } from '../workers/paper.worker.js';

/** One question to a thread of its own, which ends with the answer or when nobody waits for it any more. */
function asked<T>(question: PaperQuestion, signal?: AbortSignal): Promise<T> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('../workers/paper.worker.ts', import.meta.url), { type: 'module' });
    const end = () => worker.terminate();
    signal?.addEventListener('abort', end);
    worker.onmessage = ({ data }: MessageEvent<T>) => {
      end();
      resolve(data);
    };
    worker.onerror = ({ message }) => {
      end();
      reject(new Error(message));
    };
    worker.postMessage(question);
  });
}

export const askTable = (bench: Bench, signal?: AbortSignal): Promise<DeadTestTable> =>
  asked({ kind: 'table', bench }, signal);

export const askSheet = (exercise: Exercise): Promise<BenchSheet> => asked({ kind: 'sheet', exercise });
