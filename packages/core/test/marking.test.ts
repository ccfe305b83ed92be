import { describe, expect, test } from '@jest/globals';
import {
  EQUIVALENCE,
  addPoints,
  candidateBench,
  grade,
  openingBoard,
  referenceBench,
  resultWith,
  run,
  sharePoints,
  wiringKey,
  workWiring,
  type Bench,
  type Exercise,
  type WorkEvent,
  type WorkedWiring,
  type Report,
} from '@contactum/core';
import fc from 'fast-check';
import { exercise, exercises, rewire } from './help.js';

const pump = exercise('brine-pump-three-wire');
const harrow = exercise('salt-harrow-electrical-interlock');

function mark(one: Exercise, board: Bench): Report {
  const fitted = candidateBench(one, board);
  if ('problems' in fitted) throw new Error(JSON.stringify(fitted.problems));
  return grade(one, fitted.bench);
}

const lost = (report: Report) =>
  report.criteria.filter(({ points, max }) => points < max).map(({ part, id }) => `${part} ${id}`);

describe('right wirings score everything, whatever their wires', () => {
  const wired = referenceBench(pump);
  const right: [string, Exercise, Bench][] = [
    ...exercises().map((one): [string, Exercise, Bench] => [
      `reference of ${one.id}`,
      one,
      referenceBench(one),
    ]),
    [
      'overload after the coil',
      pump,
      rewire(wired, 'F1:2>F2:95 F2:96>S1:21 KM1:A2>G1:N', 'F1:2>S1:21 KM1:A2>F2:95 F2:96>G1:N'),
    ],
    ['control from another phase, through the fuse', pump, rewire(wired, 'Q1:2>F1:1', 'Q1:6>F1:1')],
    [
      'the seal-in made at other terminals of its node',
      pump,
      rewire(wired, 'S2:13>KM1:13 KM1:14>KM1:A1', 'S1:22>KM1:13 KM1:14>S2:14'),
    ],
    [
      'both button contacts turned round',
      pump,
      rewire(wired, 'F2:96>S1:21 S1:22>S2:13 S2:13>KM1:13', 'F2:96>S1:22 S1:21>S2:13 S2:13>KM1:13'),
    ],
    [
      'two phases exchanged twice',
      pump,
      rewire(
        wired,
        'Q1:2>KM1:1 Q1:4>KM1:3 KM1:2>F2:1 KM1:4>F2:3',
        'Q1:2>KM1:3 Q1:4>KM1:1 KM1:2>F2:3 KM1:4>F2:1',
      ),
    ],
  ];
  for (const [name, one, board] of right) {
    test(name, () => {
      const report = mark(one, board);
      expect({
        lost: lost(report),
        passed: report.passed,
        equivalent: report.equivalence.equivalent,
      }).toEqual({ lost: [], passed: true, equivalent: true });
      expect(report.score).toBe(report.max);
    });
  }
});

const UNLIKE = `behaviour ${EQUIVALENCE}`;

describe('wrong wirings lose points for what is wrong', () => {
  const board = referenceBench(pump);
  const wrong: [string, Exercise, Bench, string[], boolean][] = [
    [
      'no seal-in',
      pump,
      rewire(board, 'KM1:14>KM1:A1'),
      [...['holds', 'stops', 'overload', 'supply-loss'].map((id) => `behaviour ${id}`), UNLIKE],
      false,
    ],
    [
      'overload contact left out',
      pump,
      rewire(board, 'F1:2>F2:95 F2:96>S1:21', 'F1:2>S1:21'),
      ['behaviour overload', UNLIKE, 'safety overload-drops'],
      false,
    ],
    ['no fuse', pump, rewire(board, 'Q1:2>F1:1 F1:2>F2:95', 'Q1:2>F2:95'), ['rules fused-control'], true],
    [
      'coil switched in the neutral',
      pump,
      rewire(
        board,
        'F2:96>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>KM1:13 KM1:14>KM1:A1',
        'F2:96>KM1:A1 KM1:A2>S2:14 S2:13>S1:22 S1:21>G1:N KM1:A2>KM1:13 KM1:14>S2:13',
      ),
      ['rules coil-return-unswitched'],
      true,
    ],
    ['no earth', pump, rewire(board, 'G1:PE>M1:PE'), ['safety earth-bonded', 'rules earth-bonded'], false],
    [
      'black wire for earth',
      pump,
      {
        ...board,
        wires: board.wires.map((wire) => (wire.to === 'M1:PE' ? { ...wire, colour: 'black' } : wire)),
      },
      ['workmanship earth-colour'],
      true,
    ],
    [
      'bridged interlock',
      harrow,
      rewire(referenceBench(harrow), '', 'KM2:21>KM2:22 KM1:21>KM1:22'),
      [
        'behaviour interlock',
        UNLIKE,
        'safety no-short',
        ...[1, 2, 3, 4].map((k) => `safety survive-${k}`),
        'rules interlock-electrical',
      ],
      false,
    ],
  ];
  for (const [name, one, wired, ids, passed] of wrong) {
    test(name, () => {
      const report = mark(one, wired);
      expect({ lost: lost(report), passed: report.passed }).toEqual({ lost: ids, passed });
      // Every lost point says why, and what can be run shows it.
      for (const { evidence, points, max, part } of report.criteria) {
        if (points === max) continue;
        expect(evidence?.found).toMatch(/\w/);
        if (part !== 'behaviour' || !evidence?.mismatches) continue;
        const first = evidence.mismatches[0];
        expect(
          run(wired, [...(evidence.steps ?? []), { expect: { [first?.what ?? '']: first?.expected ?? '' } }])
            .ok,
        ).toBe(false);
      }
    });
  }

  test('a third conductor is workmanship alone', () => {
    const report = mark(pump, rewire(board, 'KM1:14>KM1:A1', 'KM1:14>S2:14 KM1:A1>KM1:14'));
    expect(lost(report)).toEqual([]);
    const full = mark(pump, rewire(board, 'KM1:14>KM1:A1', 'KM1:14>S2:14 S2:14>KM1:A1'));
    expect(lost(full)).toEqual(['workmanship conductors-per-terminal']);
  });

  test('an unwired board earns nothing', () => {
    const report = mark(pump, pump.bench);
    expect({ score: report.score, passed: report.passed }).toEqual({ score: 0, passed: false });
  });

  test('a failed safety property never passes, and an instructor’s points do not change that', () => {
    const report = mark(pump, rewire(board, 'G1:PE>M1:PE'));
    expect(report.score).toBeGreaterThan(report.pass);
    expect(report.passed).toBe(false);
    const all = report.criteria.map(({ part, id, max }) => ({ part, criterion: id, to: max }));
    expect(resultWith(report, all)).toEqual({
      score: report.max,
      max: report.max,
      recorded: pump.marks.pass - 1,
      passed: false,
      changed: true,
      reason: expect.stringContaining('earthed') as unknown,
    });
  });
});

test('house rules decide between the schools', () => {
  const coilEnd = rewire(
    referenceBench(pump),
    'F1:2>F2:95 F2:96>S1:21 KM1:A2>G1:N',
    'F1:2>S1:21 KM1:A2>F2:95 F2:96>G1:N',
  );
  const rule = (overloadPosition: 'line' | 'coil') => ({ ...pump, rules: { overloadPosition } });
  expect(lost(mark(rule('coil'), coilEnd))).toEqual([]);
  expect(lost(mark(rule('line'), coilEnd))).toEqual(['rules overload-position']);
  expect(lost(mark(rule('line'), referenceBench(pump)))).toEqual([]);
  const none = rewire(referenceBench(pump), 'F1:2>F2:95 F2:96>S1:21', 'F1:2>S1:21');
  expect(lost(mark(rule('line'), none))).toContain('rules overload-position');
});

test('a candidate of another board is refused with its place', () => {
  const other = candidateBench(pump, referenceBench(harrow));
  expect('problems' in other && other.problems.map(({ path }) => path)).toEqual([
    'devices[7].options',
    'devices[4].tag',
    'devices[8].tag',
  ]);
});

test('shared points are tenths that add up to the total', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 1000 }),
      fc.array(fc.integer({ min: 0, max: 50 }), { minLength: 1, maxLength: 30 }),
      (tenths, weights) => {
        const shares = sharePoints(tenths / 10, weights);
        expect(addPoints(shares)).toBe(tenths / 10);
        expect(shares.every((share) => share >= 0)).toBe(true);
      },
    ),
  );
});

test('a wiring that was worked before is marked alike, with the work and the hints of whoever hands it in', () => {
  const pump = exercise('brine-pump-three-wire');
  const practised = { ...pump, practice: { permission: true }, hints: { symptom: 1, net: 2, lead: 5 } };
  const log: WorkEvent[] = [
    { t: 1, kind: 'supply', on: true },
    { t: 2, kind: 'supply', on: false },
  ];
  const right = referenceBench(pump);
  for (const bench of [right, { ...right, wires: right.wires.slice(1) }, openingBoard(pump)]) {
    const worked = JSON.parse(JSON.stringify(workWiring(practised, bench))) as WorkedWiring;
    for (const work of [{}, { log }, { log, hints: ['symptom'] as const }])
      expect(grade(practised, bench, { ...work, worked })).toEqual(grade(practised, bench, work));
  }
});

test('a wiring is known by what is asked of it, how it is worked and what is wired and set', () => {
  const pump = exercise('brine-pump-three-wire');
  const right = referenceBench(pump);
  const opened = structuredClone(right);
  for (const one of opened.devices)
    if (one.type === 'breaker') Object.assign(one.settings, { closed: false });
  const keys = [
    wiringKey(pump, right),
    wiringKey(pump, right, { faults: false }),
    wiringKey(pump, right, { most: 20 }),
    wiringKey({ ...pump, observe: ['KM1'] }, right),
    wiringKey(pump, { ...right, wires: right.wires.slice(1) }),
    wiringKey(pump, opened),
  ];
  expect(new Set(keys).size).toBe(keys.length);
  expect(wiringKey(pump, structuredClone(right))).toBe(keys[0]);
});
