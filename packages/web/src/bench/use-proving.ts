import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { Proving, type Stimulus } from '@contactum/core';
import type { ExerciseForStudent } from '@contactum/contract';
import type { Act } from '../board/Handle.js';
import type { LiveBench } from './live.js';
import type { Kit } from './use-workplace.js';

/** What was shown of a board, and the hand by which it is worked. */
interface Proved {
  readonly shown: ReadonlySet<string>;
  readonly act: Act;
  readonly isTold: boolean;
}

/**
 * Functions that the board has shown since its wiring was last changed; the hand that works it tells each
 * act.
 */
export function useProving({ store, live }: Kit, { behaviours }: ExerciseForStudent, act: Act): Proved {
  const wires = useStore(store, (state) => state.bench.wires);
  return useProvingOf(live, behaviours, act, wires);
}

/** The same of any running bench; what was shown counts no more once `since` is another. */
export function useProvingOf(
  live: LiveBench,
  behaviours: ExerciseForStudent['behaviours'],
  act: Act,
  since: unknown,
): Proved {
  const told = useMemo(
    () => behaviours.flatMap(({ id, steps }) => (steps ? [{ id, steps }] : [])),
    [behaviours],
  );
  const proving = useMemo(() => new Proving(told), [told]);
  const [shown, setShown] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    proving.restart();
    setShown(new Set());
  }, [proving, since]);
  useEffect(() => {
    let last: object | null = null;
    return live.store.subscribe(({ frame, shape }) => {
      if (!frame || !shape || frame === last) return;
      last = frame;
      if (proving.perceive(frame, shape)) setShown(proving.shown);
    });
  }, [live, proving]);
  const watched = useMemo(
    () => ({
      ...act,
      give: (stimulus: Stimulus) => {
        proving.act(stimulus);
        act.give(stimulus);
      },
    }),
    [act, proving],
  );
  return { shown, act: watched, isTold: told.length > 0 };
}
