import { useEffect, useState } from 'react';
import { referenceCircuitOf, type Exercise, type FaultEffect } from '@contactum/core';
import type { FaultsReport } from '@contactum/contract';

/** How far the faults of a board are worked out. */
export interface Effects {
  readonly part: number;
  readonly effects: readonly FaultEffect[] | null;
  readonly stop: () => void;
  readonly stopped: boolean;
}

/**
 * Every fault of an exercise's board with what it does, worked out in a thread; begun anew for another
 * exercise.
 */
export function useEffects(exercise: Exercise | undefined): Effects {
  const [state, setState] = useState<{ part: number; effects: readonly FaultEffect[] | null }>({
    part: 0,
    effects: null,
  });
  const [stopped, setStopped] = useState(false);
  useEffect(() => {
    setState({ part: 0, effects: null });
    setStopped(false);
  }, [exercise]);
  useEffect(() => {
    if (!exercise || stopped) return undefined;
    const worker = new Worker(new URL('../workers/faults.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FaultsReport>) =>
      setState(
        data.kind === 'done' ? { part: 1, effects: data.effects } : { part: data.part, effects: null },
      );
    worker.postMessage({ referenceCircuit: referenceCircuitOf(exercise) });
    return () => worker.terminate();
  }, [exercise, stopped]);
  return { ...state, stop: () => setStopped(true), stopped };
}
