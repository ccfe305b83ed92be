import { usualForm } from '@contactum/core';
import { useReferenceDrawing } from '../api/queries.js';
import { SheetView } from './DrawingView.js';
import type { Bench, Sheet } from '@contactum/core';
import './drawing.css';

/**
 * A small drawing of an exercise's control circuit; its devices by name where the drawing is not to be
 * seen.
 */
export function DrawingThumb({ id, bench, drawn }: { id: string; bench: Bench; drawn: boolean }) {
  const { data: drawing } = useReferenceDrawing(id, usualForm(bench), drawn);
  const sheet = drawing?.sheets.find(({ circuit }) => circuit === 'control') ?? drawing?.sheets[0];
  if (drawing && sheet)
    return (
      <div className="drawing drawing-thumb">
        <SheetView drawing={drawing} sheet={sheet} struck={undefined} window={cropOf(sheet)} />
      </div>
    );
  return (
    <p className="thumb-tags" aria-hidden="true">
      {bench.devices.map(({ tag }) => tag).join(' ')}
    </p>
  );
}

/** Room about the symbols, and the most that is shown across and down, drawing units. */
const MARGIN = 34;
const MOST = { width: 270, height: 230 } as const;

/** The part of a circuit that a stamp can show readably: where the current comes to the coils. */
function cropOf({ symbols, size }: Sheet): readonly [number, number, number, number] {
  if (symbols.length === 0) return [0, 0, ...size];
  const left = Math.min(...symbols.map(({ box }) => box[0])) - MARGIN;
  const top = Math.min(...symbols.map(({ box }) => box[1])) - MARGIN / 2;
  const right = Math.max(...symbols.map(({ box }) => box[0] + box[2])) + MARGIN;
  const bottom = Math.max(...symbols.map(({ box }) => box[1] + box[3])) + MARGIN;
  const [width, height] = [Math.min(MOST.width, right - left), Math.min(MOST.height, bottom - top)];
  // The first paths of a wide circuit that runs down; the coils at the end of rungs that run across.
  const isAcross = right - left > bottom - top;
  return [isAcross ? right - width : left, bottom - height, width, height];
}
