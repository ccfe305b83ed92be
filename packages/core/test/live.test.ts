import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  LiveBench,
  Proving,
  isExpectation,
  run,
  type Bench,
  type Frame,
  type Provable,
  type Shape,
  type Step,
  type Stimulus,
} from '@contactum/core';
import { exercise, exercises, rewire } from './help.js';
import { referenceBench } from '@contactum/core';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));

/** What a person sees of the devices named, in the words of scripts. */
function seen(live: LiveBench, ...tags: string[]): string[] {
  const [frame, shape] = [live.frame() as Frame, live.shape as Shape];
  return tags.map((tag) => frame.states[shape.devices.indexOf(tag)] ?? 'nothing');
}

const isLiveAt = (live: LiveBench, ref: string): boolean =>
  (live.frame() as Frame).live[(live.shape as Shape).terminals.indexOf(ref)] === 1;

describe('a bench that is worked by hand', () => {
  const hands = fc.array(
    fc.constantFrom<Stimulus>(
      { press: 'S1' },
      { release: 'S1' },
      { press: 'S2' },
      { release: 'S2' },
      { press: 'S3' },
      { release: 'S3' },
      { trip: 'F2' },
      { reset: 'F2' },
      { open: 'G1' },
      { close: 'G1' },
      { wait: 0.7 },
    ),
    { minLength: 1, maxLength: 14 },
  );

  test('shows what a script of the same hands finds, whatever is done', () => {
    fc.assert(
      fc.property(hands, (steps) => {
        const live = new LiveBench();
        live.load(harrow, { supplyOn: true, fresh: true });
        for (const step of steps) live.work(step);
        const tags = ['KM1', 'KM2', 'F2', 'S1'];
        const states = seen(live, ...tags);
        const expected = Object.fromEntries(tags.map((tag, k) => [tag, states[k] ?? '']));
        const { mismatches } = run(harrow, [...steps, { expect: expected }]);
        expect(mismatches).toEqual([]);
        expect(steps.some(isExpectation)).toBe(false);
      }),
      { numRuns: 60 },
    );
  });

  test('what has happened is told once, and by the clock that runs on from board to board', () => {
    const live = new LiveBench();
    live.load(pump, { supplyOn: true });
    live.advance(1);
    live.work({ press: 'S2' });
    live.advance(0.5);
    const first = live.frame() as Frame;
    expect(first.events.some(({ what }) => what === 'KM1')).toBe(true);
    expect((live.frame() as Frame).events).toEqual([]);
    const before = live.clock;
    live.load(pump, { supplyOn: true });
    live.advance(0.5);
    live.work({ release: 'S2' });
    live.work({ press: 'S2' });
    live.advance(0.2);
    const late = (live.frame() as Frame).events;
    expect(late.length).toBeGreaterThan(0);
    for (const { t } of late) expect(t).toBeGreaterThanOrEqual(before);
  });
});

describe('a board that is wired again', () => {
  test('keeps what stays by itself: a tripped relay, a struck mushroom button; nothing that a spring brings back', () => {
    const estop = referenceBench(exercise('brine-pump-emergency-stop'));
    const live = new LiveBench();
    live.load(estop, { supplyOn: true });
    live.work({ press: 'S0' });
    live.work({ trip: 'F2' });
    live.work({ press: 'S2' });
    expect(seen(live, 'S0', 'F2', 'S2', 'KM1')).toEqual(['pressed', 'tripped', 'pressed', 'out']);
    live.load(rewire(estop, 'KM1:A2>G1:N'), { supplyOn: true });
    expect(seen(live, 'S0', 'F2', 'S2', 'KM1')).toEqual(['pressed', 'tripped', 'released', 'out']);
    live.load(estop, { supplyOn: true, fresh: true });
    expect(seen(live, 'S0', 'F2')).toEqual(['released', 'healthy']);
  });

  test('is dead until its supply is switched on, and its ohms are read with every supply off', () => {
    const live = new LiveBench();
    live.load(pump);
    expect([live.isSupplied, isLiveAt(live, 'Q1:2')]).toEqual([false, false]);
    // The coil through Start alone, and nothing with Start let go: 70 VA at 0.8 on 230 V is 605 ohms of
    // resistance.
    expect(live.ohms('G1:L1', 'G1:N')).toBe(Number.POSITIVE_INFINITY);
    live.work({ press: 'S2' });
    expect(live.ohms('G1:L1', 'G1:N')).toBeCloseTo((0.8 * 230 ** 2) / 70, -1);
    live.work({ release: 'S2' });
    live.act({ close: 'G1' });
    live.advance(0.2);
    expect([live.isSupplied, isLiveAt(live, 'Q1:2'), isLiveAt(live, 'KM1:2')]).toEqual([true, true, false]);
  });

  test('with a fault in it does what the faulty board does', () => {
    const live = new LiveBench();
    live.load(pump, { supplyOn: true, fresh: true, faults: [{ kind: 'coil-open', place: 'KM1' }] });
    live.work({ press: 'S2' });
    live.advance(1);
    expect(seen(live, 'KM1')).toEqual(['out']);
    expect(isLiveAt(live, 'KM1:A1')).toBe(true);
    // A place that is not on the board is no fault.
    live.load(pump, { supplyOn: true, fresh: true, faults: [{ kind: 'coil-open', place: 'KM9' }] });
    live.work({ press: 'S2' });
    live.advance(1);
    expect(seen(live, 'KM1')).toEqual(['in']);
  });
});

test('before a board is loaded there is nothing to see, and nothing that can be done', () => {
  const live = new LiveBench();
  live.act({ press: 'S1' });
  live.advance(1);
  expect([live.frame(), live.shape, live.isSupplied]).toEqual([null, null, false]);
  expect(live.ohms('G1:L1', 'G1:N')).toBe(Number.POSITIVE_INFINITY);
  const board: Bench = pump;
  live.load(board, { supplyOn: true });
  expect(live.ohms('G1:L1', 'nowhere')).toBe(Number.POSITIVE_INFINITY);
});

describe('instruments on a live bench', () => {
  const live = new LiveBench();
  live.load(pump, { supplyOn: true, fresh: true });
  const lead = (from: string, to: string) =>
    pump.wires.findIndex((wire) => wire.from === from && wire.to === to);

  test('volts, a clamp and the order of the lines, as they are while it runs', () => {
    live.work({ press: 'S2' });
    live.work({ release: 'S2' });
    live.advance(6);
    expect(live.measure({ mode: 'volts', at: ['KM1:A1', 'KM1:A2'] })).toMatchObject({
      unit: 'V',
      kind: 'ac',
    });
    const { value } = live.measure({ mode: 'amps', lead: lead('F2:2', 'M1:U') }) as { value: number };
    const motor = live.frame()!.motors[0]!;
    expect(value).toBeCloseTo(motor.amps, 1);
    expect(motor.torque).toBeGreaterThan(0);
    expect(live.frame()!.heats[0]).toBeGreaterThan(0);
    expect(live.measure({ mode: 'sequence', at: ['M1:U', 'M1:V', 'M1:W'] })).toEqual({ sequence: 'forward' });
    expect(live.measure({ mode: 'sequence', at: ['M1:V', 'M1:U', 'M1:W'] })).toEqual({ sequence: 'reverse' });
    expect(live.measure({ mode: 'sequence', at: ['M1:U', 'M1:V', 'G1:N'] })).toEqual({ sequence: 'none' });
  });

  test('ohms are refused while it is live, and read when it is dead', () => {
    expect(live.measure({ mode: 'ohms', at: ['S1:21', 'S1:22'] })).toEqual({
      refused: 'the board is live: isolate it first',
    });
    live.work({ open: 'G1' });
    expect(live.measure({ mode: 'ohms', at: ['S1:21', 'S1:22'] })).toMatchObject({ value: 0, unit: 'Ω' });
    expect(live.measure({ mode: 'volts', at: ['KM1:9', 'KM1:A2'] })).toEqual({
      refused: 'a probe lies on no terminal',
    });
  });
});

describe('functions are ticked by what the board does', () => {
  /** Works the board by some steps in real time, as a hand would, and tells what was shown. */
  function shownBy(board: Bench, steps: readonly Step[], behaviours: readonly Provable[]): string[] {
    const live = new LiveBench();
    live.load(board, { supplyOn: true, fresh: true });
    const proving = new Proving(behaviours);
    const look = (seconds: number) => {
      for (let t = 0; t < seconds; t += 0.05) {
        live.advance(0.05);
        proving.perceive(live.frame()!, live.shape!);
      }
    };
    look(0.5);
    for (const step of steps) {
      if (isExpectation(step)) continue;
      if ('wait' in step) look(step.wait + 0.1);
      else if ('elapse' in step) look(11);
      else {
        proving.act(step);
        live.act(step);
        look(0.4);
      }
    }
    return [...proving.shown];
  }

  const shipped = exercises().filter(
    ({ id }) => id !== 'sluice-gate-jog-button' && id !== 'salt-harrow-no-interlock',
  );
  test.each(shipped.map((one) => [one.id, one] as const))(
    'each behaviour of %s is shown by working it',
    (_, one) => {
      for (const behaviour of one.behaviours)
        expect(shownBy(referenceBench(one), behaviour.steps, [behaviour])).toEqual([behaviour.id]);
    },
  );

  test('a board that does not do it shows nothing, and another order begins anew', () => {
    const one = exercise('brine-pump-three-wire');
    const wrong = rewire(pump, 'KM1:14>KM1:A1');
    const holds = one.behaviours.filter(({ id }) => id === 'holds');
    expect(shownBy(wrong, holds[0]!.steps, holds)).toEqual([]);
    expect(shownBy(pump, [{ press: 'S1' }, { release: 'S1' }, ...holds[0]!.steps], holds)).toEqual(['holds']);
  });
});
