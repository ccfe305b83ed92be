import { useEffect, useState } from 'react';
import { isAsked } from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { useScanners } from '../api/queries.js';
import { PhysicalBoard } from './physical-board.js';
import type { Kit } from './use-workplace.js';

/** The physical board of an attempt, where one is connected; null for what no board has. */
export function usePhysical(
  { store, live }: Kit,
  view: AttemptView,
  isLeading: boolean,
): PhysicalBoard | null {
  const [board] = useState(() => new PhysicalBoard(store, () => live.store.getState().supplyOn));
  const { data } = useScanners();
  const attemptId = view.attempt.id;
  const own = data?.find(({ usedBy }) => usedBy?.attemptId === attemptId);
  useEffect(() => {
    if (isLeading && own && board.store.getState().id !== own.id) board.follow(own.id, own.name);
  }, [board, own, isLeading]);
  useEffect(() => () => board.close(), [board]);
  useEffect(
    () =>
      live.store.subscribe(({ supplyOn }, { supplyOn: before }) => {
        if (before && !supplyOn) board.look();
      }),
    [board, live],
  );
  return data !== undefined && data.length > 0 && isLeading && !isAsked(view.exercise) ? board : null;
}
