import { describe, expect, test } from '@jest/globals';
import {
  exerciseVersion,
  grade,
  referenceBench,
  reportDifference,
  type Bench,
  type Exercise,
  type Rules,
  type Wire,
} from '@contactum/core';
import { exercise, rewire } from './help.js';

const pump = exercise('brine-pump-three-wire');
const estop = exercise('brine-pump-emergency-stop');
const american = exercise('brine-pump-control-transformer');
const harrow = exercise('salt-harrow-electrical-interlock');
const mechanical = exercise('salt-harrow-mechanical-interlock');
const crossed = exercise('salt-harrow-push-button-interlock');
const blower = exercise('blower-star-delta-timer');

/** Criteria of rules and workmanship that lose points, by one set of rules. */
function broken(one: Exercise, rules: Rules, board: Bench): string[] {
  const report = grade({ ...one, rules }, board, { faults: false });
  for (const { evidence, points, max } of report.criteria) expect(evidence === null).toBe(points === max);
  return report.criteria.flatMap(({ part, id, points, max }) =>
    (part === 'rules' || part === 'workmanship') && points < max ? [id] : [],
  );
}

const right = referenceBench;
const settings = (board: Bench, tag: string, set: object): Bench =>
  ({
    ...board,
    devices: board.devices.map((device) =>
      device.tag === tag ? { ...device, settings: { ...device.settings, ...set } } : device,
    ),
  }) as Bench;
const wires = (board: Bench, change: (wire: Wire, k: number) => Wire): Bench => ({
  ...board,
  wires: board.wires.map(change),
});

/**
 * Common practice, no source, unless a rule names its standard: a wiring that keeps each rule and one that
 * breaks it.
 */
const table: [string, Exercise, Rules, Bench, Bench][] = [
  [
    'coil return unswitched',
    pump,
    { coilReturnUnswitched: true },
    right(pump),
    rewire(
      right(pump),
      'S1:22>S2:13 S2:13>KM1:13 S2:14>KM1:A1 KM1:14>KM1:A1 KM1:A2>G1:N',
      'S1:22>KM1:A1 KM1:A2>S2:13 S2:13>KM1:13 KM1:14>S2:14 S2:14>G1:N',
    ),
  ],
  [
    'fused control',
    pump,
    { fusedControl: true },
    right(pump),
    rewire(right(pump), 'F1:2>F2:95', 'Q1:2>F2:95'),
  ],
  [
    'stop upstream of start',
    pump,
    { stopUpstream: true },
    right(pump),
    rewire(
      right(pump),
      'F2:96>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:14>KM1:A1',
      'F2:96>S2:13 S2:14>S1:21 S1:22>KM1:A1 KM1:14>S1:21',
    ),
  ],
  [
    'emergency stop upstream of everything',
    estop,
    { emergencyStopFirst: true },
    right(estop),
    rewire(
      right(estop),
      'F1:2>F2:95 F2:96>S0:11 S0:12>S1:21 S1:22>S2:13',
      'F1:2>F2:95 F2:96>S1:21 S1:22>S0:11 S0:12>S2:13',
    ),
  ],
  [
    'electrical interlock',
    harrow,
    { interlocks: ['electrical'] },
    right(harrow),
    rewire(right(harrow), '', 'KM2:21>KM2:22'),
  ],
  [
    'mechanical interlock',
    mechanical,
    { interlocks: ['mechanical'] },
    right(mechanical),
    { ...right(mechanical), interlocks: [] },
  ],
  [
    'push-button interlock',
    crossed,
    { interlocks: ['push-button'] },
    right(crossed),
    rewire(right(crossed), '', 'S3:21>S3:22'),
  ],
  [
    'no sealing through a power pole',
    pump,
    { noPoleSealing: true },
    right(pump),
    rewire(right(pump), 'S2:13>KM1:13 KM1:14>KM1:A1', 'KM1:2>KM1:A1'),
  ],
  [
    'neutral not from a switched pole',
    pump,
    { neutralUnswitched: true },
    right(pump),
    rewire(right(pump), 'Q1:6>KM1:5 KM1:6>F2:5 KM1:A2>G1:N', 'G1:N>KM1:5 KM1:6>KM1:A2'),
  ],
  ['earth bonded everywhere', pump, { earthBonded: true }, right(pump), rewire(right(pump), 'G1:PE>M1:PE')],
  [
    'transformer secondary earthed',
    american,
    { secondaryEarthed: true },
    right(american),
    rewire(right(american), '1T:X2>1PS:PE'),
  ],
  [
    'conductors per terminal',
    pump,
    { maxWiresPerTerminal: 2 },
    right(pump),
    rewire(right(pump), 'KM1:14>KM1:A1', 'KM1:14>S2:14 S2:14>KM1:A1'),
  ],
  [
    'overload dial by the plate',
    pump,
    { overloadDial: true },
    settings(right(pump), 'F2', { dial: 3.4 }),
    settings(right(pump), 'F2', { dial: 4 }),
  ],
  [
    'timer setting',
    blower,
    { timerSetting: { min: 5, max: 15 } },
    right(blower),
    settings(right(blower), 'KT1', { delay: 30 }),
  ],
  ['free contacts', harrow, { freeContacts: 0 }, right(harrow), right(harrow)],
  [
    'conductor area by protection',
    pump,
    { areaByProtection: true },
    wires(right(pump), (wire) => ({ ...wire, area: 2.5 })),
    wires(right(pump), (wire) => (wire.to === 'KM1:3' ? { ...wire, area: 0.75 } : { ...wire, area: 2.5 })),
  ],
];

describe('each house rule can be kept and can be broken, alone', () => {
  test.each(table.filter(([name]) => name !== 'free contacts'))('%s', (_name, one, rules, kept, wrong) => {
    const lost = broken(one, rules, kept);
    expect(lost).toEqual([]);
    expect(broken(one, rules, wrong).length).toBeGreaterThan(0);
    // A rule that is off says nothing.
    expect(
      grade({ ...one, rules: {} }, wrong, { faults: false }).criteria.filter(({ part }) => part === 'rules'),
    ).toEqual([]);
  });

  test('free contacts: as many as are asked for are left, or not', () => {
    const used = right(harrow);
    expect(broken(harrow, { freeContacts: 0 }, used)).toEqual([]);
    expect(broken(harrow, { freeContacts: 9 }, used).length).toBe(1);
  });

  test('ferrule numbers: one number a potential', () => {
    const board = right(pump);
    const numbers = new Map<string, string>();
    // Numbered by hand: each wire by the terminal that its potential begins at.
    const roots = new Map<string, string>();
    const find = (ref: string): string => {
      const up = roots.get(ref) ?? ref;
      return up === ref ? ref : find(up);
    };
    const links = ['1', '3', '5'].map((n) => ({ from: `F2:${n}`, to: `F2:${Number(n) + 1}` }));
    for (const { from, to } of [...links, ...board.wires]) roots.set(find(to), find(from));
    const number = (ref: string) => {
      const root = find(ref);
      if (!numbers.has(root)) numbers.set(root, String(numbers.size + 1));
      return numbers.get(root) as string;
    };
    const numbered = wires(board, (wire) => ({ ...wire, number: number(wire.from) }));
    expect(broken(pump, { ferruleNumbers: true }, numbered)).toEqual([]);
    const twice = wires(numbered, (wire) => (wire.to === 'S2:13' ? { ...wire, number: '77' } : wire));
    expect(broken(pump, { ferruleNumbers: true }, twice)).toHaveLength(1);
    expect(broken(pump, { ferruleNumbers: true }, board)).toHaveLength(1);
  });

  test('colours by potential: IEC 60204-1:2016, 13.2.4 and NFPA 79:2021, 13.2 (both from memory)', () => {
    const iec = (wire: Wire): Wire => ({
      ...wire,
      colour: [wire.from, wire.to].some((ref) => ref.endsWith(':PE'))
        ? 'green-yellow'
        : [wire.from, wire.to].some((ref) => ref === 'G1:N')
          ? 'light blue'
          : /^(G1:L|Q1:|M1:|F2:[1-6]$|KM1:[1-6]$)/.test(wire.from) && !wire.to.startsWith('F1')
            ? 'black'
            : 'red',
    });
    const board = wires(right(pump), iec);
    expect(broken(pump, { wireColours: 'iec' }, board)).toEqual([]);
    expect(
      broken(
        pump,
        { wireColours: 'iec' },
        wires(board, (wire) => (wire.to === 'M1:V' ? { ...wire, colour: 'blue' } : wire)),
      ).length,
    ).toBeGreaterThan(0);
    expect(broken(american, { wireColours: 'us' }, right(american))).toEqual([]);
    expect(
      broken(
        american,
        { wireColours: 'us' },
        wires(right(american), (wire) => (wire.from === '1PB:22' ? { ...wire, colour: 'black' } : wire)),
      ).length,
    ).toBeGreaterThan(0);
  });
});

test('a report names the exercise’s version, and two markings differ in what they differ in', () => {
  const board = rewire(right(pump), 'F1:2>F2:95', 'Q1:2>F2:95');
  const strict = { ...pump, rules: { ...pump.rules, noPoleSealing: true } };
  const [before, after] = [grade({ ...pump, rules: {} }, board), grade(strict, board)];
  expect([before.exerciseVersion, after.exerciseVersion]).toEqual([
    exerciseVersion({ ...pump, rules: {} }),
    exerciseVersion(strict),
  ]);
  expect(exerciseVersion({ ...pump, title: 'Another title' })).toBe(exerciseVersion(pump));
  const difference = reportDifference(before, after);
  expect(difference).toMatchObject({ exerciseChanged: true, markerChanged: false });
  expect(difference.criteria.find(({ id }) => id === 'fused-control')).toMatchObject({
    before: null,
    after: 0,
  });
  expect(reportDifference(after, after)).toMatchObject({ criteria: [], exerciseChanged: false });
});
