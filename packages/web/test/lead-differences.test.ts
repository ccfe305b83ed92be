import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { referenceBench, type Bench, type Wire } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { leadDifferences } from '../src/slip/lead-differences.js';

const reference = referenceBench(shippedExercise('brine-pump-three-wire')!);
const marked = (map: ReadonlyMap<number, string>) =>
  [...map].flatMap(([k, mark]) => (mark === 'new' ? [k] : []));

describe('leads that differ between two boards', () => {
  test('a lead that is left out, one that is put elsewhere, and one that takes another way', () => {
    const wires = reference.wires
      .filter(({ from, to }) => `${from} ${to}` !== 'S2:13 KM1:13')
      .concat({ from: 'S1:22', to: 'KM1:13' } as Wire, { from: 'KM1:21', to: 'S2:14' } as Wire);
    const { list } = leadDifferences({ ...reference, wires }, reference);
    expect(list.map(({ words }) => words)).toEqual(
      [
        'Only as wired: KM1 21 to S2 14',
        'Only as wired: S1 22 to KM1 13; the reference joins the same terminals by other leads',
        'Only in the reference: S2 13 to KM1 13; joined by other leads as wired',
      ].map((text) => text.replaceAll(' to ', list[0]!.words.includes('–') ? ' – ' : ' to ')),
    );
  });

  test('a wiring beside itself has none, in whatever order and direction its leads were laid', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray([...reference.wires], { minLength: reference.wires.length }),
        fc.nat(),
        (wires, turn) => {
          const turned = wires.map((wire, k) =>
            (turn >> (k % 20)) & 1 ? { ...wire, from: wire.to, to: wire.from } : wire,
          );
          const { list, wired } = leadDifferences({ ...reference, wires: turned }, reference);
          expect(list).toEqual([]);
          expect(marked(wired)).toEqual([]);
        },
      ),
    );
  });

  test('what is lit on each board is what the list names, and together with what recedes it is every lead', () => {
    fc.assert(
      fc.property(fc.subarray([...reference.wires]), fc.subarray([...reference.wires]), (one, other) => {
        const [a, b]: [Bench, Bench] = [
          { ...reference, wires: one },
          { ...reference, wires: other },
        ];
        const { list, wired, reference: right } = leadDifferences(a, b);
        expect([wired.size, right.size]).toEqual([one.length, other.length]);
        expect(marked(wired)).toHaveLength(one.filter((wire) => !other.includes(wire)).length);
        expect(list.filter(({ of }) => of === 'wired')).toHaveLength(marked(wired).length);
        expect(list.filter(({ of }) => of === 'reference')).toHaveLength(marked(right).length);
      }),
    );
  });
});
