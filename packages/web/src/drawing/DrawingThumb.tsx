import { useReferenceDrawing } from '../api/queries.js';
import { formOf } from './form.js';
import { SheetView } from './DrawingView.js';
import type { Bench } from '@contactum/core';
import './drawing.css';

/**
 * A small drawing of an exercise's control circuit; its devices by name where the drawing is not to be
 * seen.
 */
export function DrawingThumb({ id, bench, drawn }: { id: string; bench: Bench; drawn: boolean }) {
  const { data: drawing } = useReferenceDrawing(id, formOf(bench), drawn);
  const sheet = drawing?.sheets.find(({ circuit }) => circuit === 'control') ?? drawing?.sheets[0];
  if (drawing && sheet)
    return (
      <div className="drawing drawing-thumb">
        <SheetView drawing={drawing} sheet={sheet} struck={undefined} />
      </div>
    );
  return (
    <p className="thumb-tags" aria-hidden="true">
      {bench.devices.map(({ tag }) => tag).join(' ')}
    </p>
  );
}
