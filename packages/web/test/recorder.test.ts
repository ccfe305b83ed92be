import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LiveBench, referenceBench, type Frame, type Shape } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { KEPT_SECONDS, Recorder, thinned, type Sample } from '../src/bench/recorder.js';
import { curvePath, machinePicture } from '../src/bench/views/machine-picture.js';

const exercise = shippedExercise('brine-pump-three-wire')!;
const bench = referenceBench(exercise);
const motor = bench.devices.find((device) => device.type === 'motor-3')!;

/** A board that runs, and what has been recorded of it, as a page would: 30 frames a second. */
function running() {
  const live = new LiveBench();
  const recorder = new Recorder(bench.devices);
  const frames: { readonly frame: Frame; readonly shape: Shape }[] = [];
  live.load(bench, { supplyOn: true, fresh: true });
  const look = () => {
    const frame = live.frame()!;
    frames.push({ frame, shape: live.shape! });
    recorder.take(frame, live.shape!);
  };
  const go = (seconds: number, step = 1 / 30) => {
    for (let t = 0; t < seconds; t += step) {
      live.advance(step);
      look();
    }
  };
  return { live, recorder, frames, look, go };
}

describe('what a board has done is written down from its beginning', () => {
  test('the inrush of the first start is seen by whoever looks afterwards', () => {
    const { live, recorder, go } = running();
    go(2);
    live.act({ press: 'S2' });
    go(0.2);
    live.act({ release: 'S2' });
    go(8);
    const start = recorder.lastStart(motor.tag)!;
    expect(start.from).toBeGreaterThan(1.9);
    expect(start.to).toBeLessThan(10.3);
    const amps = recorder.channels.findIndex(({ name }) => name === 'Current');
    const run = recorder.samplesOf(amps, start.from, start.to).map(({ value }) => value);
    // A direct start draws several times the current of the plate (IEC 60034-12: design N).
    expect(Math.max(...run)).toBeGreaterThan(4 * motor.options.plate.current);
    expect(recorder.valueAt(amps, start.to)).toBeLessThan(1.2 * motor.options.plate.current);
    // Before it nothing flowed.
    expect(recorder.valueAt(amps, 1)).toBe(0);
    expect(recorder.wordsAt(1)[recorder.rows.findIndex(({ tag }) => tag === 'KM1')]).toBe('out');
    expect(recorder.wordsAt(9)[recorder.rows.findIndex(({ tag }) => tag === 'KM1')]).toBe('in');
  });

  test('every value that a frame had is still what the recorder says of its moment', () => {
    const { live, recorder, frames, go } = running();
    live.act({ press: 'S2' });
    go(1);
    live.act({ release: 'S2' });
    go(3);
    live.act({ press: 'S1' });
    go(2);
    for (const { frame, shape } of frames)
      recorder.channels.forEach(({ of }, k) => expect(recorder.valueAt(k, frame.t)).toBe(of(frame, shape)));
  });

  test('only the last ten minutes are kept, with the value that they begin with', () => {
    const { live, recorder, go } = running();
    live.act({ press: 'S2' });
    go(2);
    go(2 * KEPT_SECONDS, 0.5);
    expect(recorder.begun).toBeCloseTo(recorder.now - KEPT_SECONDS, 6);
    recorder.channels.forEach((_, k) => {
      const all = recorder.samplesOf(k, 0, Infinity);
      expect(all.length).toBeLessThan(3 * KEPT_SECONDS);
      expect(all[0]!.t).toBeGreaterThan(recorder.now - 1.2 * KEPT_SECONDS);
    });
    expect(recorder.wordsAt(recorder.begun)[recorder.rows.findIndex(({ tag }) => tag === 'KM1')]).toBe('in');
    // The start itself is forgotten.
    expect(recorder.lastStart(motor.tag)).toBeNull();
  });
});

test('thinning keeps the highest and the lowest, the order, and nothing that was not there', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.integer({ min: -50, max: 50 })), {
        maxLength: 400,
      }),
      fc.integer({ min: 1, max: 60 }),
      (steps, stretches) => {
        let t = 0;
        const all = steps.map(([dt, value]): Sample => ({ t: (t += dt), value }));
        const few = thinned(all, stretches);
        expect(few.every((one) => all.includes(one))).toBe(true);
        expect(few.map((one) => one.t)).toEqual(few.map((one) => one.t).toSorted((a, b) => a - b));
        if (all.length === 0) return;
        const values = (list: readonly Sample[]) => list.map(({ value }) => value);
        expect(Math.max(...values(few))).toBe(Math.max(...values(all)));
        expect(Math.min(...values(few))).toBe(Math.min(...values(all)));
        // Two of each stretch, and one stretch more where they do not divide evenly.
        if (all.length > 2 * stretches) expect(few.length).toBeLessThanOrEqual(2 * (stretches + 1));
      },
    ),
  );
});

test('the picture of a start has every curve with its unit, within its frame', () => {
  const { live, recorder, go } = running();
  live.act({ press: 'S2' });
  go(6);
  const { svg, size } = machinePicture(recorder, motor, { from: 0, to: 6 }, 'Pump <1>');
  for (const { name, unit } of recorder.channels) expect(svg).toContain(`${name}, ${unit}`);
  expect(svg).toContain('Pump &lt;1&gt;: M1');
  const paths = [...svg.matchAll(/<path d="([^"]+)"/g)].map(([, d]) => d!);
  expect(paths).toHaveLength(recorder.channels.length);
  for (const d of paths) {
    const points = [...d.matchAll(/([\d.]+),([\d.]+)/g)];
    expect(points.length).toBeGreaterThan(1);
    for (const [, x, y] of points) {
      expect(Number(x)).toBeLessThanOrEqual(size[0]);
      expect(Number(y)).toBeLessThanOrEqual(size[1]);
    }
  }
  // What holds at the end is drawn up to it.
  expect(curvePath(recorder, 0, { from: 0, to: 60 }, { left: 0, right: 100, top: 0, bottom: 50 })).toMatch(
    /L100,/,
  );
});
