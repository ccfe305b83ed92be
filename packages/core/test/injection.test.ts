import { describe, expect, test } from '@jest/globals';
import {
  FAULT_KINDS,
  Simulation,
  Solver,
  compile,
  describeFault,
  faultKey,
  faultProblem,
  isExpectation,
  possibleFaults,
  readFault,
  referenceBench,
  run,
  runSteps,
  solverWith,
  writeFault,
  type Bench,
  type Step,
  type WrittenFault,
} from '@contactum/core';
import { readExercise, readObservations, readScript } from '@contactum/core/documents';
import { bench, exercise, exercises, must, solverOf } from './help.js';

const boardOf = (id: string): Bench => referenceBench(exercise(id));
const pump = boardOf('brine-pump-three-wire');
const lamps = boardOf('brine-pump-lamps');
const harrow = boardOf('salt-harrow-mechanical-interlock');
const controlled = boardOf('brine-pump-controller');
const blower = boardOf('blower-star-delta-main-from-start');
const transformer = boardOf('brine-pump-control-transformer');

const press = (tag: string): Step => ({ press: tag });
const release = (tag: string): Step => ({ release: tag });
const push = (tag: string): Step[] => [press(tag), release(tag)];
const inject = (fault: WrittenFault): Step => ({ inject: fault });
const clear = (fault: WrittenFault): Step => ({ clear: fault });
const see = (expected: Record<string, string | { min?: number; max?: number }>): Step => ({
  expect: expected,
});

/**
 * What a fault does, on a board that has it from the first moment (trade common practice, no source, where
 * nothing is named).
 */
const SYMPTOMS: readonly [title: string, board: Bench, fault: WrittenFault, steps: Step[]][] = [
  [
    'a broken wire in the hold',
    pump,
    { 'open-wire': 'KM1:14 KM1:A1' },
    [press('S2'), see({ KM1: 'in' }), release('S2'), see({ KM1: 'out' })],
  ],
  [
    'a loose wire before the coil',
    pump,
    { 'loose-wire': 'S2:14 KM1:A1' },
    [press('S2'), see({ KM1: 'out', 'ohms(S2:14, KM1:A1)': { min: 1999, max: 2001 } })],
  ],
  [
    'a lead on the wrong terminal',
    pump,
    { 'wrong-wire': 'KM1:13 S2:13', to: 'F2:95' },
    [...push('S2'), see({ KM1: 'in' }), press('S1'), see({ KM1: 'in' })],
  ],
  [
    'an input that is dead',
    controlled,
    { 'input-dead': 'A1:I0.1' },
    [press('S2'), see({ 'A1.I0.1': 'off', KM1: 'out', 'volts(A1:I0.1, A1:IC)': { min: 20 } })],
  ],
  [
    'a controller that is left in stop',
    controlled,
    { 'plc-stopped': 'A1' },
    [
      see({ A1: 'stop' }),
      ...push('S2'),
      see({ KM1: 'out' }),
      { turn: 'A1', to: 'run' },
      ...push('S2'),
      see({ A1: 'run', KM1: 'in' }),
    ],
  ],
  [
    'a bridge across Start',
    pump,
    { 'extra-wire': 'S2:13 S2:14' },
    [see({ KM1: 'in', 'M1.driven': 'forward' })],
  ],
  [
    'a contact that never makes',
    pump,
    { 'contact-stuck-open': 'KM1:13-14' },
    [press('S2'), see({ KM1: 'in', 'KM1:13-14': 'open' }), release('S2'), see({ KM1: 'out' })],
  ],
  [
    'a Stop that never opens',
    pump,
    { 'contact-stuck-closed': 'S1:21-22' },
    [...push('S2'), press('S1'), see({ KM1: 'in', 'S1:21-22': 'closed' })],
  ],
  [
    'a burnt coil',
    pump,
    { 'coil-open': 'KM1' },
    [press('S2'), see({ KM1: 'out', 'volts(KM1:A1, KM1:A2)': { min: 215 } })],
  ],
  [
    'a shorted coil',
    pump,
    { 'coil-shorted': 'KM1' },
    [press('S2'), see({ bench: 'short', F1: 'blown', KM1: 'out' })],
  ],
  [
    'a coil for 400 V on 230 V',
    pump,
    { 'wrong-coil-voltage': 'KM1', volts: 400 },
    [press('S2'), see({ KM1: 'out', 'volts(KM1:A1, KM1:A2)': { min: 215 } })],
  ],
  [
    'an armature that is jammed out',
    pump,
    { 'armature-jammed': 'KM1' },
    [press('S2'), see({ KM1: 'out', 'M1.driven': 'none' })],
  ],
  [
    'an armature that is jammed in',
    pump,
    { 'armature-jammed': 'KM1', position: 'in' },
    [see({ KM1: 'in', 'M1.driven': 'forward' }), press('S1'), see({ KM1: 'in' })],
  ],
  [
    'a relay set too low',
    pump,
    { 'overload-misset': 'F2', dial: 2.5 },
    [
      see({ 'F2.dial': { min: 2.5, max: 2.5 } }),
      { set: 'M1.load', to: 1 },
      ...push('S2'),
      { wait: 900 },
      see({ F2: 'tripped', KM1: 'out' }),
    ],
  ],
  [
    'a relay that does not reset',
    pump,
    { 'overload-will-not-reset': 'F2' },
    [{ trip: 'F2' }, { reset: 'F2' }, see({ F2: 'tripped' })],
  ],
  [
    'a relay that does not trip',
    pump,
    { 'overload-will-not-trip': 'F2' },
    [...push('S2'), { trip: 'F2' }, see({ F2: 'healthy', KM1: 'in' })],
  ],
  [
    'a timer set to a second',
    blower,
    { 'timer-misset': 'KT1', delay: 1 },
    [...push('S2'), { wait: 1.5 }, see({ KM3: 'in', KM2: 'out' })],
  ],
  [
    'a dead timer',
    blower,
    { 'timer-dead': 'KT1' },
    [...push('S2'), { elapse: 'KT1' }, { wait: 100 }, see({ KT1: 'timing', KM2: 'in', KM3: 'out' })],
  ],
  [
    'a blown fuse, replaced',
    pump,
    { 'blown-fuse': 'F1' },
    [
      see({ F1: 'blown' }),
      press('S2'),
      see({ KM1: 'out' }),
      release('S2'),
      { reset: 'F1' },
      press('S2'),
      see({ KM1: 'in' }),
    ],
  ],
  [
    'a lost line',
    pump,
    { 'lost-phase': 'G1:L2' },
    [...push('S2'), see({ KM1: 'in', 'M1.driven': 'single-phase' })],
  ],
  [
    'the line of the control circuit lost',
    pump,
    { 'lost-phase': 'G1:L1' },
    [press('S2'), see({ KM1: 'out' })],
  ],
  [
    'two lines exchanged',
    pump,
    { 'swapped-phases': 'G1:L1 G1:L2' },
    [...push('S2'), see({ 'M1.driven': 'reverse' })],
  ],
  [
    'two motor leads exchanged',
    pump,
    { 'swapped-phases': 'M1:U M1:V' },
    [...push('S2'), see({ 'M1.driven': 'reverse' })],
  ],
  [
    'an open neutral',
    pump,
    { 'open-neutral': 'G1:N' },
    [
      press('S2'),
      see({ KM1: 'out', 'volts(KM1:A2, G1:L1)': { max: 1 }, 'volts(KM1:A2, G1:PE)': { min: 215 } }),
    ],
  ],
  ['an open frame', pump, { 'open-earth': 'M1:PE' }, [see({ 'ohms(M1:PE, G1:PE)': { min: 1e6 } })]],
  [
    'a live terminal on earth',
    pump,
    { 'earth-fault': 'KM1:A1' },
    [press('S2'), see({ bench: 'short', F1: 'blown' })],
  ],
  [
    'a winding that is open',
    blower,
    { 'winding-open': 'M1:U1-U2' },
    [...push('S2'), see({ 'M1.driven': 'single-phase', 'ohms(M1:U1, M1:U2)': { min: 1e6 } })],
  ],
  [
    'a lead broken in a motor with three',
    pump,
    { 'winding-open': 'M1:W' },
    [...push('S2'), see({ 'M1.driven': 'single-phase' })],
  ],
  [
    'a winding the wrong way round',
    blower,
    { 'winding-reversed': 'M1:U1-U2' },
    [...push('S2'), { wait: 1 }, see({ 'M1.connection': 'star', 'M1.driven': 'reverse' })],
  ],
  [
    'the wrong tap',
    transformer,
    { 'wrong-tap': '1T', secondaryVoltage: 60 },
    [press('2PB'), see({ '1M': 'out', 'volts(1T:X1, 1T:X2)': { min: 50, max: 65 } })],
  ],
  [
    'no mechanical interlock',
    { ...harrow },
    { 'interlock-missing': 'KM1 KM2' },
    [
      inject({ 'contact-stuck-closed': 'KM2:21-22' }),
      inject({ 'contact-stuck-closed': 'KM1:21-22' }),
      { together: [{ press: 'S2' }, { press: 'S3' }] },
      see({ bench: 'short' }),
    ],
  ],
  ['a lamp that has failed', lamps, { 'lamp-failed': 'H1' }, [see({ H1: 'dark' })]],
];

describe('every kind of fault', () => {
  test('is among these', () => {
    const kinds = new Set(SYMPTOMS.map(([, , fault]) => readFault(fault).kind));
    expect(FAULT_KINDS.filter((kind) => !kinds.has(kind))).toEqual([]);
  });

  for (const [title, board, fault, steps] of SYMPTOMS)
    test(`${title}: its symptom is worked out, from the beginning and injected; the sound board shows another`, () => {
      expect(faultProblem(compile(board), readFault(fault))).toBeNull();
      expect(runSteps(solverOf(board), steps, { faults: [readFault(fault)] }).mismatches).toEqual([]);
      expect(run(board, [inject(fault), ...steps]).mismatches).toEqual([]);
      expect(run(board, steps).ok).toBe(false);
      expect(describeFault(readFault(fault))).not.toBe('');
      expect(faultKey(readFault(writeFault(readFault(fault))))).toBe(faultKey(readFault(fault)));
    });
});

test('what can go wrong is made from the board, each once, and each has a place on it', () => {
  for (const one of exercises()) {
    const circuit = compile(referenceBench(one));
    const faults = possibleFaults(circuit);
    expect(faults.filter((fault) => faultProblem(circuit, fault) !== null)).toEqual([]);
    expect(new Set(faults.map(faultKey)).size).toBe(faults.length);
    expect(faults.filter(({ kind }) => kind === 'open-wire')).toHaveLength(circuit.bench.wires.length);
  }
});

test('a fault that is taken out again leaves the board as it was: every fault of four boards, worked through every behaviour', () => {
  for (const id of [
    'brine-pump-lamps',
    'sluice-gate-jog-relay',
    'salt-harrow-mechanical-interlock',
    'brine-pump-24-v-dc-control',
  ]) {
    const one = exercise(id);
    const sound = new Solver(compile(referenceBench(one)));
    const supply = sound.circuit.sources[0]!.tag;
    // With the supply off nothing is damaged on the way.
    const wrong = possibleFaults(sound.circuit).flatMap((fault) => {
      const written = writeFault(fault);
      const [first] = one.behaviours;
      const steps = [{ open: supply }, inject(written), clear(written), { close: supply }, ...first!.steps];
      const result = runSteps(sound, steps);
      return result.ok ? [] : [`${id}: ${describeFault(fault)}`];
    });
    expect(wrong).toEqual([]);
  }
});

test('a fault from the beginning and one injected before anything is done give the same run', () => {
  const sound = solverOf(blower);
  const steps = exercise('blower-star-delta-main-from-start').behaviours[0]!.steps.filter(
    (step) => !isExpectation(step),
  );
  const states = (simulation: Simulation) => [...simulation.state];
  for (const fault of possibleFaults(sound.circuit)) {
    const [from, later] = [new Simulation(sound, undefined, false, [fault]), new Simulation(sound)];
    later.work({ inject: writeFault(fault) });
    for (const step of steps) if (!isExpectation(step)) for (const one of [from, later]) one.work(step);
    expect({ fault: describeFault(fault), states: states(later) }).toEqual({
      fault: describeFault(fault),
      states: states(from),
    });
  }
  // Circuits with one fault are made once for a board.
  const [fault] = possibleFaults(sound.circuit);
  expect(solverWith(sound, [fault!])).toBe(solverWith(sound, [fault!]));
});

describe('a fault that comes and goes', () => {
  const held = (n: number, holds: boolean): Step[] => [
    ...push('S2'),
    see({ KM1: holds ? 'in' : 'out' }),
    ...push('S1'),
    { wait: n * 0 },
  ];

  test('in every third operation of its device', () => {
    const fault = { 'contact-stuck-open': 'KM1:13-14', when: { every: 3 } };
    const steps = [1, 2, 3, 4, 5, 6, 7].flatMap((n) => held(n, n % 3 !== 0));
    expect(run(pump, [inject(fault), ...steps]).mismatches).toEqual([]);
  });

  test('for some seconds after the supply came on, over and over', () => {
    const fault = { 'open-wire': 'F1:2 F2:95', when: { from: 10, to: 12, period: 20 } };
    const steps: Step[] = [
      inject(fault),
      { wait: 5 },
      ...push('S2'),
      see({ KM1: 'in' }),
      { wait: 4 },
      see({ KM1: 'in' }),
      { wait: 3 },
      see({ KM1: 'out' }),
      { wait: 5 },
      ...push('S2'),
      see({ KM1: 'in' }),
      { wait: 15 },
      see({ KM1: 'out' }),
      // The supply comes on anew: its seconds begin anew.
      { open: 'G1' },
      { wait: 3 },
      { close: 'G1' },
      ...push('S2'),
      { wait: 9 },
      see({ KM1: 'in' }),
      { wait: 2 },
      see({ KM1: 'out' }),
    ];
    expect(run(pump, steps).mismatches).toEqual([]);
  });

  test('while the overload relay is hot', () => {
    const fault = { 'contact-stuck-open': 'F2:95-96', when: { hotter: 0.4 } };
    const steps: Step[] = [
      inject(fault),
      ...push('S2'),
      { wait: 2 },
      see({ KM1: 'in' }),
      { set: 'M1.load', to: 1 },
      { wait: 600 },
      see({ KM1: 'out', F2: 'healthy' }),
      { wait: 3600 },
      press('S2'),
      see({ KM1: 'in' }),
    ];
    expect(run(pump, steps).mismatches).toEqual([]);
  });

  test('it makes no difference into how many waits a time is divided', () => {
    const fault = readFault({ 'open-wire': 'F1:2 F2:95', when: { from: 2, to: 3, period: 5 } });
    const [whole, parts] = [1, 37].map((n) => {
      const simulation = new Simulation(solverOf(pump), undefined, false, [fault]);
      for (const step of push('S2')) if (!isExpectation(step)) simulation.work(step);
      for (let k = 0; k < n; k += 1) simulation.work({ wait: 11 / n });
      return simulation.events.map(({ t, what, state }) => `${t.toFixed(6)} ${what} ${state}`);
    });
    expect(parts).toEqual(whole);
  });
});

test('several at once are all there, and each is taken out by itself', () => {
  const [coil, hold] = [{ 'coil-open': 'KM1' }, { 'open-wire': 'KM1:14 KM1:A1' }];
  const steps: Step[] = [
    inject(coil),
    inject(hold),
    press('S2'),
    see({ KM1: 'out' }),
    release('S2'),
    clear(coil),
    press('S2'),
    see({ KM1: 'in' }),
    release('S2'),
    see({ KM1: 'out' }),
    clear(hold),
    ...push('S2'),
    see({ KM1: 'in' }),
  ];
  expect(run(pump, steps).mismatches).toEqual([]);
});

test('a fault now: a running motor loses a line, hums and trips its relay', () => {
  const result = run(pump, [
    ...push('S2'),
    { wait: 2 },
    inject({ 'lost-phase': 'G1:L3' }),
    see({ 'M1.driven': 'single-phase', KM1: 'in' }),
    { set: 'M1.load', to: 1 },
    { wait: 600 },
    see({ F2: 'tripped', KM1: 'out' }),
  ]);
  expect(result.mismatches).toEqual([]);
  expect(result.incidents.map(({ kind }) => kind)).toEqual(
    expect.arrayContaining(['single-phasing', 'overload-trip']),
  );
});

describe('what is no fault is refused, with its place', () => {
  const script = (fault: unknown) => readScript({ contactum: 'script/1', steps: [{ inject: fault }] });
  const cases: [string, unknown, string][] = [
    ['a kind that is not known', { 'rusty-wire': 'A:1 B:2' }, 'steps[0].inject: must be a fault'],
    ['a value that is missing', { 'wrong-coil-voltage': 'KM1' }, 'steps[0].inject.volts: is missing'],
    ['a key of another kind', { 'coil-open': 'KM1', volts: 24 }, 'steps[0].inject.volts: unknown key'],
    ['no number', { 'loose-wire': 'A:1 B:2', ohms: -4 }, 'steps[0].inject.ohms: must be above 0, is -4'],
    ['a time that runs back', { 'coil-open': 'KM1', when: { from: 5, to: 2 } }, 'steps[0].inject.when'],
  ];
  for (const [title, fault, message] of cases)
    test(title, () => {
      const read = script(fault);
      expect(
        read.ok ? '' : read.problems.map(({ path, message: text }) => `${path}: ${text}`).join('; '),
      ).toContain(message);
    });

  test('in an exercise: a place that is not on its board, sets where none belong', () => {
    const document = JSON.parse(JSON.stringify(exercise('find-seal-in'))) as {
      sets: { faults: unknown[] }[];
      task?: string;
    };
    const problems = (value: unknown) => {
      const read = readExercise(value);
      return read.ok ? [] : read.problems.map(({ path }) => path);
    };
    expect(
      problems({ ...document, sets: [{ ...document.sets[0], faults: [{ 'coil-open': 'KM9' }] }] }),
    ).toEqual(['sets[0].faults[0]["coil-open"]']);
    expect(problems({ ...document, task: 'wire' })).toEqual(['sets']);
    expect(problems({ ...document, sets: [] })).toEqual(['sets']);
    expect(must(readExercise(document))).toEqual(exercise('find-seal-in'));
  });

  test('in observations: nothing seen, a meter that read nothing, words of an ohmmeter on a voltmeter', () => {
    for (const one of [
      { steps: [] },
      { steps: [], meter: { mode: 'volts', between: ['A:1', 'B:1'] } },
      { steps: [], meter: { mode: 'volts', between: ['A:1', 'B:1'] }, read: 'open' },
      { steps: [{ inject: { 'coil-open': 'KM1' } }], see: { KM1: 'in' } },
    ])
      expect(readObservations({ contactum: 'observations/1', observations: [one] }).ok).toBe(false);
  });
});

test('a clamp about a loose lead reads what flows in it', () => {
  const board = bench(
    [
      { tag: 'G1', type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } },
      { tag: 'Z1', type: 'impedance', options: { ohms: 10 } },
    ],
    'G1:+>Z1:1 Z1:2>G1:-',
  );
  const steps: Step[] = [
    inject({ 'loose-wire': 'G1:+ Z1:1', ohms: 2 }),
    see({ 'amps(Z1:1)': { min: 1.99, max: 2.01 }, 'volts(Z1:1, G1:-)': { min: 19.9, max: 20.1 } }),
  ];
  expect(run(board, steps).mismatches).toEqual([]);
});
