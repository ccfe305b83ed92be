import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { isSupply, kindOf, type Device, type Frame } from '@contactum/core';
import type { LiveBench } from './live.js';
import { AXIS, ROW, StripPen, WINDOWS, type Row } from './strip-pen.js';
import './strip-chart.css';

/** States in the words of a person at the bench. */
const WORDS: Readonly<Record<string, string>> = { none: 'not driven', 'single-phase': 'two lines only' };
const SUPPLY_WORDS: Readonly<Record<string, string>> = { closed: 'on', open: 'off' };

const rowsOf = (devices: readonly Device[]): Row[] =>
  devices.flatMap((device): Row[] => {
    const { told } = kindOf(device);
    if (told === 'nothing') return [];
    const words = isSupply(device) ? SUPPLY_WORDS : WORDS;
    return [{ tag: device.tag, source: told, words }];
  });

/** The pen of a canvas; what it tells is painted by the store's subscription. */
function usePen(rows: readonly Row[], live: LiveBench, tell: (words: readonly string[]) => void) {
  const canvas = useRef<HTMLCanvasElement | null>(null);
  const pen = useRef<StripPen | null>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return undefined;
    const own = new StripPen(element, context, rows);
    pen.current = own;
    let last: Frame | null = null;
    const paint = () => {
      const { frame, shape } = live.store.getState();
      if (!frame || !shape || frame === last) return;
      last = frame;
      own.take(frame, shape);
      own.draw(frame.t);
      tell(own.wordsAt(own.cursor ?? frame.t));
    };
    own.draw(0);
    paint();
    return live.store.subscribe(paint);
  }, [rows, live, tell]);
  return { canvas, pen };
}

/** Paper that runs: what every device did, second by second; a cursor tells the states at a moment. */
export function StripChart({
  devices,
  live,
  of,
}: {
  devices: readonly Device[];
  live: LiveBench;
  /** Whose states they are, where there are more boards than one. */
  of?: string;
}) {
  const rows = useMemo(() => rowsOf(devices), [devices]);
  const values = useRef<(HTMLElement | null)[]>([]);
  const moment = useRef<HTMLOutputElement | null>(null);
  const tell = useCallback((words: readonly string[]) => {
    words.forEach((word, k) => {
      const cell = values.current[k];
      if (cell && cell.textContent !== word) cell.textContent = word;
    });
  }, []);
  const { canvas, pen } = usePen(rows, live, tell);
  /** Changes how the paper is looked at, and shows it. */
  const look = (change: (own: StripPen, t: number) => void) => {
    const own = pen.current;
    if (!own) return;
    const t = live.store.getState().frame?.t ?? 0;
    change(own, t);
    own.draw(t);
    tell(own.wordsAt(own.cursor ?? t));
    if (moment.current)
      moment.current.textContent = own.cursor === null ? 'now' : `at ${own.cursor.toFixed(2)} s`;
  };
  return (
    <section
      className="chart"
      aria-label={`Strip chart of every device's state${of === undefined ? '' : `, ${of}`}`}
    >
      <PaperTools
        moment={moment}
        onHold={(isHeld) => look((own, t) => void (own.heldAt = isHeld ? t : null))}
        onSpan={(seconds) => look((own) => void (own.window = seconds))}
      />
      <RowNames rows={rows} values={values} />
      <canvas
        ref={canvas}
        style={{ height: rows.length * ROW + AXIS }}
        role="img"
        aria-label="States in time, newest at the right"
        onPointerMove={({ nativeEvent: { offsetX } }) =>
          look((own) => void (own.cursor = own.momentAt(offsetX)))
        }
        onPointerLeave={() => look((own) => void (own.cursor = null))}
      />
    </section>
  );
}

/** Designations, and beside each what it does; written by the pen's own subscription. */
function RowNames({ rows, values }: { rows: readonly Row[]; values: RefObject<(HTMLElement | null)[]> }) {
  return (
    <dl className="chart-names">
      {rows.map(({ tag }, k) => (
        <div key={tag} style={{ height: ROW }}>
          <dt>{tag}</dt>
          <dd
            ref={(element) => {
              values.current[k] = element;
            }}
          />
        </div>
      ))}
    </dl>
  );
}

/** Holds the paper, and says how much of it is seen. */
function PaperTools({
  moment,
  onHold,
  onSpan,
}: {
  moment: RefObject<HTMLOutputElement | null>;
  onHold: (isHeld: boolean) => void;
  onSpan: (seconds: number) => void;
}) {
  const [isHeld, setHeld] = useState(false);
  const [span, setSpan] = useState(20);
  return (
    <div className="chart-tools">
      <output ref={moment}>now</output>
      <button
        type="button"
        aria-pressed={isHeld}
        onClick={() => {
          setHeld(!isHeld);
          onHold(!isHeld);
        }}
      >
        Hold
      </button>
      <select
        aria-label="Seconds seen"
        value={span}
        onChange={({ target }) => {
          setSpan(Number(target.value));
          onSpan(Number(target.value));
        }}
      >
        {WINDOWS.map((seconds) => (
          <option key={seconds} value={seconds}>
            {seconds} s
          </option>
        ))}
      </select>
    </div>
  );
}
