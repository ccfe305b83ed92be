import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Device, Frame } from '@contactum/core';
import type { LiveBench } from './live.js';
import { Recorder, SPANS, record, type Row } from './recorder.js';
import { AXIS, ROW, StripPen } from './strip-pen.js';
import './strip-chart.css';

/** The pen of a canvas; what it tells is painted by the store's subscription. */
function usePen(recorder: Recorder, live: LiveBench, tell: (words: readonly string[]) => void) {
  const canvas = useRef<HTMLCanvasElement | null>(null);
  const pen = useRef<StripPen | null>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return undefined;
    const own = new StripPen(element, context, recorder);
    pen.current = own;
    let last: Frame | null = null;
    const paint = () => {
      const { frame } = live.store.getState();
      if (!frame || frame === last) return;
      last = frame;
      own.draw(recorder.now);
      tell(recorder.wordsAt(own.cursor ?? own.heldAt ?? recorder.now));
    };
    own.draw(recorder.now);
    paint();
    return live.store.subscribe(paint);
  }, [recorder, live, tell]);
  return { canvas, pen };
}

/** Paper that runs: what every device did, second by second; a cursor tells the states at a moment. */
export function StripChart({
  devices,
  live,
  recorder: given,
  of,
}: {
  devices: readonly Device[];
  live: LiveBench;
  /** What has been recorded since the board was opened; where none is given it begins now. */
  recorder?: Recorder;
  /** Whose states they are, where there are more boards than one. */
  of?: string;
}) {
  const own = useMemo(() => (given ? null : new Recorder(devices)), [given, devices]);
  useEffect(() => (own ? record(own, live) : undefined), [own, live]);
  const recorder = given ?? own ?? NOTHING;
  const { rows } = recorder;
  const values = useRef<(HTMLElement | null)[]>([]);
  const moment = useRef<HTMLOutputElement | null>(null);
  const tell = useCallback((words: readonly string[]) => {
    words.forEach((word, k) => {
      const cell = values.current[k];
      if (cell && cell.textContent !== word) cell.textContent = word;
    });
  }, []);
  const { canvas, pen } = usePen(recorder, live, tell);
  /** Changes how the paper is looked at, and shows it. */
  const look = (change: (own: StripPen, t: number) => void) => {
    const view = pen.current;
    if (!view) return;
    const t = recorder.now;
    change(view, t);
    view.draw(t);
    const at = view.cursor ?? view.heldAt;
    tell(recorder.wordsAt(at ?? t));
    if (moment.current) moment.current.textContent = at === null ? 'now' : `at ${at.toFixed(2)} s`;
  };
  return (
    <section
      className="chart"
      aria-label={`Strip chart of every device's state${of === undefined ? '' : `, ${of}`}`}
    >
      <PaperTools
        moment={moment}
        recorder={recorder}
        onHold={(at) => look((view) => void (view.heldAt = at))}
        onSpan={(seconds) => look((view) => void (view.window = seconds))}
      />
      <RowNames rows={rows} values={values} />
      <canvas
        ref={canvas}
        style={{ height: rows.length * ROW + AXIS }}
        role="img"
        aria-label="States in time, newest at the right"
        onPointerMove={({ nativeEvent: { offsetX } }) =>
          look((view) => void (view.cursor = view.momentAt(offsetX)))
        }
        onPointerLeave={() => look((view) => void (view.cursor = null))}
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

/** What has recorded nothing. */
const NOTHING = new Recorder([]);

/** Holds the paper, moves it back over what is kept, and says how much of it is seen. */
function PaperTools({
  moment,
  recorder,
  onHold,
  onSpan,
}: {
  moment: RefObject<HTMLOutputElement | null>;
  recorder: Recorder;
  /** The moment at which it is held; null where it runs. */
  onHold: (at: number | null) => void;
  onSpan: (seconds: number) => void;
}) {
  const [held, setHeld] = useState<{
    readonly at: number;
    readonly from: number;
    readonly to: number;
  } | null>(null);
  const [span, setSpan] = useState(20);
  const hold = (at: number | null) => {
    setHeld(at === null ? null : { at, from: recorder.begun, to: recorder.now });
    onHold(at);
  };
  return (
    <div className="chart-tools">
      <output ref={moment}>now</output>
      <button type="button" aria-pressed={held !== null} onClick={() => hold(held ? null : recorder.now)}>
        {held ? 'Run on' : 'Hold'}
      </button>
      <select
        aria-label="Seconds seen"
        value={span}
        onChange={({ target }) => {
          setSpan(Number(target.value));
          onSpan(Number(target.value));
        }}
      >
        {SPANS.map((seconds) => (
          <option key={seconds} value={seconds}>
            {seconds} s
          </option>
        ))}
      </select>
      {held && (
        <input
          type="range"
          aria-label="Moment that is seen, seconds"
          min={held.from}
          max={held.to}
          step="any"
          value={held.at}
          onChange={({ target }) => {
            const at = Number(target.value);
            setHeld({ ...held, at });
            onHold(at);
          }}
        />
      )}
    </div>
  );
}
