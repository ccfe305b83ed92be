import { expect, test } from '@jest/globals';
import {
  layLeads,
  relayLeads,
  type Bench,
  type DevicePlace,
  type Layout,
  type LeadToLay,
  type Point,
} from '@contactum/core';
import { RECIPES, formsOf, resolveExercise } from '@contactum/core/exercises';
import { wrongWiring } from './fuzz/wrong-wirings.js';
import { seeded } from './fixtures/seeded.mjs';
import { longRuns } from './help.js';

const exercises = RECIPES.flatMap((recipe) => formsOf(recipe).map((form) => resolveExercise(recipe, form)));
const boards = exercises.map(({ id, bench, reference }) => ({
  id,
  bench: { ...bench, wires: [...bench.wires, ...reference] },
}));

const leadsOf = ({ wires }: Bench): LeadToLay[] =>
  wires.map(({ from, to }, k) => ({ key: `w${k + 1}`, from, to }));

interface Segment {
  readonly key: string;
  readonly a: Point;
  readonly b: Point;
}

const segmentsOf = ({ paths }: Layout): Segment[] =>
  [...paths].flatMap(([key, points]) => points.slice(1).map((b, k) => ({ key, a: points[k]!, b })));

/** Board millimetres between the middles of two leads that do not touch. */
const APART = 5;

/** How far two stretches that run beside one another are apart; none where they do not. */
function gap(one: Segment, other: Segment): number | null {
  const beside = (p: 'x' | 'y', q: 'x' | 'y'): number | null => {
    if (one.a[p] !== one.b[p] || other.a[p] !== other.b[p]) return null;
    const from = Math.max(Math.min(one.a[q], one.b[q]), Math.min(other.a[q], other.b[q]));
    const to = Math.min(Math.max(one.a[q], one.b[q]), Math.max(other.a[q], other.b[q]));
    return to >= from ? Math.abs(one.a[p] - other.a[p]) : null;
  };
  return beside('x', 'y') ?? beside('y', 'x');
}

const covers = ({ x, y, width, height }: DevicePlace, { a, b }: Segment): boolean =>
  Math.min(a.x, b.x) < x + width &&
  Math.max(a.x, b.x) > x &&
  Math.min(a.y, b.y) < y + height &&
  Math.max(a.y, b.y) > y;

/** Everything that makes leads hard to follow. */
function faults(layout: Layout): string[] {
  const segments = segmentsOf(layout);
  const found: string[] = [];
  segments.forEach((one, k) => {
    const text = `${one.key} ${one.a.x},${one.a.y} to ${one.b.x},${one.b.y}`;
    if (one.a.x !== one.b.x && one.a.y !== one.b.y) found.push(`askew: ${text}`);
    for (const place of layout.plan.devices)
      if (covers(place, one)) found.push(`on the face of ${place.device.tag}: ${text}`);
    for (const other of segments.slice(k + 1)) {
      if (other.key === one.key) continue;
      const apart = gap(one, other);
      if (apart !== null && apart < APART) found.push(`touches ${other.key}: ${text}`);
    }
    const { width, height } = layout.plan;
    if (
      Math.min(one.a.x, one.b.x, one.a.y, one.b.y) < 0 ||
      Math.max(one.a.x, one.b.x) > width ||
      Math.max(one.a.y, one.b.y) > height
    )
      found.push(`off the board: ${text}`);
  });
  return found;
}

/** Where ends are not at the terminals that they name. */
function astray({ plan, paths, runs, spread }: Layout): string[] {
  return [...paths].flatMap(([key, points]) => {
    const { from, to } = runs.get(key)!;
    return (
      [
        [from, points[0]!, points[1]!],
        [to, points.at(-1)!, points.at(-2)!],
      ] as const
    ).flatMap(([ref, end, next]) => {
      const { x, y, side } = plan.terminal.get(ref)!;
      const isStraight = next.x === end.x && (side === 'top' ? next.y < end.y : next.y > end.y);
      return end.y === y && Math.abs(end.x - x) <= spread.get(ref)! && isStraight ? [] : [`${key} at ${ref}`];
    });
  });
}

test.each(boards)('leads of $id leave straight, run in ducts, touch nothing', ({ bench }) => {
  const layout = layLeads(bench, leadsOf(bench));
  expect(layout.paths.size).toBe(bench.wires.length);
  expect(faults(layout)).toEqual([]);
  expect(astray(layout)).toEqual([]);
});

test('faces stand apart, none at the edge of the board', () => {
  for (const { bench } of boards) {
    const { plan } = layLeads(bench, []);
    plan.devices.forEach((one, k) => {
      expect(Math.min(one.x, one.y)).toBeGreaterThan(9);
      expect(Math.min(plan.width - one.x - one.width, plan.height - one.y - one.height)).toBeGreaterThan(9);
      for (const other of plan.devices.slice(k + 1)) {
        const isApart =
          one.x + one.width < other.x ||
          other.x + other.width < one.x ||
          one.y + one.height < other.y ||
          other.y + other.height < one.y;
        expect(isApart ? [] : [one.device.tag, other.device.tag]).toEqual([]);
      }
    });
  }
});

test('neither do those of 200 wrong wirings, nor of boards with 80 leads anywhere (seeds 1 to 200)', () => {
  const wrong: unknown[] = [];
  for (let seed = 1; seed <= longRuns(200); seed += 1) {
    const random = seeded(seed);
    const exercise = exercises[seed % exercises.length]!;
    const bench = wrongWiring(exercise, random);
    const layout = layLeads(bench, leadsOf(bench));
    wrong.push(...[...faults(layout), ...astray(layout)].map((what) => ({ seed, what })));
  }
  const large = boards.filter(({ bench }) => layLeads(bench, []).plan.terminal.size > 48);
  for (let seed = 1; seed <= longRuns(40); seed += 1) {
    const random = seeded(seed);
    const { bench } = large[seed % large.length]!;
    // Any terminals, each with up to four leads: twice what a terminal is made for.
    const screws = [...layLeads(bench, []).plan.terminal.keys()].flatMap((ref) => [ref, ref, ref, ref]);
    const any = () => screws.splice(Math.floor(random() * screws.length), 1)[0]!;
    const leads = Array.from({ length: 80 }, (_, k) => ({ key: `w${k}`, from: any(), to: any() })).filter(
      ({ from, to }) => from !== to,
    );
    wrong.push(...faults(layLeads(bench, leads)).map((what) => ({ seed, what })));
  }
  expect(wrong).toEqual([]);
});

test('a lead that is added or taken off leaves the others where they lie (seeds 1 to 60)', () => {
  for (let seed = 1; seed <= longRuns(60); seed += 1) {
    const random = seeded(seed);
    const { bench } = boards[seed % boards.length]!;
    let leads = leadsOf(bench);
    let layout = layLeads(bench, leads);
    const terminals = [...layout.plan.terminal.keys()];
    for (let edit = 1; edit <= 12; edit += 1) {
      const before = layout;
      const any = () => terminals[Math.floor(random() * terminals.length)]!;
      const [from, to] = [any(), any()];
      leads =
        random() < 0.4 || from === to
          ? leads.toSpliced(Math.floor(random() * leads.length), 1)
          : [...leads, { key: `e${edit}`, from, to }];
      layout = relayLeads(bench, before, leads);
      expect([...layout.paths.keys()].toSorted()).toEqual(leads.map(({ key }) => key).toSorted());
      for (const [key, run] of layout.runs) if (before.runs.has(key)) expect(run).toBe(before.runs.get(key));
      expect(faults(layout)).toEqual([]);
    }
  }
});
