import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  compile,
  firstLostOf,
  grade,
  isExpectation,
  proveCircuit,
  readFault,
  trialWirings,
  withFault,
  type Bench,
  type Exercise,
  type Property,
} from '@contactum/core';
import { shownAsTold } from './fuzz/shown.js';
import { exercise, longRuns } from './help.js';

/** A usual mistake made on a right wiring of an exercise, as a dry run makes it. */
function mistaken(one: Exercise, title: string): Bench {
  for (let seed = 1; seed < 30; seed += 1) {
    const found = trialWirings(one, seed).find((wiring) => wiring.title.startsWith(title));
    if (found) return found.bench;
  }
  throw new Error(`no wiring with ${title}`);
}

const lostWith = (one: Exercise, bench: Bench, survive: number): readonly Property[] => {
  const outcome = withFault(compile(bench), readFault(one.survive![survive - 1]!.fault));
  if ('problem' in outcome) throw new Error(outcome.problem);
  return proveCircuit(new Solver(outcome.circuit)).properties.filter(({ holds }) => !holds);
};

const evidenceOf = (one: Exercise, bench: Bench, survive: number) =>
  grade(one, bench).criteria.find(({ id }) => id === `survive-${survive}`)?.evidence;

describe('a violation that takes an order in which devices do not arrive', () => {
  const starDelta = exercise('blower-star-delta-winding-leg');
  const betweenLines = mistaken(starDelta, 'Coil of KM2 between');

  test('is told as one that no steps show, after one that steps do show', () => {
    const lost = lostWith(starDelta, betweenLines, 2);
    expect(lost.map(({ id, unshown = false }) => [id, unshown]).slice(0, 2)).toEqual([
      ['no-self-start', true],
      ['coil-voltage', false],
    ]);
    expect(lost[0]!.found).toMatch(
      /an order of switching that these devices do not have at their usual speeds, so no steps show it$/,
    );
    expect(firstLostOf(lost)).toBe(lost[1]);
    const evidence = evidenceOf(starDelta, betweenLines, 2)!;
    expect(evidence.found).toBe(`“Every coil gets its own voltage” no longer holds: ${lost[1]!.found}`);
    // And it is seen.
    const simulation = new Simulation(new Solver(compile(betweenLines)));
    for (const step of evidence.steps!) if (!isExpectation(step)) simulation.work(step);
    expect(simulation.incidents.map(({ kind }) => kind)).toContain('coil-overvoltage');
  });

  test('costs the mark where there is no other, and the evidence says so', () => {
    const harrow = exercise('salt-harrow-controller');
    const exchanged = mistaken(harrow, 'KM1 13-14 and KM2 13-14 in');
    for (const survive of [1, 2]) {
      expect(lostWith(harrow, exchanged, survive).every(({ unshown }) => unshown)).toBe(true);
      expect(evidenceOf(harrow, exchanged, survive)!.found).toMatch(
        /^“Every armature comes to rest” no longer holds: .* no steps show it$/,
      );
    }
    // The board by itself comes to no rest either, and that shows: it is the reason.
    const report = grade(harrow, exchanged);
    expect(report.passed).toBe(false);
    expect(report.reason).toMatch(/^“Every armature comes to rest” does not hold: /);
    expect(report.reason).not.toContain('no steps show it');
  });

  test('the first that steps show is told; without one the first', () => {
    const property = (id: Property['id'], holds: boolean, unshown?: true): Property => ({
      id,
      holds,
      tested: true,
      trace: [],
      found: '',
      ...(unshown ? { unshown } : {}),
    });
    const holds = property('no-short', true);
    const [cold, warm] = [property('stop-drops', false, true), property('no-chatter', false)];
    expect(firstLostOf([holds])).toBeUndefined();
    expect(firstLostOf([holds, cold])).toBe(cold);
    expect(firstLostOf([holds, cold, warm])).toBe(warm);
  });
});

/** Thousands more run with `npm run fuzz -- --minutes N`. */
const BOARDS = longRuns(200);

test(`what is lost shows by its steps, unless it is said that none show it (seeds 1 to ${BOARDS})`, () => {
  const results = Array.from({ length: BOARDS }, (_, k) => shownAsTold(k + 1));
  expect(results.flatMap(({ findings }) => findings)).toEqual([]);
  expect(results.reduce((sum, { worked }) => sum + worked, 0)).toBeGreaterThan(BOARDS / 2);
});
