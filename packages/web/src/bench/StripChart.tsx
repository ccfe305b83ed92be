import { useEffect, useMemo, useRef } from 'react';
import { scaleLinear } from 'd3';
import { anatomy, kindOf, type Bench, type Frame } from '@contactum/core';
import { TOKENS } from '../theme.js';
import type { LiveBench } from './live.js';

/** Seconds of paper that are seen at once. */
const WINDOW = 20;
const ROW = 15;
const AXIS = 16;

interface Row {
  readonly tag: string;
  /** Where in a frame its value stands. */
  readonly source: 'state' | 'lamp' | 'field';
  readonly words: Readonly<Record<string, string>>;
}

/** A row's values in time: each from its moment until the next. */
interface Mark {
  readonly t: number;
  readonly value: string;
}

const ACTIVE = new Set([
  'in',
  'pressed',
  'lit',
  'tripped',
  'timing',
  'done',
  'forward',
  'reverse',
  'single-phase',
  'chattering',
  'closed',
  'dim',
  'burnt',
  'blown',
]);
/** States in the words of a person at the bench. */
const WORDS: Readonly<Record<string, string>> = { none: 'not driven', 'single-phase': 'two lines only' };
const SUPPLY_WORDS: Readonly<Record<string, string>> = { closed: 'on', open: 'off' };

const WRONG = new Set(['tripped', 'chattering', 'single-phase', 'burnt', 'blown']);

function rowsOf({ devices }: Pick<Bench, 'devices'>): Row[] {
  return devices.flatMap((device): Row[] => {
    const { told } = kindOf(device);
    if (told === 'nothing') return [];
    const words = anatomy(device).mechanism?.kind === 'supply' ? SUPPLY_WORDS : WORDS;
    return [{ tag: device.tag, source: told, words }];
  });
}

/** Paper that runs: what every device did, second by second. Drawn to a canvas by the store's subscription. */
export function StripChart({ bench, live }: { bench: Bench; live: LiveBench }) {
  const { devices } = bench;
  const rows = useMemo(() => rowsOf({ devices }), [devices]);
  const canvas = useRef<HTMLCanvasElement | null>(null);
  const values = useRef<(HTMLElement | null)[]>([]);

  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext('2d');
    if (!element || !pen) return undefined;
    const marks: Mark[][] = rows.map(() => []);
    const record = (k: number, t: number, value: string) => {
      const list = marks[k];
      if (!list || list.at(-1)?.value === value) return;
      list.push({ t, value });
      // What has run off the paper is forgotten, but for the value that it began with.
      while (list.length > 2 && (list[1]?.t ?? t) < t - WINDOW) list.shift();
      const cell = values.current[k];
      if (cell) cell.textContent = rows[k]?.words[value] ?? value;
    };
    const take = (frame: Frame) => {
      const shape = live.store.getState().shape;
      if (!shape) return;
      // Events have their exact times; a frame only closes what they have not said.
      for (const event of frame.events) {
        const k = rows.findIndex(
          ({ tag, source }) => (source === 'field' ? `${tag}.driven` : tag) === event.what,
        );
        if (k >= 0) record(k, event.t, event.state);
      }
      rows.forEach(({ tag, source }, k) => {
        if (source === 'lamp') record(k, frame.t, frame.lamps[shape.lamps.indexOf(tag)] ?? 'dark');
        else if (source === 'field')
          record(k, frame.t, frame.motors[shape.motors.indexOf(tag)]?.driven ?? 'none');
        else record(k, frame.t, frame.states[shape.devices.indexOf(tag)] ?? '');
      });
    };
    const draw = (t: number) => {
      const ratio = window.devicePixelRatio || 1;
      const width = element.clientWidth;
      const height = element.clientHeight;
      if (element.width !== Math.round(width * ratio) || element.height !== Math.round(height * ratio)) {
        element.width = Math.round(width * ratio);
        element.height = Math.round(height * ratio);
      }
      pen.setTransform(ratio, 0, 0, ratio, 0, 0);
      pen.clearRect(0, 0, width, height);
      const start = Math.max(0, t - WINDOW);
      const x = scaleLinear([start, start + WINDOW], [0, width]);
      pen.font = '500 11px Barlow, sans-serif';
      pen.textBaseline = 'middle';
      for (const tick of x.ticks(10)) {
        pen.fillStyle = '#d6cfbf';
        pen.fillRect(x(tick), 0, 1, rows.length * ROW);
        pen.fillStyle = TOKENS.quiet;
        pen.textAlign = x(tick) < 10 ? 'left' : x(tick) > width - 14 ? 'right' : 'center';
        pen.fillText(`${tick} s`, x(tick), rows.length * ROW + AXIS / 2);
      }
      marks.forEach((list, k) => {
        const middle = k * ROW + ROW / 2;
        pen.fillStyle = '#c4bcab';
        pen.fillRect(0, middle, x(t), 1);
        list.forEach(({ t: from, value }, n) => {
          if (!ACTIVE.has(value)) return;
          const left = Math.max(0, x(from));
          const right = x(list[n + 1]?.t ?? t);
          if (right <= 0) return;
          pen.fillStyle = WRONG.has(value)
            ? TOKENS.wrong
            : value === 'reverse'
              ? '#3b5f8a'
              : value === 'closed'
                ? '#b9933a'
                : TOKENS.accent;
          pen.fillRect(left, middle - 5, Math.max(right - left, 1.5), 10);
          // A word only where the bar has room for it: colour alone says nothing.
          const word = rows[k]?.words[value] ?? value;
          if (right - left > pen.measureText(word).width + 10) {
            pen.fillStyle = '#ffffff';
            pen.textAlign = 'left';
            pen.fillText(word, left + 5, middle + 0.5);
          }
        });
      });
      pen.fillStyle = TOKENS.ink;
      pen.fillRect(x(t), 0, 1.5, rows.length * ROW);
    };
    let last: Frame | null = null;
    const paint = () => {
      const { frame } = live.store.getState();
      if (!frame || frame === last) return;
      last = frame;
      take(frame);
      draw(frame.t);
    };
    draw(0);
    paint();
    return live.store.subscribe(paint);
  }, [rows, live]);

  return (
    <section className="chart" aria-label="Strip chart of every device's state">
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
      <canvas
        ref={canvas}
        style={{ height: rows.length * ROW + AXIS }}
        role="img"
        aria-label="States in time, newest at the right"
      />
    </section>
  );
}
