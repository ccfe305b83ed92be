import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  WireCurrents,
  compile,
  isIn,
  prove,
  referenceBench,
  run,
  stateName,
  walkThrough,
  type Bench,
  type Exercise,
  type Step,
} from '@contactum/core';
import { FIXTURES, bench, exercise, readCases, rewire, solverOf } from './help.js';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));
const kinds = (board: Bench, steps: Step[]) => run(board, steps).incidents.map(({ kind }) => kind);

/** Whether an armature of a simulated board is in. */
const wordOf = (board: Simulation, tag: string): string =>
  isIn(board.state[board.solver.circuit.mechanismOf.get(tag) ?? -1] ?? 0) ? 'in' : 'out';

describe('incidents', () => {
  test('a short in the control circuit blows the control fuse, not the motor breaker; what met is named', () => {
    const result = run(rewire(pump, '', 'KM1:A1>G1:N'), [
      { press: 'S2' },
      { expect: { F1: 'blown', Q1: 'closed', KM1: 'out' } },
      { release: 'S2' },
      { reset: 'F1' },
      { expect: { F1: 'closed' } },
    ]);
    expect(result.mismatches).toEqual([]);
    expect(result.incidents.map(({ kind }) => kind)).toEqual(['phase-to-neutral', 'fuse-blown']);
    expect(result.incidents[0]?.where).toEqual(
      expect.arrayContaining(['G1:L1', 'F1:1', 'S2:13', 'S2:14', 'KM1:A1', 'G1:N']),
    );
  });

  test('a short before every protection trips the supply itself', () => {
    expect(run(rewire(pump, '', 'G1:L1>G1:PE'), [{ expect: { G1: 'tripped' } }])).toMatchObject({
      ok: true,
      incidents: [{ kind: 'phase-to-earth' }, { kind: 'breaker-trip', where: ['G1'] }],
    });
    const dc = bench(
      [
        { tag: 'G2', type: 'supply-dc' },
        { tag: 'S1', type: 'pushbutton' },
      ],
      'G2:+>S1:13 S1:14>G2:-',
    );
    expect(kinds(dc, [{ press: 'S1' }])).toEqual(['dc-short', 'breaker-trip']);
  });

  test('phase to phase through two contactors opens the breaker', () => {
    const board = rewire(
      harrow,
      'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      'S2:14>KM1:A1 S3:14>KM2:A1',
    );
    expect(
      run(board, [{ press: 'S2' }, { release: 'S2' }, { press: 'S3' }, { expect: { Q1: 'tripped' } }])
        .mismatches,
    ).toEqual([]);
    expect(kinds(board, [{ press: 'S2' }, { release: 'S2' }, { press: 'S3' }])).toEqual(
      ['phase-to-phase', 'breaker-trip', 'plugging'].slice(0, 2),
    );
  });

  test('lamps burn, coils are overvolted, armatures chatter, a lost line leaves a single-phase field', () => {
    const g = { tag: 'G1', type: 'supply-1n' };
    expect(
      run(bench([g, { tag: 'H1', type: 'lamp', options: { voltage: 24 } }], 'G1:L>H1:X1 H1:X2>G1:N'), [
        { expect: { H1: 'burnt' } },
      ]),
    ).toMatchObject({
      ok: true,
      incidents: [{ kind: 'lamp-burnt', where: ['H1'] }],
    });
    const k = (voltage: number) => ({
      tag: 'K1',
      type: 'relay',
      options: { contacts: ['NC 21-22'], coil: { voltage, kind: 'ac' } },
    });
    expect(kinds(bench([g, k(110)], 'G1:L>K1:A1 K1:A2>G1:N'), [{ wait: 30 }])).toEqual([
      'coil-overvoltage',
      'coil-burnt',
    ]);
    expect(
      run(bench([g, k(230)], 'G1:L>K1:21 K1:22>K1:A1 K1:A2>G1:N'), [
        { wait: 1 },
        { expect: { K1: 'chattering' } },
      ]),
    ).toMatchObject({
      ok: true,
      incidents: [{ kind: 'chatter' }],
    });
    const lost: Step[] = [
      { press: 'S2' },
      { release: 'S2' },
      { wait: 2 },
      { lose: 'G1', phase: 'L3' },
      { expect: { 'M1.driven': 'single-phase', KM1: 'in', 'M1.turning': 'forward' } },
    ];
    expect(run(pump, lost)).toMatchObject({ ok: true, incidents: [{ kind: 'single-phasing' }] });
  });

  test('with the push-buttons interlocked the motor is driven against its turning', () => {
    const devices = harrow.devices.map((device) =>
      device.tag === 'S2' || device.tag === 'S3'
        ? { ...device, options: { contacts: ['NO 13-14', 'NC 21-22'] } }
        : device,
    ) as Bench['devices'];
    const board = rewire(
      { ...harrow, devices },
      'S2:14>KM2:21 S3:14>KM1:21',
      'S2:14>S3:21 S3:22>KM2:21 S3:14>S2:21 S2:22>KM1:21',
    );
    const result = run(board, [
      { press: 'S2' },
      { release: 'S2' },
      { wait: 1 },
      { press: 'S3' },
      { release: 'S3' },
      { expect: { 'M1.driven': 'reverse', 'M1.turning': 'forward' } },
      { wait: 2 },
      { expect: { 'M1.turning': 'reverse' } },
    ]);
    expect(result.mismatches).toEqual([]);
    expect(result.incidents.map(({ kind }) => kind)).toEqual(['plugging']);
  });

  test('a coil that its mechanical interlock holds out hums until it burns', () => {
    const board = rewire(
      { ...harrow, interlocks: [{ kind: 'mechanical', between: ['KM1', 'KM2'] }] },
      'S3:14>KM1:21 KM1:22>KM2:A1',
      'S3:14>KM2:A1',
    );
    const result = run(board, [
      { press: 'S2' },
      { release: 'S2' },
      { press: 'S3' },
      { expect: { KM1: 'in', KM2: 'out', Q1: 'closed' } },
      { wait: 25 },
      { expect: { KM2: 'out' } },
    ]);
    expect(result.mismatches).toEqual([]);
    expect(result.incidents.map(({ kind, where }) => [kind, ...where])).toEqual([['coil-burnt', 'KM2']]);
  });
});

test('a run in time: order of contacts, times of armatures, and the same trace each time', () => {
  const steps: Step[] = [{ press: 'S2' }, { release: 'S2' }, { wait: 1 }, { press: 'S1' }];
  const first = run(pump, steps);
  expect(first.events.map(({ what, state }) => `${what} ${state}`)).toEqual([
    'S2 pressed',
    'KM1 in',
    'M1.driven forward',
    'S2 released',
    'KM1 out',
    'M1.driven none',
    'S1 pressed',
  ]);
  const at = (what: string, state: string) =>
    first.events.find((event) => event.what === what && event.state === state)?.t ?? Number.NaN;
  // A small contactor closes in 10 to 30 ms (common practice, no source).
  expect(at('KM1', 'in') - at('S2', 'pressed')).toBeGreaterThan(0.01);
  expect(at('KM1', 'in') - at('S2', 'pressed')).toBeLessThan(0.03);
  expect(run(pump, steps)).toEqual(first);
});

test('an overload with its dial too low trips on its own, resets only when it has cooled, and starts nothing', () => {
  const simulation = new Simulation(solverOf(pump));
  const give = (...steps: Parameters<typeof simulation.apply>[0][]) => {
    for (const step of steps) simulation.work(step);
  };
  const state = (tag: string) => simulation.state[simulation.solver.circuit.mechanismOf.get(tag) as number];
  give(
    { set: 'F2.dial', to: 2.5 },
    { set: 'M1.load', to: 1.4 },
    { press: 'S2' },
    { release: 'S2' },
    { wait: 900 },
  );
  expect(simulation.incidents.map(({ kind }) => kind)).toEqual(['overload-trip']);
  expect([state('F2'), state('KM1')]).toEqual([1, 0]);
  give({ wait: 600 }, { reset: 'F2' });
  expect([state('F2'), state('KM1')]).toEqual([0, 0]);
});

test('a star-delta start with a timer elapses into delta', () => {
  const result = run(
    bench(
      [
        { tag: 'G1', type: 'supply-1n' },
        {
          tag: 'KT1',
          type: 'timer',
          options: { coil: { voltage: 230, kind: 'ac' } },
          settings: { delay: 10 },
        },
      ],
      'G1:L>KT1:A1 KT1:A2>G1:N',
    ),
    [
      { expect: { KT1: 'timing', 'KT1:15-16': 'closed' } },
      { elapse: 'KT1' },
      { expect: { KT1: 'done', 'KT1:15-18': 'closed' } },
      { open: 'G1' },
      { expect: { KT1: 'idle', 'KT1:15-16': 'closed' } },
    ],
  );
  expect(result.mismatches).toEqual([]);
});

describe('transformer, single-phase motor, brake', () => {
  const us = { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 480, frequency: 60 } };
  const t1 = {
    tag: 'T1',
    type: 'transformer',
    options: { primaryVoltage: 480, secondaryVoltage: 120, va: 100 },
  };
  const f1 = { tag: 'F1', type: 'fuse', options: { rating: 2 } };
  const control = bench(
    [
      us,
      t1,
      f1,
      { tag: 'K1', type: 'relay', options: { base: 'octal-8', coil: { voltage: 120, kind: 'ac' } } },
      { tag: 'S1', type: 'pushbutton' },
    ],
    'G1:L1>T1:H1 G1:L2>T1:H2 T1:X1>F1:1 F1:2>S1:13 S1:14>K1:2 K1:7>T1:X2 T1:X2>G1:PE',
  );

  test('a control transformer feeds a 120 V coil; its secondary, shorted, blows its own fuse', () => {
    const steps: Step[] = [
      {
        expect: {
          'volts(T1:X1, T1:X2)': { min: 119.9, max: 120.1 },
          'volts(T1:X1, G1:N)': { min: 119.9, max: 120.1 },
        },
      },
      { press: 'S1' },
      { expect: { K1: 'in' } },
    ];
    expect(run(control, steps).mismatches).toEqual([]);
    expect(kinds(rewire(control, '', 'K1:2>T1:X2'), [{ press: 'S1' }])).toEqual([
      'phase-to-neutral',
      'fuse-blown',
    ]);
    expect(run(rewire(control, '', 'T1:X1>T1:X2'), [{ expect: { G1: 'tripped' } }]).ok).toBe(true);
  });

  test('an unearthed secondary floats: nothing to earth, all of it across', () => {
    const floating = rewire(control, 'T1:X2>G1:PE');
    expect(
      run(floating, [
        { press: 'S1' },
        { expect: { K1: 'in', 'volts(T1:X1, G1:PE)': { max: 0.01 }, 'volts(T1:X1, T1:X2)': { min: 119 } } },
      ]).mismatches,
    ).toEqual([]);
  });

  test('a loaded secondary drops by about its 6 % at rated load', () => {
    const loaded = bench(
      [us, t1, { tag: 'Z1', type: 'impedance', options: { ohms: 144 } }],
      'G1:L1>T1:H1 G1:L2>T1:H2 T1:X1>Z1:1 Z1:2>T1:X2',
    );
    const result = run(loaded, [
      {
        expect: {
          'volts(T1:X1, T1:X2)': { min: 112.5, max: 113.5 },
          'amps(Z1:1)': { min: 0.78, max: 0.79 },
          'amps(T1:H1)': { min: 0.194, max: 0.198 },
        },
      },
    ]);
    expect(result.mismatches).toEqual([]);
  });

  test('a single-phase motor turns forward and reaches its plate speed at rated load', () => {
    const motor = {
      tag: 'M1',
      type: 'motor-1',
      options: { plate: { kW: 0.55, voltage: 230, frequency: 50, speed: 1420, current: 4 } },
      settings: { load: 1 },
    };
    const board = bench([{ tag: 'G1', type: 'supply-1n' }, motor], 'G1:L>M1:U1 M1:U2>G1:N M1:PE>G1:PE');
    expect(
      run(board, [
        { wait: 8 },
        {
          expect: {
            'M1.driven': 'forward',
            'M1.turning': 'forward',
            'M1.speed': { min: 1410, max: 1430 },
            'M1.current': { min: 3.5, max: 4.5 },
          },
        },
      ]).mismatches,
    ).toEqual([]);
  });

  test('a spring-applied brake stops the shaft and holds it until its coil releases it', () => {
    const devices = [
      ...pump.devices.map((device) => ({ ...device })),
      { tag: 'YB1', type: 'brake', options: { coil: { voltage: 400, kind: 'ac' }, motor: 'M1' } },
    ];
    const wires = pump.wires.map(({ from, to }) => `${from}>${to}`).join(' ');
    const coast = (board: Bench) => {
      const simulation = new Simulation(solverOf(board));
      for (const step of [{ press: 'S2' }, { release: 'S2' }, { wait: 2 }, { press: 'S1' }, { wait: 0.25 }])
        simulation.work(step);
      return simulation.shafts[0]?.speed ?? 0;
    };
    const braked = coast(bench(devices, `${wires} KM1:2>YB1:B1 KM1:4>YB1:B2`));
    expect(braked).toBeLessThan(coast(pump) - 20);
    // Without its coil the brake holds the motor, which stalls.
    expect(
      kinds(bench(devices, wires), [
        { set: 'M1.load', to: 1 },
        { press: 'S2' },
        { release: 'S2' },
        { wait: 3 },
      ]),
    ).toContain('stall');
  });
});

test('coils on the wrong kind of current: AC on DC pulls in and burns, DC on AC only hums; the proof names both', () => {
  const board = (kind: 'ac' | 'dc', supply: object, ends: [string, string]) =>
    bench(
      [
        supply,
        { tag: 'K1', type: 'relay', options: { contacts: ['NO 13-14'], coil: { voltage: 24, kind } } },
      ],
      `${ends[0]}>K1:A1 K1:A2>${ends[1]}`,
    );
  const onDc = board('ac', { tag: 'G2', type: 'supply-dc' }, ['G2:+', 'G2:-']);
  expect(run(onDc, [{ expect: { K1: 'in' } }, { wait: 30 }, { expect: { K1: 'out' } }])).toMatchObject({
    ok: true,
    incidents: [{ kind: 'coil-burnt', where: ['K1'] }],
  });
  const onAc = board('dc', { tag: 'G1', type: 'supply-1n', options: { voltage: 24 } }, ['G1:L', 'G1:N']);
  expect(run(onAc, [{ expect: { K1: 'out' } }]).ok).toBe(true);
  for (const [wrong, found] of [
    [onDc, 'coil K1 has 100 % DC of its 24 V AC'],
    [onAc, 'coil K1 has 100 % AC of its 24 V DC'],
  ] as const) {
    expect(prove(wrong).properties.find(({ id }) => id === 'coil-voltage')).toMatchObject({
      holds: false,
      found,
    });
  }
});

test('limit switches that the load reaches: it stops at each end by itself and leaves it only the other way', () => {
  const limit = (tag: string, end: string) => ({
    tag,
    type: 'limit-switch',
    duty: 'limit',
    options: { travel: { motor: 'M1', end } },
  });
  const devices = [
    ...harrow.devices.map((device) => ({ ...device })),
    limit('B1', 'forward'),
    limit('B2', 'reverse'),
  ];
  const wires = rewire(harrow, 'S2:14>KM2:21 S3:14>KM1:21').wires.map(({ from, to }) => `${from}>${to}`);
  const board = bench(devices, `${wires.join(' ')} S2:14>B1:21 B1:22>KM2:21 S3:14>B2:21 B2:22>KM1:21`);
  const result = run(board, [
    { press: 'S2' },
    { release: 'S2' },
    { wait: 3 },
    { expect: { KM1: 'in', B1: 'released' } },
    { wait: 3 },
    { expect: { KM1: 'out', B1: 'pressed', 'M1.driven': 'none' } },
    { press: 'S2' },
    { release: 'S2' },
    { expect: { KM1: 'out' } },
    { press: 'S3' },
    { release: 'S3' },
    { expect: { KM2: 'in' } },
    { wait: 2 },
    { expect: { B1: 'released', B2: 'released' } },
    { wait: 10 },
    { expect: { KM2: 'out', B2: 'pressed', 'M1.turning': 'stopped' } },
  ]);
  expect(result.mismatches).toEqual([]);
  expect(result.incidents).toEqual([]);
});

describe('starts in time against ngspice transients (decks written by hand in fixtures/ngspice/transient)', () => {
  const known = JSON.parse(
    readFileSync(join(FIXTURES, 'ngspice', 'transient', 'values.json'), 'utf8'),
  ) as Record<string, Record<string, number>>;
  const at = (simulation: Simulation, what: string, state: string) =>
    simulation.events.find((event) => event.what === what && event.state === state)?.t ?? Number.NaN;

  test('seal-in: pulls in, holds when let go, drops out on Stop', () => {
    const simulation = new Simulation(solverOf(pump));
    simulation.apply({ press: 'S2' });
    simulation.advance(0.06);
    simulation.apply({ release: 'S2' });
    simulation.advance(0.2);
    simulation.apply({ press: 'S1' });
    simulation.advance(0.3);
    const values = known['seal-in'] ?? {};
    expect(Math.abs(at(simulation, 'KM1', 'in') - (values.km1_in ?? 0))).toBeLessThan(0.001);
    // The trace names an armature out when it leaves; ngspice tells when its contact opens: the same moment.
    expect(Math.abs(at(simulation, 'KM1', 'out') - (values.km1_out ?? 0))).toBeLessThan(0.001);
  });

  test('star-delta: main and star, ten seconds, delta; the speed that the shaft has reached', () => {
    const board = readCases().find(({ name }) => name === 'run-sd-ref.json')?.bench as Bench;
    const simulation = new Simulation(solverOf(board));
    simulation.apply({ press: 'S2' });
    simulation.advance(0.06);
    simulation.apply({ release: 'S2' });
    simulation.advance(11.9);
    const values = known['star-delta-start'] ?? {};
    const times = {
      km1_in: at(simulation, 'KM1', 'in'),
      km2_in: at(simulation, 'KM2', 'in'),
      km2_out: at(simulation, 'KM2', 'out'),
      km3_in: at(simulation, 'KM3', 'in'),
    };
    for (const [name, t] of Object.entries(times))
      expect({ name, apart: Math.abs(t - (values[name] ?? 0)) < 0.001 }).toEqual({ name, apart: true });
    const speed = (simulation.shafts[0]?.speed ?? 0) / (simulation.solver.motors[0]?.synchronous ?? 1);
    expect(Math.abs(speed / (values.speed ?? 0) - 1)).toBeLessThan(0.005);
  });
});

describe('motors in every wiring', () => {
  const plate = {
    kW: 1.5,
    voltage: 400,
    connection: 'delta',
    speed: 1420,
    current: 3.4,
    cosPhi: 0.8,
    startCurrentRatio: 5.5,
    startTorqueRatio: 2.2,
    breakdownTorqueRatio: 2.6,
  };
  const devices = [
    { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 400, sourceOhms: 0.001 } },
    { tag: 'M1', type: 'motor-3', options: { leads: 6, plate }, settings: { load: 0.2 } },
  ];
  const lines = 'G1:L1>M1:U1 G1:L2>M1:V1 G1:L3>M1:W1 G1:PE>M1:PE';
  const wired = (links: string) => bench(devices, `${lines} ${links}`);
  const after = (
    links: string,
    seconds: number,
    expect: Record<string, string | { min?: number; max?: number }>,
  ) => run(wired(links), [{ wait: seconds }, { expect }]).mismatches;

  test('star, delta, open; delta linked the other way is a delta too; two exchanged lines turn it back', () => {
    expect(
      after('M1:U2>M1:V2 M1:V2>M1:W2', 3, {
        'M1.connection': 'star',
        'M1.driven': 'forward',
        'M1.turning': 'forward',
      }),
    ).toEqual([]);
    expect(
      after('M1:U1>M1:W2 M1:V1>M1:U2 M1:W1>M1:V2', 3, {
        'M1.connection': 'delta',
        'M1.driven': 'forward',
        'M1.speed': { min: 1440, max: 1500 },
      }),
    ).toEqual([]);
    expect(
      after('M1:U1>M1:V2 M1:V1>M1:W2 M1:W1>M1:U2', 3, { 'M1.connection': 'delta', 'M1.driven': 'forward' }),
    ).toEqual([]);
    expect(
      after('', 1, {
        'M1.connection': 'open',
        'M1.driven': 'none',
        'M1.turning': 'stopped',
        'M1.current': { min: 0, max: 0 },
      }),
    ).toEqual([]);
    const back = bench(devices, 'G1:L2>M1:U1 G1:L1>M1:V1 G1:L3>M1:W1 G1:PE>M1:PE M1:U2>M1:V2 M1:V2>M1:W2');
    expect(
      run(back, [{ wait: 3 }, { expect: { 'M1.driven': 'reverse', 'M1.turning': 'reverse' } }]).mismatches,
    ).toEqual([]);
  });

  test('a reversed winding in star makes a field of both directions and draws more than twice the current', () => {
    const amps = (links: string) => {
      const simulation = new Simulation(solverOf(wired(links)));
      simulation.advance(3);
      return simulation.shafts[0]?.amps ?? 0;
    };
    const wrong = bench(devices, 'G1:L1>M1:U2 G1:L2>M1:V1 G1:L3>M1:W1 G1:PE>M1:PE M1:U1>M1:V2 M1:V2>M1:W2');
    const simulation = new Simulation(solverOf(wrong));
    simulation.advance(3);
    expect(simulation.shafts[0]?.amps).toBeGreaterThan(2 * amps('M1:U2>M1:V2 M1:V2>M1:W2'));
    const field = simulation.solution.motors[0];
    expect(Math.min(field?.positive ?? 0, field?.negative ?? 0)).toBeGreaterThan(20);
  });

  test('a line lost while running: it runs on, draws more, and the relay trips; from rest it only hums', () => {
    const steps: Step[] = [
      { press: 'S2' },
      { release: 'S2' },
      { wait: 3 },
      { lose: 'G1', phase: 'L2' },
      { wait: 5 },
      { expect: { KM1: 'in', 'M1.turning': 'forward', 'M1.driven': 'single-phase' } },
      { wait: 900 },
      { expect: { F2: 'tripped', KM1: 'out' } },
    ];
    const loaded = {
      ...pump,
      devices: pump.devices.map((device) =>
        device.tag === 'M1' ? { ...device, settings: { load: 0.9 } } : device,
      ) as Bench['devices'],
    };
    const result = run(loaded, steps);
    expect(result.mismatches).toEqual([]);
    expect(result.incidents.map(({ kind }) => kind)).toEqual(['single-phasing', 'overload-trip']);
    const rest = run(pump, [
      { lose: 'G1', phase: 'L2' },
      { press: 'S2' },
      { release: 'S2' },
      { wait: 2.5 },
      {
        expect: {
          KM1: 'in',
          'M1.turning': 'stopped',
          'M1.driven': 'single-phase',
          'M1.current': { min: 10 },
        },
      },
    ]);
    expect(rest.mismatches).toEqual([]);
    expect(rest.incidents.map(({ kind }) => kind)).toEqual(['single-phasing', 'stall']);
  });

  test('an armature pushed in by hand: on a dead board its contacts are operated; on a live one it is an incident, and the hold takes over', () => {
    const board = new Simulation(solverOf(referenceBench(exercise('brine-pump-three-wire'))));
    for (const step of [{ open: 'G1' }, { pushIn: 'KM1' }] as const) board.work(step);
    expect(wordOf(board, 'KM1')).toBe('in');
    board.work({ letOut: 'KM1' });
    expect(wordOf(board, 'KM1')).toBe('out');
    expect(board.incidents).toEqual([]);
    for (const step of [{ close: 'G1' }, { pushIn: 'KM1' }, { letOut: 'KM1' }] as const) board.work(step);
    expect(board.incidents).toMatchObject([{ kind: 'pushed-in-live', where: ['KM1'] }]);
    expect(wordOf(board, 'KM1')).toBe('in');
    board.work({ press: 'S1' });
    expect(wordOf(board, 'KM1')).toBe('out');
    // What a hand does is no fault of the board.
    expect(board.faults).toEqual([]);
  });

  test('a mechanical interlock keeps an armature out that a hand pushes', () => {
    const board = new Simulation(solverOf(referenceBench(exercise('salt-harrow-mechanical-interlock'))));
    for (const step of [{ press: 'S2' }, { release: 'S2' }, { pushIn: 'KM2' }] as const) board.work(step);
    expect([wordOf(board, 'KM1'), wordOf(board, 'KM2')]).toEqual(['in', 'out']);
    for (const step of [{ letOut: 'KM2' }, { press: 'S1' }, { release: 'S1' }, { pushIn: 'KM2' }] as const)
      board.work(step);
    expect([wordOf(board, 'KM1'), wordOf(board, 'KM2')]).toEqual(['out', 'in']);
  });

  test('slip: a motor of four poles at 60 Hz that runs at 1745 rpm slips by 3.06 % (arithmetic)', () => {
    expect((1 - 1745 / 1800) * 100).toBeCloseTo(3.06, 2);
    const simulation = new Simulation(
      solverOf(
        bench(
          [
            { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 460, frequency: 60 } },
            {
              tag: 'M1',
              type: 'motor-3',
              options: {
                leads: 3,
                plate: { ...plate, connection: 'star', voltage: 460, frequency: 60, speed: 1745 },
              },
              settings: { load: 1 },
            },
          ],
          'G1:L1>M1:U G1:L2>M1:V G1:L3>M1:W G1:PE>M1:PE',
        ),
      ),
    );
    simulation.advance(6);
    // Copper losses draw the motor a little below its plate speed.
    expect(Math.abs((simulation.slips[0] ?? 0) * 100 - 3.06)).toBeLessThan(0.1);
  });

  test('a relay in the winding branch carries 0.58 of the line current (arithmetic: 1/√3)', () => {
    const segment = bench(
      [...devices, { tag: 'F2', type: 'overload', options: { range: [1, 4] }, settings: { dial: 4 } }],
      'G1:L1>F2:1 G1:L2>F2:3 G1:L3>F2:5 F2:2>M1:U1 F2:4>M1:V1 F2:6>M1:W1 G1:L1>M1:W2 G1:L2>M1:U2 G1:L3>M1:V2 G1:PE>M1:PE',
    );
    const solver = solverOf(segment);
    const simulation = new Simulation(solver);
    simulation.advance(4);
    const currents = new WireCurrents(
      solver,
      simulation.state,
      solver.solve(simulation.state, simulation.slips),
      simulation.slips,
    );
    const into = (ref: string) => currents.into(solver.circuit.indexOf.get(ref) as never).value;
    expect(into('F2:1') / (simulation.shafts[0]?.amps ?? 1)).toBeCloseTo(1 / Math.sqrt(3), 3);
  });

  test('voltage on a frame that is not earthed is an incident', () => {
    expect(kinds(rewire(pump, 'G1:PE>M1:PE', 'KM1:2>M1:PE'), [{ press: 'S2' }])).toEqual(['live-earth']);
  });
});

describe('timers', () => {
  const coil = { voltage: 230, kind: 'ac' };
  test('off-delay: closes at once, opens its time after release', () => {
    const board = bench(
      [
        { tag: 'G1', type: 'supply-1n' },
        { tag: 'S1', type: 'pushbutton' },
        {
          tag: 'KT1',
          type: 'timer',
          options: { function: 'off-delay', coil, instant: ['NO 23-24'] },
          settings: { delay: 3 },
        },
      ],
      'G1:L>S1:13 S1:14>KT1:A1 KT1:A2>G1:N',
    );
    const result = run(board, [
      { expect: { KT1: 'idle', 'KT1:15-18': 'open' } },
      { press: 'S1' },
      { expect: { KT1: 'done', 'KT1:15-18': 'closed', 'KT1:23-24': 'closed' } },
      { release: 'S1' },
      { expect: { KT1: 'timing', 'KT1:15-18': 'closed', 'KT1:23-24': 'open' } },
      { wait: 2.9 },
      { expect: { 'KT1:15-18': 'closed' } },
      { elapse: 'KT1' },
      { expect: { KT1: 'idle', 'KT1:15-18': 'open', 'KT1:15-16': 'closed' } },
    ]);
    expect(result.mismatches).toEqual([]);
  });

  test('star-delta: star at once, its time, a pause, delta', () => {
    const board = bench(
      [
        { tag: 'G1', type: 'supply-1n' },
        { tag: 'KT1', type: 'star-delta-timer', options: { coil, pause: 0.1 }, settings: { delay: 5 } },
      ],
      'G1:L>KT1:A1 KT1:A2>G1:N',
    );
    const result = run(board, [
      { expect: { KT1: 'timing', 'KT1:17-18': 'closed', 'KT1:17-28': 'open' } },
      { wait: 5.05 },
      { expect: { 'KT1:17-18': 'open', 'KT1:17-28': 'open' } },
      { wait: 0.1 },
      { expect: { KT1: 'done', 'KT1:17-18': 'open', 'KT1:17-28': 'closed' } },
      { open: 'G1' },
      { expect: { KT1: 'idle', 'KT1:17-28': 'open' } },
    ]);
    expect(result.mismatches).toEqual([]);
  });

  test('an overload set to reset by itself closes again when it has cooled', () => {
    const auto = {
      ...pump,
      devices: pump.devices.map((device) =>
        device.tag === 'F2' ? { ...device, settings: { dial: 3.4, reset: 'auto' } } : device,
      ) as Bench['devices'],
    };
    expect(run(auto, [{ trip: 'F2' }, { wait: 1 }, { expect: { F2: 'healthy' } }]).mismatches).toEqual([]);
    const hot = run(auto, [
      { set: 'F2.dial', to: 2.5 },
      { set: 'M1.load', to: 1.5 },
      { press: 'S2' },
      { release: 'S2' },
      { wait: 400 },
      { expect: { KM1: 'out' } },
      { wait: 600 },
      { expect: { F2: 'healthy', KM1: 'out' } },
    ]);
    expect(hot.mismatches).toEqual([]);
  });
});

test('coil limits of IEC 60947-4-1 (from memory): in from 85 %, holds to half, out below', () => {
  const km = { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } };
  const fed = (voltage: number) =>
    bench(
      [{ tag: 'G1', type: 'supply-1n', options: { voltage, sourceOhms: 0.001 } }, km],
      'G1:L>KM1:A1 KM1:A2>G1:N',
    );
  for (const [perUnit, state] of [
    [0.84, 'out'],
    [0.86, 'in'],
    [1.1, 'in'],
  ] as const)
    expect(run(fed(230 * perUnit), [{ expect: { KM1: state } }]).mismatches).toEqual([]);
  expect(kinds(fed(230 * 1.09), [{ wait: 60 }])).toEqual([]);
  expect(kinds(fed(230 * 1.12), [{ wait: 1 }])).toEqual(['coil-overvoltage']);
  // S1 puts a resistor in series with the sealed coil (6612 Ω at cos φ 0.3): 60 % of its voltage is left,
  // or 40 %.
  const sagging = (ohms: number) =>
    bench(
      [
        { tag: 'G1', type: 'supply-1n', options: { voltage: 230 } },
        { tag: 'S1', type: 'pushbutton', options: { contacts: ['NC 21-22'] } },
        { tag: 'Z1', type: 'impedance', options: { ohms } },
        km,
      ],
      'G1:L>S1:21 S1:22>KM1:A1 S1:21>Z1:1 Z1:2>S1:22 KM1:A2>G1:N',
    );
  expect(
    run(sagging(7051), [
      { press: 'S1' },
      { expect: { KM1: 'in', 'volts(KM1:A1, KM1:A2)': { min: 137, max: 139 } } },
    ]).mismatches,
  ).toEqual([]);
  expect(
    run(sagging(13295), [
      { press: 'S1' },
      { expect: { KM1: 'out' } },
      { release: 'S1' },
      { expect: { KM1: 'in' } },
    ]).mismatches,
  ).toEqual([]);
});

test('a single-phase motor whose current is looped through all three poles of its relay does not look like a lost line', () => {
  const board = bench(
    [
      { tag: 'G1', type: 'supply-1n' },
      { tag: 'F2', type: 'overload', options: { range: [3, 6] }, settings: { dial: 4.2 } },
      {
        tag: 'M1',
        type: 'motor-1',
        options: { plate: { kW: 0.55, voltage: 230, frequency: 50, speed: 1420, current: 4 } },
        settings: { load: 1 },
      },
    ],
    'G1:L>F2:1 F2:2>F2:3 F2:4>F2:5 F2:6>M1:U1 M1:U2>G1:N M1:PE>G1:PE',
  );
  expect(run(board, [{ wait: 3600 }, { expect: { F2: 'healthy', 'M1.turning': 'forward' } }])).toMatchObject({
    ok: true,
    incidents: [],
  });
});

test('a walk through says which coil first, what its contacts do, what waits for time', () => {
  const pump = exercise('brine-pump-three-wire');
  const walked = (one: Exercise, id: string) =>
    walkThrough(
      new Solver(compile(referenceBench(one))),
      one.behaviours.find((behaviour) => behaviour.id === id)!.steps,
    );
  expect(walked(pump, 'stops').map(({ says }) => says)).toEqual([
    [
      'S2 (Start) is pressed: its 13-14 closes.',
      'KM1 pulls in: its 13-14 closes, its poles close.',
      'M1 is driven forward.',
    ],
    ['S2 (Start) is released: its 13-14 opens.'],
    [
      'S1 (Stop) is pressed: its 21-22 opens.',
      'KM1 drops out: its 13-14 opens, its poles open.',
      'M1 is not driven any more.',
    ],
    ['S1 (Stop) is released: its 21-22 closes.'],
  ]);
  const blower = walked(exercise('blower-star-delta-main-from-start'), 'stop-delta');
  const changeover = blower.find(({ stimulus }) => 'elapse' in stimulus)!.says.join(' ');
  expect(changeover).toMatch(
    /KT1 has run out: its 15-16 opens, its 15-18 closes.*KM2 drops out.*KM3 pulls in/,
  );
});

test('a timer that begins anew again and again is waited for as long as it is set to, not for ever', () => {
  const contactor = (tag: string, contact: string) => ({
    tag,
    type: 'contactor',
    options: { coil: { voltage: 230, kind: 'ac' }, aux: [contact] },
  });
  // Two contactors, one after the other, cut the coil of the timer by which they are fed.
  const board = bench(
    [
      { tag: 'G1', type: 'supply-1n' },
      {
        tag: 'KT1',
        type: 'timer',
        options: { coil: { voltage: 230, kind: 'ac' }, instant: ['NO 23-24'] },
        settings: { delay: 3 },
      },
      contactor('KM1', 'NC 21-22'),
      contactor('KM2', 'NO 13-14'),
    ],
    `G1:L>KM1:21 KM1:22>KT1:A1 KT1:A2>G1:N G1:L>KT1:23 KT1:24>KM2:A1 KM2:A2>G1:N
     G1:L>KM2:13 KM2:14>KM1:A1 KM1:A2>G1:N`,
  );
  const simulation = new Simulation(solverOf(board));
  const { mechanismOf, mechanisms } = simulation.solver.circuit;
  const timer = mechanisms[mechanismOf.get('KT1')!]!;
  for (let k = 0; k < 200 && stateName(timer, simulation.state[timer.index]!) !== 'timing'; k += 1)
    simulation.apply({ wait: 0.001 });
  expect(stateName(timer, simulation.state[timer.index]!)).toBe('timing');
  const before = simulation.t;
  simulation.apply({ elapse: 'KT1' });
  expect(simulation.t - before).toBeGreaterThan(2);
  expect(simulation.t - before).toBeLessThan(3 + 1e-9);
});
