import { useEffect, useMemo, useRef } from 'react';
import { isSupply, kindOf, type Device, type Frame } from '@contactum/core';
import type { LiveBench } from './live.js';
import { AXIS, ROW, StripPen, type Row } from './strip-pen.js';
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

/** Paper that runs: what every device did, second by second. Drawn to a canvas by the store's subscription. */
export function StripChart({ devices, live }: { devices: readonly Device[]; live: LiveBench }) {
  const rows = useMemo(() => rowsOf(devices), [devices]);
  const canvas = useRef<HTMLCanvasElement | null>(null);
  const values = useRef<(HTMLElement | null)[]>([]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return undefined;
    const pen = new StripPen(element, context, rows, (k, words) => {
      const cell = values.current[k];
      if (cell) cell.textContent = words;
    });
    let last: Frame | null = null;
    const paint = () => {
      const { frame, shape } = live.store.getState();
      if (!frame || !shape || frame === last) return;
      last = frame;
      pen.take(frame, shape);
      pen.draw(frame.t);
    };
    pen.draw(0);
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
