import { describe, expect, test } from '@jest/globals';
import {
  compare,
  compile,
  prove,
  referenceBench,
  run,
  runSteps,
  Solver,
  type Bench,
  type Step,
  PROPERTY_IDS,
} from '@contactum/core';
import { readBench, readScript } from '@contactum/core/documents';
import { bench, exercise, exercises, rewire, seeded } from './help.js';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));

/** Stimuli and waits as a learner might give them, the same for the same random numbers. */
function randomScript(board: Bench, random: () => number): Step[] {
  const of = (...types: string[]) =>
    board.devices.filter(({ type }) => types.includes(type)).map(({ tag }) => tag);
  const [buttons, motors, overloads, supplies] = [
    of('pushbutton', 'estop'),
    of('motor-3'),
    of('overload'),
    of('supply-3n', 'supply-dc'),
  ];
  const pick = (list: readonly string[]) => list[Math.floor(random() * list.length)] as string;
  return Array.from({ length: 12 }, (): Step[] => {
    const kind = random();
    const wait: Step = { wait: Math.round(random() ** 3 * 9000) / 100 };
    if (kind < 0.45) {
      const button = pick(buttons);
      return [{ press: button }, ...(random() < 0.3 ? [wait] : []), { release: button }];
    }
    if (kind < 0.6 && motors.length > 0)
      return [{ set: `${pick(motors)}.load`, to: Math.round(random() * 30) / 10 }];
    if (kind < 0.68 && overloads.length > 0)
      return [random() < 0.5 ? { trip: pick(overloads) } : { reset: pick(overloads) }];
    if (kind < 0.74) return [{ open: pick(supplies) }, { close: pick(supplies) }];
    return [wait];
  }).flat();
}

/** The same time in several waits. */
const divided = (steps: readonly Step[], random: () => number): Step[] =>
  steps.flatMap((step): Step[] => {
    if (!('wait' in step) || step.wait === 0) return [step];
    const cuts = Array.from({ length: 1 + Math.floor(random() * 6) }, () => random() * step.wait).sort(
      (a, b) => a - b,
    );
    return [...cuts, step.wait].map((cut, k) => ({ wait: cut - (cuts[k - 1] ?? 0) }));
  });

describe('every event comes at the same moment however a time is divided (seeds 1 to 5, all boards)', () => {
  for (const one of exercises()) {
    test(one.id, () => {
      const board = referenceBench(one);
      const solver = new Solver(compile(board));
      for (let seed = 1; seed <= 5; seed += 1) {
        const random = seeded(seed);
        const steps = randomScript(board, random);
        const [whole, parts] = [runSteps(solver, steps), runSteps(solver, divided(steps, random))];
        const told = ({ events, incidents }: typeof whole) => [
          ...events.map(({ what, state }) => `${what} ${state}`),
          ...incidents.map(({ kind, where }) => `${kind} ${where.join()}`),
        ];
        expect({ seed, told: told(parts) }).toEqual({ seed, told: told(whole) });
        [...whole.events, ...whole.incidents].forEach(({ t }, k) =>
          expect(Math.abs(([...parts.events, ...parts.incidents][k]?.t ?? NaN) - t)).toBeLessThan(1e-6),
        );
      }
    });
  }

  test('an overload that was loaded while it ran trips in one long wait as in many short ones', () => {
    const start: Step[] = [{ press: 'S2' }, { release: 'S2' }, { wait: 5 }, { set: 'M1.load', to: 1.9 }];
    const tripped = (waits: number[]) =>
      run(pump, [...start, ...waits.map((wait) => ({ wait }))]).incidents.find(
        ({ kind }) => kind === 'overload-trip',
      )?.t;
    const once = tripped([240]);
    expect(once).toBeGreaterThan(60);
    for (const waits of [[10, 230], Array.from({ length: 24 }, () => 10), [0.003, 239.997]])
      expect(tripped(waits)).toBeCloseTo(once as number, 6);
  });
});

const control = [
  { tag: 'G1', type: 'supply-1n' },
  { tag: 'S1', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
  { tag: 'S2', type: 'pushbutton', duty: 'start', options: { contacts: ['NO 13-14'] } },
];
const coil = { voltage: 230, kind: 'ac' };

describe('nothing runs for ever', () => {
  test('an overload that resets by itself, tripped by hand while it runs', () => {
    const board = {
      ...pump,
      devices: pump.devices.map((device) =>
        device.tag === 'F2' ? { ...device, settings: { ...device.settings, reset: 'auto' } } : device,
      ),
    } as Bench;
    expect(
      run(board, [
        { press: 'S2' },
        { release: 'S2' },
        { trip: 'F2' },
        { expect: { KM1: 'out' } },
        { wait: 2 },
        { expect: { F2: 'healthy', KM1: 'out' } },
      ]).mismatches,
    ).toEqual([]);
  });

  test('timers without any time, and the longest', () => {
    const star = {
      tag: 'KT1',
      type: 'star-delta-timer',
      options: { coil, pause: 0 },
      settings: { delay: 0 },
    };
    const board = bench([...control, star], 'G1:L>KT1:A1 KT1:A2>G1:N');
    expect(
      run(board, [
        { wait: 1 },
        { expect: { KT1: 'done' } },
        { set: 'KT1.delay', to: 0 },
        { open: 'G1' },
        { close: 'G1' },
        { elapse: 'KT1' },
        { expect: { KT1: 'done' } },
      ]).mismatches,
    ).toEqual([]);
    const read = (delay: number) =>
      readBench({ contactum: 'bench/1', devices: [{ ...star, settings: { delay } }] });
    expect(read(86_400).ok).toBe(true);
    expect(read(1e12)).toMatchObject({ ok: false, problems: [{ path: 'devices[0].settings.delay' }] });
    expect(readScript({ contactum: 'script/1', steps: [{ wait: 1e12 }] })).toMatchObject({
      ok: false,
      problems: [{ path: 'steps[0].wait' }],
    });
  });

  test('a timer that its own instantaneous contact cuts chatters, and is told once', () => {
    const timer = { tag: 'KT1', type: 'timer', options: { coil, instant: ['NC 31-32'] } };
    const board = bench([...control, timer], 'G1:L>S2:13 S2:14>KT1:31 KT1:32>KT1:A1 KT1:A2>G1:N');
    const { incidents, events } = run(board, [
      { press: 'S2' },
      { wait: 60 },
      { expect: { KT1: 'chattering' } },
    ]);
    expect(incidents.map(({ kind, where }) => [kind, where])).toEqual([['chatter', ['KT1']]]);
    expect(events.length).toBeLessThan(20);
    expect(prove(board).properties.find(({ id }) => id === 'no-chatter')).toMatchObject({
      holds: false,
      trace: [{ press: 'S2' }],
    });
  });

  test('an hour of chatter is told in a few lines', () => {
    const contactor = { tag: 'KM1', type: 'contactor', options: { coil, aux: ['NC 21-22'] } };
    const board = bench([...control, contactor], 'G1:L>S2:13 S2:14>KM1:21 KM1:22>KM1:A1 KM1:A2>G1:N');
    const { mismatches, incidents, events } = run(board, [
      { press: 'S2' },
      { wait: 3600 },
      { expect: { KM1: 'chattering' } },
      { release: 'S2' },
      { wait: 1 },
      { expect: { KM1: 'out' } },
    ]);
    expect(mismatches).toEqual([]);
    expect(incidents.map(({ kind }) => kind)).toEqual(['chatter']);
    expect(events.length).toBeLessThan(20);
  });

  test('two starts held while the supply returns: no two armatures are alike, one of them gets in', () => {
    const steps: Step[] = [{ open: 'G1' }, { press: 'S2' }, { press: 'S3' }, { close: 'G1' }];
    const result = run(harrow, [
      ...steps,
      { wait: 1 },
      { expect: { KM1: 'in', KM2: 'out', bench: 'sound' } },
    ]);
    expect(result.mismatches).toEqual([]);
    expect(result.incidents.filter(({ kind }) => kind === 'chatter')).toEqual([]);
    // And the other one, where it is quicker.
    expect(
      run(harrow, [
        ...steps.slice(0, 3),
        { close: 'G1', first: ['KM2'] },
        { expect: { KM1: 'out', KM2: 'in' } },
      ]).mismatches,
    ).toEqual([]);
  });

  const relays = (count: number) =>
    Array.from({ length: count }, (_, k) => ({
      tag: `K${k + 1}`,
      type: 'relay',
      options: { contacts: ['NO 13-14'], coil },
    }));
  const onOneButton = (count: number) =>
    `G1:L>S2:13 ${relays(count)
      .map(({ tag }) => `S2:14>${tag}:A1 ${tag}:A2>G1:N`)
      .join(' ')}`;

  test.each([12, 15])('%d relays that one waits for: the search says where it stopped', (count) => {
    const own = relays(count);
    const chain = own.slice(1).map(({ tag }, k) => `K${k + 1}:14>${tag}:13`);
    const last = { tag: 'KA', type: 'relay', options: { contacts: ['NO 13-14'], coil } };
    const board = bench(
      [...control, ...own, last],
      `${onOneButton(count)} G1:L>K1:13 ${chain.join(' ')} K${count}:14>KA:A1 KA:A2>G1:N`,
    );
    const proof = prove(board);
    expect(proof).toMatchObject({ complete: false });
    expect(proof.properties.every(({ holds }) => !holds)).toBe(true);
    expect(compare(board, board)).toMatchObject({ complete: false, equivalent: false });
  });

  test('100 relays on one button, none of which another waits for, are proved one by one', () => {
    const board = bench([...control, ...relays(100)], onOneButton(100));
    const proof = prove(board);
    expect(proof.complete).toBe(true);
    expect(proof.parts).toHaveLength(100);
    // Nothing is wired to Stop: that each relay stays in shows on the whole board.
    expect(proof.properties.filter(({ holds }) => !holds).map(({ id }) => id)).toEqual(['stop-drops']);
    expect(proof.properties.find(({ id }) => id === 'stop-drops')?.trace).toHaveLength(2);
    expect(compare(board, board)).toMatchObject({ complete: true, equivalent: true });
  });
});

describe('orders of arrival', () => {
  const jog = { tag: 'S3', type: 'pushbutton', duty: 'jog', options: { contacts: ['NO 13-14', 'NC 21-22'] } };
  const contactor = { tag: 'KM1', type: 'contactor', options: { coil, aux: ['NO 13-14'] } };
  const board = bench(
    [...control, jog, contactor],
    'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>S3:21 S3:22>KM1:13 KM1:14>S2:14 S2:13>S3:13 S3:14>S2:14',
  );

  test('a script names which of two is quicker', () => {
    const end = (first: string[]) =>
      run(board, [{ press: 'S3' }, { release: 'S3', first }, { expect: { KM1: 'in' } }]).ok ? 'in' : 'out';
    expect([end(['S3', 'KM1']), end(['KM1', 'S3']), end([])]).toEqual(['in', 'out', 'out']);
  });

  test('a race is told by the order that the devices’ own travel would not take, and by the other one', () => {
    const race = prove(board).properties.find(({ id }) => id === 'no-race');
    expect(race).toMatchObject({
      holds: false,
      trace: [{ press: 'S3' }, { release: 'S3', first: ['S3', 'KM1'] }],
      otherwise: [{ press: 'S3' }, { release: 'S3' }],
    });
  });

  test('a lag is shorter than any travel: no order makes an armature arrive before another has parted', () => {
    const blower = referenceBench(exercise('blower-star-delta-timer'));
    const bare = rewire(
      blower,
      'KT1:18>KM3:21 KM3:22>KM2:A1 KT1:28>KM2:21 KM2:22>KM3:A1',
      'KT1:18>KM2:A1 KT1:28>KM3:A1',
    );
    expect(
      run(bare, [
        { press: 'S2' },
        { elapse: 'KT1', first: ['KM3', 'KM2'] },
        { wait: 1 },
        { expect: { bench: 'sound', KM3: 'in', KM2: 'out' } },
      ]).mismatches,
    ).toEqual([]);
  });

  test('what is named must be on the bench, and move', () => {
    expect(() => run(board, [{ press: 'S3', first: ['KM9'] }])).not.toThrow();
    expect(readScript({ contactum: 'script/1', steps: [{ press: 'S3', first: 'KM1' }] }).ok).toBe(false);
  });
});

describe('a bench that is shorted as its supply comes on', () => {
  const board = rewire(pump, '', 'Q1:2>Q1:4');
  test('is judged on no-short alone', () => {
    const { properties } = prove(board);
    expect(properties.filter(({ tested }) => tested).map(({ id, holds }) => [id, holds])).toEqual([
      ['no-short', false],
    ]);
    expect(properties.map(({ id }) => id)).toEqual(
      PROPERTY_IDS.filter((id) => id !== 'estop-holds' && id !== 'separate-secondary'),
    );
  });
  test('shows as `bench: short` in a counterexample that a run understands', () => {
    const { counterexample } = compare(pump, board);
    expect(counterexample).toMatchObject({
      steps: [],
      actual: { bench: 'short' },
      expected: { bench: 'sound' },
    });
    expect(run(board, [{ expect: { bench: 'short' } }]).ok).toBe(true);
    expect(run(pump, [{ expect: { bench: 'sound' } }]).ok).toBe(true);
  });
  test('and so does a secondary that is shorted through the bond of N and PE', () => {
    const transformer = referenceBench(exercise('brine-pump-control-transformer'));
    const { incidents } = run(rewire(transformer, '', '1T:X1>1PS:N'), []);
    expect(incidents[0]?.where).toEqual(expect.arrayContaining(['1T:X1', '1PS:N', '1PS:PE', '1T:X2']));
  });
});

test('a motor that is not fed has no connection', () => {
  const blower = referenceBench(exercise('blower-star-delta-timer'));
  expect(
    run(blower, [
      { expect: { 'M1.connection': 'open' } },
      { press: 'S2' },
      { expect: { 'M1.connection': 'star' } },
      { open: 'G1' },
      { expect: { 'M1.connection': 'open' } },
    ]).mismatches,
  ).toEqual([]);
  expect(
    run(pump, [
      { expect: { 'M1.connection': 'open' } },
      { press: 'S2' },
      { expect: { 'M1.connection': 'star' } },
    ]).mismatches,
  ).toEqual([]);
});
