import { useMemo, useState } from 'react';
import { Segmented } from 'antd';
import { drawingOf, type Bench, type Stimulus } from '@contactum/core';
import { Board } from '../board/Board.js';
import { DrawingView } from '../drawing/DrawingView.js';
import { formOf } from '../drawing/form.js';

type Part = 'Drawing' | 'Board';

/** What is asked about: the board, or its drawing. */
export function Shown({
  bench,
  parts = ['Drawing', 'Board'],
  marked,
  onTerminal,
  onWork,
}: {
  bench: Bench;
  parts?: readonly Part[];
  /** Terminals that are answered. */
  marked?: readonly string[];
  /** Told a terminal that is tapped. */
  onTerminal?: ((ref: string) => void) | undefined;
  /** Told what is worked on the board; nothing moves by it. */
  onWork?: ((stimulus: Stimulus) => void) | undefined;
}) {
  const [chosen, setPart] = useState<Part>('Drawing');
  const part = parts.includes(chosen) ? chosen : (parts[0] ?? 'Board');
  const drawing = useMemo(() => drawingOf(bench, formOf(bench)), [bench]);
  const act = useMemo(() => (onWork ? { give: onWork, stateOf: () => 'unknown' } : undefined), [onWork]);
  const tap = (target: EventTarget) => {
    const element = (target as Element).closest<SVGElement>('[data-terminal], [data-at]');
    const ref = element?.dataset.terminal ?? element?.dataset.at;
    if (ref !== undefined) onTerminal?.(ref);
  };
  return (
    <section className="question-board" aria-label="What is asked about">
      {parts.length > 1 && <Segmented size="small" value={part} options={[...parts]} onChange={setPart} />}
      <div className={onTerminal ? 'question-taps' : undefined} onClick={({ target }) => tap(target)}>
        {part === 'Drawing' ? (
          <div className="question-drawing">
            <DrawingView drawing={drawing} label={`Drawing of ${bench.title}`} fit="whole" />
          </div>
        ) : (
          <div className="question-picture">
            <Board
              bench={bench}
              label={bench.title}
              {...(marked ? { marked } : {})}
              {...(act ? { act } : {})}
            />
          </div>
        )}
      </div>
    </section>
  );
}
