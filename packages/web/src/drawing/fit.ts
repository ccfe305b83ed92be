import { useEffect, useState, type RefObject } from 'react';
import type { Drawing, Sheet } from '@contactum/core';

/** How a drawing stands in its room: all of it, as wide as the room, or one of its circuits. */
export type Fit = 'whole' | 'width' | Sheet['circuit'];

/** How large the sheets of a drawing are shown, and whether side by side or one below another. */
export interface Fitted {
  readonly scale: number;
  readonly isRow: boolean;
}

const GAP = 24;
const EDGE = 12;
/** No drawing is shown larger than this: a small circuit is no poster. */
const LARGEST = 1.6;

/** The largest scale at which some sheets stand in a room, in the better of two arrangements. */
export function fitted(
  sizes: readonly (readonly [number, number])[],
  room: readonly [number, number],
  fit: Fit,
): Fitted {
  const [width, height] = [room[0] - EDGE, room[1] - EDGE];
  const gaps = GAP * (sizes.length - 1);
  const sum = (k: 0 | 1) => sizes.reduce((all, size) => all + size[k], 0);
  const most = (k: 0 | 1) => Math.max(1, ...sizes.map((size) => size[k]));
  const row = (width - gaps) / Math.max(1, sum(0));
  const column = width / most(0);
  if (fit === 'width') return { scale: Math.min(LARGEST, column), isRow: false };
  const inRow = Math.min(row, height / most(1));
  const inColumn = Math.min(column, (height - gaps) / Math.max(1, sum(1)));
  return { scale: Math.max(0.1, Math.min(LARGEST, Math.max(inRow, inColumn))), isRow: inRow >= inColumn };
}

/** The sheets that are shown. */
export const sheetsIn = ({ sheets }: Drawing, fit: Fit): readonly Sheet[] => {
  const chosen = sheets.filter(({ circuit }) => circuit === fit);
  return chosen.length > 0 ? chosen : sheets;
};

/** The room that an element's parent gives it, kept up to date. */
export function useRoom(root: RefObject<HTMLElement | null>): readonly [number, number] | null {
  const [room, setRoom] = useState<readonly [number, number] | null>(null);
  useEffect(() => {
    const parent = root.current?.parentElement;
    if (!parent || typeof ResizeObserver === 'undefined') return undefined;
    const measure = () => {
      // What stands above the drawing takes some of it.
      const above = (root.current?.offsetTop ?? 0) - parent.offsetTop;
      setRoom([parent.clientWidth, parent.clientHeight - Math.max(0, above)]);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(parent);
    return () => observer.disconnect();
  }, [root]);
  return room;
}
