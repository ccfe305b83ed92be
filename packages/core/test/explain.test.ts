import { describe, expect, test } from '@jest/globals';
import {
  LiveBench,
  whyNow,
  Simulation,
  Solver,
  compile,
  explain,
  explained,
  readFault,
  referenceBench,
  type Bench,
  type Explanation,
  type Stimulus,
} from '@contactum/core';
import { explainedOn } from './fuzz/explained.js';
import { bench, exercise, exercises, longList, longRuns, rewire } from './help.js';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));

function told(board: Bench, steps: readonly Stimulus[], tag: string): Explanation {
  const simulation = new Simulation(new Solver(compile(board)));
  for (const step of steps) simulation.work(step);
  return explain(simulation.solver, simulation.state, tag);
}

const START: Stimulus[] = [{ press: 'S2' }, { release: 'S2' }];

describe('what a careful instructor would say', () => {
  test('a seal-in: what holds it, in order from the supply to the return', () => {
    expect(told(pump, START, 'KM1')).toMatchObject({
      state: 'in',
      path: ['Q1:1-2', 'F1:1-2', 'F2:95-96', 'S1:21-22', 'KM1:13-14'],
      blocks: null,
      sentence: 'KM1 is held through Q1 1-2, F1 1-2, F2 95-96, S1 21-22 and its own 13-14.',
    });
  });

  test('while Start is pressed two ways lie beside one another', () => {
    const { beside, sentence } = told(pump, [{ press: 'S2' }], 'KM1');
    expect(beside).toContainEqual({ through: ['S2:13-14'], or: ['KM1:13-14'] });
    expect(sentence).toContain('S2 13-14 (or its own 13-14)');
  });

  test('at rest the button blocks, not what would follow from it', () => {
    expect(told(pump, [], 'KM1')).toMatchObject({
      state: 'out',
      path: null,
      blocks: ['S2:13-14'],
      sentence: 'KM1 does not pull in: S2 13-14 is open, because S2 is not pressed.',
    });
  });

  test('an interlock says who keeps it out', () => {
    const steps: Stimulus[] = [...START, { press: 'S3' }];
    expect(told(harrow, steps, 'KM2')).toMatchObject({
      blocks: ['KM1:21-22'],
      sentence: 'KM2 does not pull in: KM1 21-22 is open, because KM1 is in.',
    });
  });

  test('a motor: the poles of its lines, those that conduct or those that are missing', () => {
    expect(told(pump, START, 'M1').sentence).toBe(
      'M1 is driven forward through Q1 1-2, 3-4 and 5-6, KM1 1-2, 3-4 and 5-6.',
    );
    expect(told(pump, [], 'M1')).toMatchObject({
      state: 'none',
      blocks: ['KM1:1-2', 'KM1:3-4', 'KM1:5-6'],
      sentence: 'M1 is not driven: KM1 1-2, 3-4 and 5-6 are open, because KM1 is out.',
    });
  });

  test('a trip, and a supply that is off', () => {
    expect(told(pump, [...START, { trip: 'F2' }, { press: 'S2' }], 'KM1').sentence).toBe(
      'KM1 does not pull in: F2 95-96 is open, because F2 has tripped.',
    );
    expect(told(pump, [{ open: 'G1' }], 'KM1')).toMatchObject({
      blocks: null,
      sentence: 'KM1 does not pull in: G1 is switched off.',
    });
  });

  test('a side that no contact joins to the supply is named; so is a voltage that is too low', () => {
    expect(told(rewire(pump, 'KM1:A2>G1:N'), START, 'KM1').sentence).toBe(
      'KM1 does not pull in: KM1 A2 is joined to no supply, whatever closes.',
    );
    const lamps = bench(
      [
        { tag: 'G1', type: 'supply-1n' },
        { tag: 'H1', type: 'lamp', options: { voltage: 230, kind: 'ac' } },
        { tag: 'H2', type: 'lamp', options: { voltage: 230, kind: 'ac' } },
      ],
      'G1:L>H1:X1 H1:X2>H2:X1 H2:X2>G1:N',
    );
    expect(told(lamps, [], 'H1')).toMatchObject({
      state: 'dim',
      sentence: 'H1 only glows: it has 50 % of its 230 V.',
    });
  });

  test('a mechanical interlock keeps out what has its voltage', () => {
    const coupled = rewire(
      { ...harrow, interlocks: [{ kind: 'mechanical', between: ['KM1', 'KM2'] }] },
      'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      'S2:14>KM1:A1 S3:14>KM2:A1',
    );
    expect(told(coupled, [...START, { press: 'S3' }], 'KM2').sentence).toMatch(
      /^KM2 has its voltage through .*, but the mechanical interlock keeps it out while KM1 is in\.$/,
    );
  });

  test('what has neither coil nor lamp nor motor cannot be explained', () => {
    expect(() => told(pump, [], 'S1')).toThrow('S1 has no coil, no lamp and no motor');
  });
});

test('a live bench explains what runs; with a fault on it it keeps silent', () => {
  const live = new LiveBench();
  live.load(pump, { supplyOn: true });
  live.work({ press: 'S2' });
  live.work({ release: 'S2' });
  expect(whyNow(live, 'KM1')?.sentence).toMatch(/^KM1 is held/);
  expect(whyNow(live, 'S1')).toBeNull();
  live.load(pump, { supplyOn: true, faults: [readFault({ 'coil-open': 'KM1' })] });
  expect(whyNow(live, 'KM1')).toBeNull();
});

test('everything on every shipped board has a sentence, at rest and with each button pressed', () => {
  for (const one of longList(exercises())) {
    const board = referenceBench(one);
    const buttons = board.devices.filter(({ type }) => type === 'pushbutton');
    for (const steps of [[], ...buttons.map(({ tag }): Stimulus[] => [{ press: tag }])]) {
      const simulation = new Simulation(new Solver(compile(board)));
      for (const step of steps) simulation.work(step);
      for (const tag of explained(simulation.solver.circuit))
        expect(explain(simulation.solver, simulation.state, tag).sentence).toMatch(/^\S+ .+\.$/);
    }
  }
});

const BOARDS = longRuns(400);

test(`no sentence is untrue on ${BOARDS} right and wrong boards, worked by random hands (2 000 with \`npm run fuzz\`)`, () => {
  const all = Array.from({ length: BOARDS }, (_, seed) => explainedOn(seed));
  expect(all.flatMap(({ untrue }) => untrue)).toEqual([]);
  expect(all.reduce((sum, { energised }) => sum + energised, 0)).toBeGreaterThan(BOARDS / 5);
  expect(all.reduce((sum, { blocked }) => sum + blocked, 0)).toBeGreaterThan(BOARDS);
});
