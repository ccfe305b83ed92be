import { useState, type ReactNode } from 'react';
import { Splitter } from 'antd';
import type { Dock } from './ViewDock.js';

const KEY = 'contactum.dock';
/** Least and most that a view takes beside the board, and what it takes at first, per cent. */
const [LEAST, MOST, FIRST] = [25, 70, 46];

const within = (width: number): number => Math.min(MOST, Math.max(LEAST, width));

function remembered(): number {
  const kept = Number(localStorage.getItem(KEY));
  return kept > 0 ? within(kept) : FIRST;
}

/** Board and view side by side, with a bar between them that is dragged, or moved by keys; it is remembered. */
export function Stage({ dock, board, view }: { dock: Dock; board: ReactNode; view: ReactNode }) {
  const [width, setWidth] = useState(remembered);
  const isBeside = dock.open !== null && !dock.alone;
  const share = dock.open === null ? 0 : dock.alone ? 100 : width;
  const keep = (next: number) => {
    setWidth(within(next));
    localStorage.setItem(KEY, String(Math.round(within(next))));
  };
  return (
    <>
      {isBeside && (
        <input
          className="visually-hidden"
          type="range"
          min={LEAST}
          max={MOST}
          value={Math.round(width)}
          aria-label="Room for the view beside the board"
          onChange={({ target }) => keep(Number(target.value))}
        />
      )}
      <Splitter
        className="bench-stage"
        data-dock={dock.open === null ? 'closed' : dock.alone ? 'alone' : 'beside'}
        onResize={([left = 0, right = 0]) => {
          if (isBeside && left + right > 0) keep((100 * right) / (left + right));
        }}
      >
        <Splitter.Panel size={`${100 - share}%`} resizable={isBeside}>
          {board}
        </Splitter.Panel>
        <Splitter.Panel size={`${share}%`} resizable={isBeside}>
          {view}
        </Splitter.Panel>
      </Splitter>
    </>
  );
}
