import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import type { Bench, SoFar } from '@contactum/core';
import type { ExerciseForStudent, FloorBoard } from '@contactum/contract';
import type { BenchThread } from '../workers/bench.worker.js';
import { startBenchThread } from '../workers/bench-thread.js';
import type { Bridge } from '../workers/bridge.js';
import type { Kit } from './use-workplace.js';

/** What is known of the wiring as it is. */
export interface LiveProof {
  /** Of the last wiring that was proved; null before the first. */
  readonly soFar: SoFar | null;
  /** Another wiring is being proved. */
  readonly isBehind: boolean;
  /** Why nothing is proved; null where it is. */
  readonly problem: string | null;
}

/** Leads that follow one another at once are proved once, ms. */
const PAUSE = 60;
/** How long the page stands before the thread is loaded, where nothing is wired before, ms. */
const SETTLED = 2500;

/** A thread that proves, while it is wanted. */
function useThread(isWanted: boolean): Bridge<BenchThread> | null {
  const [thread, setThread] = useState<Bridge<BenchThread> | null>(null);
  useEffect(() => {
    if (!isWanted) return undefined;
    const own = startBenchThread();
    setThread(own);
    return () => {
      setThread(null);
      own.end();
    };
  }, [isWanted]);
  return thread;
}

/** Proves a wiring whenever it changes, in a thread of its own; nothing while it is not wanted. */
export function useProofOf(
  bench: Bench | undefined,
  functions: FloorBoard['functions'],
  isWanted: boolean,
): LiveProof {
  const thread = useThread(isWanted);
  const [told, setTold] = useState<LiveProof>({ soFar: null, isBehind: true, problem: null });
  useEffect(() => {
    if (!thread || !bench) return undefined;
    let gone = false;
    setTold((before) => ({ ...before, isBehind: true }));
    const timer = setTimeout(() => {
      thread
        .ask((one) => one.soFar(bench, functions))
        .then(
          (soFar) => !gone && setTold({ soFar, isBehind: false, problem: null }),
          (error: unknown) =>
            !gone && setTold({ soFar: null, isBehind: false, problem: (error as Error).message }),
        );
    }, PAUSE);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [thread, bench, functions]);
  return told;
}

/** Proves the wiring of a student's bench after each lead, where the exercise tells it. */
export function useLiveProof({ store }: Kit, exercise: ExerciseForStudent): LiveProof | null {
  const bench = useStore(store, (state) => state.bench);
  const { tellsProof, behaviours } = exercise;
  const functions = useMemo(
    () => behaviours.flatMap(({ id, title, steps }) => (steps ? [{ id, title, steps }] : [])),
    [behaviours],
  );
  const [first] = useState(bench);
  const [isDue, setDue] = useState(false);
  const isChanged = bench !== first;
  // The board and its drawing come first; the proof with the first lead, or a moment after.
  useEffect(() => {
    if (isDue || !tellsProof) return undefined;
    const timer = setTimeout(() => setDue(true), isChanged ? 0 : SETTLED);
    return () => clearTimeout(timer);
  }, [isDue, isChanged, tellsProof]);
  const proof = useProofOf(bench, functions, tellsProof && isDue);
  return tellsProof ? proof : null;
}
