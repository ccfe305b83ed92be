import type { BenchThread } from './bench.worker.js';
import { bridgeTo, type Bridge } from './bridge.js';

/** Starts a thread that runs a bench, or proves wirings. */
export const startBenchThread = (onFailure?: (error: Error) => void): Bridge<BenchThread> =>
  bridgeTo<BenchThread>(
    new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }),
    onFailure,
  );
