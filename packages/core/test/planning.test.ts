import { describe, expect, test } from '@jest/globals';
import {
  NOTHING_ENTERED,
  benchSheet,
  markSheet,
  planningPaper,
  referenceBench,
  type SheetEntries,
  type Wire,
} from '../src/index.js';
import { shippedExercises } from '../src/exercises/index.js';
import { deadTestFindings } from './fuzz/dead-tests.js';
import { Bits, transposed } from '../src/planning/dead-tests/bits.js';
import { enteredRight, everySecond, exercise, longList, seeded } from './help.js';

/** Small boards of several kinds; all of them, the large ones too, are tried by `npm run fuzz`. */
const BOARDS = [
  'button-lamp-no',
  'brine-pump-three-wire',
  'rinse-pump-single-phase',
  'plug-in-relay-hold',
  'sluice-gate-jog-selector',
  'salt-harrow-electrical-interlock',
];

test('a physical board is marked as on the screen: what was not entered is not tested, and what reads otherwise is not signed for', () => {
  const pump = exercise('brine-pump-three-wire');
  const sheet = benchSheet(pump);
  const all = enteredRight(sheet);
  const mark = (change: Partial<SheetEntries>) => markSheet(pump, sheet, { ...all, ...change });
  expect(mark({})).toMatchObject({ score: 100, passed: true, reason: null });
  expect(markSheet(pump, sheet, NOTHING_ENTERED)).toMatchObject({ score: 0, passed: false });
  const untested = Object.fromEntries(
    Object.entries(all.checks).filter(([key]) => key !== 'safety/stop-drops'),
  );
  expect(mark({ checks: untested })).toMatchObject({
    passed: false,
    reason: '“Stop always stops” was not tested',
  });
  const earth = sheet.deadTests.tests.findIndex(({ between }) => between.every((one) => one.endsWith(':PE')));
  const bare = mark({ dead: { ...all.dead, [String(earth)]: 'open' } });
  expect(bare).toMatchObject({
    passed: false,
    reason: `dead test ${earth + 1} reads otherwise than a right board`,
  });
  expect(bare.physical?.suspects).toContain('the lead G1 PE – M1 PE is missing or broken');
  // The leads as they lie agree with all of it but the earth that was read.
  const { physical } = mark({ asWired: pump.reference, dead: { ...all.dead, [String(earth)]: 'open' } });
  expect(physical?.contradictions.map(({ place }) => place)).toEqual([`dead test ${earth + 1}`]);
});

test.each(longList(BOARDS))(
  'the dead-test table of %s finds every single mistake of 200 wirings that it claims to find, and no right wiring',
  (id) => {
    const { table, claimed, wrong } = deadTestFindings(exercise(id), 200, id.length * 7919);
    expect(wrong).toEqual([]);
    expect(claimed).toBeGreaterThan(20);
    expect(table.tests.length).toBeLessThanOrEqual(2 * table.bound);
    // What shows on no dead board is little, and is said.
    expect(table.unseen.length).toBeLessThan(0.03 * table.mistakes);
  },
);

describe('planning paper', () => {
  test.each(longList(everySecond(shippedExercises())).map((one) => [one.id, one] as const))(
    '%s: every lead is listed, ordered twice, and lies under two screws',
    (_, exercise) => {
      const bench = referenceBench(exercise);
      const { materials, leads, orders, terminals, sequence } = planningPaper(bench, exercise);
      const ends = ({ from, to }: Pick<Wire, 'from' | 'to'>) => [from, to].sort().join(' ');
      const all = bench.wires.map(ends).sort();
      expect(leads.map(ends).sort()).toEqual(all);
      expect(orders.byRung.leads.map(ends).sort()).toEqual(all);
      expect(orders.byPlace.leads.map(ends).sort()).toEqual(all);
      // By place is the shorter walk of the two.
      expect(orders.byPlace.walk).toBeLessThanOrEqual(orders.byRung.walk);
      expect(terminals.flatMap((plan) => plan.terminals.flatMap((one) => one.leads)).length).toBe(
        2 * all.length,
      );
      expect(materials.devices.reduce((sum, one) => sum + one.quantity, 0)).toBe(
        bench.devices.length + bench.interlocks.length,
      );
      expect(materials.leads.reduce((sum, one) => sum + one.leads, 0)).toBe(all.length);
      for (const { length, colour, number, area } of leads) {
        expect(length).toBeGreaterThan(0.1);
        expect(length).toBeLessThan(8);
        expect(colour).not.toBe('');
        expect(number).not.toBe('');
        expect(area).toBeGreaterThan(0);
      }
      expect(sequence.parts.map(({ id }) => id)).toEqual(exercise.behaviours.map(({ id }) => id));
    },
  );

  test('a sheet asks for everything that the marks on the screen are made of', () => {
    for (const id of BOARDS.slice(0, 4)) {
      const { functions, checks, points, max } = benchSheet(exercise(id));
      expect(functions).toHaveLength(exercise(id).behaviours.length);
      const sum = Object.values(points).reduce((total, one) => total + one, 0);
      expect(sum).toBeCloseTo(max, 6);
      expect(Object.keys(points).length).toBe(functions.length + checks.length);
    }
  });
});

test('rows of bits turned into columns have the same ones, whatever their sizes', () => {
  const random = seeded(4);
  for (const [height, width] of [
    [1, 1],
    [31, 33],
    [32, 64],
    [70, 5],
    [100, 130],
  ] as const) {
    const rows = Array.from({ length: height }, () =>
      Bits.of(
        width,
        Array.from({ length: width }, (_, k) => k).filter(() => random() < 0.3),
      ),
    );
    const columns = transposed(rows, width);
    expect(columns).toHaveLength(width);
    columns.forEach((column, c) =>
      expect(column.members().sort((x, y) => x - y)).toEqual([...rows.keys()].filter((r) => rows[r]!.has(c))),
    );
  }
});
