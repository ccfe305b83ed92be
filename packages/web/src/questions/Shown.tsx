import { useEffect, useMemo, useRef, useState } from 'react';
import { Segmented } from 'antd';
import { drawingOf, type Bench, type Sheet, type Stimulus, usualForm } from '@contactum/core';
import { Board } from '../board/Board.js';
import { DrawingView } from '../drawing/DrawingView.js';

type Part = Sheet['circuit'] | 'board';

const LABELS: Readonly<Record<Part, string>> = { control: 'Control', power: 'Power', board: 'Board' };

/** What is asked about: a circuit of its drawing, or the board. */
export function Shown({
  bench,
  marked,
  onTerminal,
  onWork,
}: {
  bench: Bench;
  /** Terminals that are answered. */
  marked?: readonly string[];
  /** Told a terminal that is tapped. */
  onTerminal?: ((ref: string) => void) | undefined;
  /** Told what is worked on the board; nothing moves by it. */
  onWork?: ((stimulus: Stimulus) => void) | undefined;
}) {
  const drawing = useMemo(() => drawingOf(bench, usualForm(bench)), [bench]);
  const parts: Part[] = [...drawing.sheets.map(({ circuit }) => circuit).sort(), 'board'];
  const [part, setPart] = useState<Part>(parts[0] ?? 'board');
  const act = useMemo(() => (onWork ? { give: onWork, stateOf: () => 'unknown' } : undefined), [onWork]);
  const root = useRef<HTMLDivElement | null>(null);
  // The drawing is not rendered anew for what is answered.
  useEffect(() => {
    for (const one of root.current?.querySelectorAll<SVGElement>('[data-at]') ?? [])
      if (marked?.includes(one.dataset.at ?? '')) one.dataset.answered = 'yes';
      else delete one.dataset.answered;
  }, [marked, part]);
  const tap = (target: EventTarget) => {
    const element = (target as Element).closest<SVGElement>('[data-terminal], [data-at]');
    const ref = element?.dataset.terminal ?? element?.dataset.at;
    if (ref !== undefined) onTerminal?.(ref);
  };
  return (
    <section className="question-board" aria-label="What is asked about">
      <Segmented
        size="small"
        aria-label="What is shown"
        value={part}
        options={parts.map((value) => ({ value, label: LABELS[value] }))}
        onChange={setPart}
      />
      <div
        ref={root}
        className={onTerminal ? 'question-taps' : undefined}
        onClick={({ target }) => tap(target)}
      >
        {part !== 'board' ? (
          <div className="question-drawing">
            <DrawingView drawing={drawing} label={`Drawing of ${bench.title}`} fit={part} />
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
