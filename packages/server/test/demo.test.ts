import { describe, expect, test } from '@jest/globals';
import { grade, rewired, type Wire } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { SLIPS, seeded } from '../src/demo/wirings.js';

const IDS = ['button-lamp-no', 'brine-pump-three-wire', 'salt-harrow-electrical-interlock'];
const ends = (wires: readonly Wire[]) => wires.map(({ from, to }) => [from, to].sort().join(' ')).sort();

describe('the same nodes joined in other orders (seeds 1 to 25)', () => {
  for (const id of IDS) {
    test(`${id}: every one scores everything and is equivalent`, () => {
      const one = exercise(id);
      const shared: number[] = [];
      for (let seed = 1; seed <= 25; seed += 1) {
        const wires = rewired(one, seeded(seed));
        const report = grade(one, { ...one.bench, wires });
        expect({
          seed,
          lost: report.criteria.filter(({ evidence }) => evidence).map((c) => c.id),
          equivalent: report.equivalence.equivalent,
        }).toEqual({
          seed,
          lost: [],
          equivalent: true,
        });
        const reference = new Set(ends(one.reference));
        shared.push(ends(wires).filter((pair) => reference.has(pair)).length / wires.length);
      }
      // Right answers need not share their wires with the reference.
      if (id !== 'button-lamp-no') expect(Math.min(...shared)).toBeLessThan(0.95);
    });
  }
});

describe('slips of the kind that learners make', () => {
  for (const id of IDS) {
    (SLIPS[id] ?? []).forEach((slip, k) => {
      test(`${id}, slip ${k}: costs points, each with its evidence`, () => {
        const one = exercise(id);
        const report = grade(one, { ...one.bench, wires: slip(rewired(one, seeded(k + 1)), seeded(k)) });
        const lost = report.criteria.filter(({ points, max }) => points < max);
        expect(lost.length).toBeGreaterThan(0);
        expect(lost.every(({ evidence }) => (evidence?.found.length ?? 0) > 0)).toBe(true);
        // What is not behaviour counts at the behaviour's share.
        const sum = (isBehaviour: boolean) =>
          report.criteria
            .filter(({ part }) => (part === 'behaviour') === isBehaviour)
            .reduce((total, { points }) => total + points, 0);
        expect(report.score).toBeCloseTo(sum(true) + report.share * sum(false), 1);
      });
    });
  }
});
