import { useEffect, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import type { FloorBoard } from '@contactum/contract';
import { ask } from '../api/client.js';

/** The board of an attempt as it is wired now and what it must do, asked anew after each edit of its wiring. */
export const useBoard = (id: string, edits: number, enabled = true) =>
  useQuery({
    queryKey: ['floor-board', id, edits],
    queryFn: () => ask<FloorBoard>('GET', `/attempts/${id}/board`),
    placeholderData: (before) => before,
    staleTime: 2_000,
    enabled,
  });

/** Least time between two pictures of a board on a tile, milliseconds. */
const APART = 5_000;

/** A number that follows another one, now and then: a class lays more leads than pictures need to be made. */
export function useNowAndThen(value: number): number {
  const [shown, setShown] = useState(value);
  useEffect(() => {
    if (shown === value) return undefined;
    const timer = setTimeout(() => setShown(value), APART);
    return () => clearTimeout(timer);
  }, [value, shown]);
  return shown;
}
