import { grade, groundOf, spellWire, wrongWirings, type Exercise, type Wire } from '@contactum/core';
import { exercises, seeded } from '../help.js';

const WIRED = exercises().filter(({ task, reference }) => task !== 'find' && reference.length > 0);

const keyOf = ({ from, to }: Wire): string => [from, to].toSorted().join(' ');

/**
 * How much more points some wrong boards have when one more right lead is left out, and what was recorded.
 */
export interface LeftOut {
  readonly board: string;
  readonly left: string;
  readonly more: number;
  readonly passes: boolean;
}

/** A usual mistake, perhaps with leads missing; and three right leads left out of it, each by itself. */
export function leftOut(seed: number): LeftOut[] {
  const one = WIRED[seed % WIRED.length] as Exercise;
  const random = seeded(seed);
  const wrong = [...wrongWirings(groundOf(one), 60, random)];
  const { wires: usual, devices, title } = wrong[Math.floor(random() * wrong.length)]!;
  const wires = [...usual];
  for (let k = Math.floor(random() * 3); k > 0; k -= 1) wires.splice(Math.floor(random() * wires.length), 1);
  const mark = (list: readonly Wire[]) =>
    grade(one, { ...one.bench, devices, wires: [...one.bench.wires, ...list] }, { faults: false });
  const before = mark(wires);
  const reference = new Set(one.reference.map(keyOf));
  const right = wires.filter((wire) => reference.has(keyOf(wire)));
  return Array.from({ length: right.length > 0 ? 3 : 0 }, () => {
    const lead = right[Math.floor(random() * right.length)]!;
    const after = mark(wires.filter((wire) => wire !== lead));
    return {
      board: `${one.id}: ${title}`,
      left: spellWire(lead),
      more: Math.round((after.score - before.score) * 10) / 10,
      passes: after.passed && !before.passed,
    };
  });
}
