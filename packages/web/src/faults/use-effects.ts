import { useEffect, useState } from 'react';
import {
  referenceCircuitOf,
  type Exercise,
  type Fault,
  type FaultEffect,
  type FaultStory,
} from '@contactum/core';
import { bridgeTo, heard } from '../workers/bridge.js';
import type { FaultsThread } from '../workers/faults.worker.js';

interface State {
  readonly part: number;
  readonly effects: readonly FaultEffect[] | null;
  /** Why they cannot be worked out; null while they can. */
  readonly problem: string | null;
}

/** How far the faults of a board are worked out. */
export interface Effects extends State {
  readonly stop: () => void;
  readonly stopped: boolean;
}

const faultsThread = () =>
  bridgeTo<FaultsThread>(
    new Worker(new URL('../workers/faults.worker.ts', import.meta.url), { type: 'module' }),
  );

const BEGUN: State = { part: 0, effects: null, problem: null };

/**
 * Every fault of an exercise's board with what it does, worked out in a thread; begun anew for another
 * exercise.
 */
export function useEffects(exercise: Exercise | undefined): Effects {
  const [state, setState] = useState<State>(BEGUN);
  const [stopped, setStopped] = useState(false);
  useEffect(() => {
    setState(BEGUN);
    setStopped(false);
  }, [exercise]);
  useEffect(() => {
    if (!exercise || stopped) return undefined;
    const { ask, end } = faultsThread();
    const hear = heard((part: number) => setState({ ...BEGUN, part }));
    ask((thread) => thread.effects(referenceCircuitOf(exercise), hear)).then(
      (effects) => setState({ part: 1, effects, problem: null }),
      (error: unknown) => setState({ ...BEGUN, problem: (error as Error).message }),
    );
    return end;
  }, [exercise, stopped]);
  return { ...state, stop: () => setStopped(true), stopped };
}

/** Where a fault of an exercise's board is, and what it changes; null until it is worked out. */
export function useStory(exercise: Exercise, fault: Fault): FaultStory | null {
  const [told, setTold] = useState<{ readonly fault: Fault; readonly story: FaultStory } | null>(null);
  useEffect(() => {
    const { ask, end } = faultsThread();
    ask((thread) => thread.story(referenceCircuitOf(exercise), fault)).then(
      (story) => setTold({ fault, story }),
      // Its effects in short are shown beside it.
      () => undefined,
    );
    return end;
  }, [exercise, fault]);
  return told?.fault === fault ? told.story : null;
}
