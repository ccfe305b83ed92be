import { useEffect, useState } from 'react';
import { drawingOf, type Bench, type Drawing, type Wire } from '@contactum/core';
import { SheetView } from './DrawingView.js';
import './drawing.css';

/** Drawings are made one after the other while the page has nothing else to do. */
let queue: Promise<void> = Promise.resolve();
const whenIdle = (work: () => void): void => {
  queue = queue.then(
    () =>
      new Promise((done) => {
        setTimeout(() => {
          work();
          done();
        });
      }),
  );
};

/** A small drawing of a wiring's control circuit; its devices by name where the wiring is not to be seen. */
export function DrawingThumb({ bench, wires }: { bench: Bench; wires: readonly Wire[] | null }) {
  const [drawing, setDrawing] = useState<Drawing | null>(null);
  useEffect(() => {
    let isWanted = true;
    if (wires)
      whenIdle(() => {
        if (isWanted) setDrawing(drawingOf({ ...bench, wires: [...bench.wires, ...wires] }, formOf(bench)));
      });
    return () => {
      isWanted = false;
    };
  }, [bench, wires]);
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

/** The way in which a board's circuits are usually drawn: 60 Hz boards as ladders. */
export function formOf(bench: Bench): Drawing['form'] {
  const isUs = bench.devices.some((device) => device.type === 'supply-3n' && device.options.frequency === 60);
  return isUs ? 'us' : 'iec';
}
