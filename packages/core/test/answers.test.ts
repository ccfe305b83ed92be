import { describe, expect, test } from '@jest/globals';
import {
  anatomy,
  grade,
  isSupply,
  netlistOf,
  referenceBench,
  type Bench,
  type Exercise,
  type TerminalRef,
  type Wire,
} from '@contactum/core';
import { exercises } from './help.js';
import { seeded } from './fixtures/seeded.mjs';

/**
 * Right answers that share few wires with the reference: each must pass, with no behaviour and no safety
 * property lost.
 */

/**
 * Every potential as a chain through its terminals in another order: two conductors a terminal at the most.
 */
function otherBranches(bench: Bench, random: () => number): Bench {
  const { nets, wired } = netlistOf(bench);
  const wires = nets.flatMap(({ terminals }): Wire[] => {
    const ends = terminals.filter((ref) => wired.has(ref));
    const own = bench.wires.find(({ from }) => ends.includes(from));
    const order = ends.map((ref) => ({ ref, at: random() })).toSorted((a, b) => a.at - b.at);
    return order.slice(1).map(({ ref }, k) => ({ ...own, from: order[k]!.ref, to: ref }));
  });
  return { ...bench, wires };
}

const exchanged = (bench: Bench, other: ReadonlyMap<string, TerminalRef>): Bench => ({
  ...bench,
  wires: bench.wires.map((wire) => ({
    ...wire,
    from: other.get(wire.from) ?? wire.from,
    to: other.get(wire.to) ?? wire.to,
  })),
});

interface Contact {
  readonly a: TerminalRef;
  readonly b: TerminalRef;
}

/** Contacts of the control circuit that share no terminal with others. */
const contactsOf = (bench: Bench): Contact[] =>
  bench.devices.flatMap((device) => {
    const { contacts } = anatomy(device);
    return contacts.flatMap(({ a, b, role }): Contact[] => {
      const isOwn =
        contacts.filter((one) => [one.a, one.b].some((end) => end === a || end === b)).length === 1;
      return role === 'pole' || !isOwn || isSupply(device)
        ? []
        : [{ a: `${device.tag}:${a}`, b: `${device.tag}:${b}` }];
    });
  });

/** Every contact the other way round: 14 where 13 was. */
const turned = (bench: Bench): Bench =>
  exchanged(
    bench,
    new Map(
      contactsOf(bench).flatMap(({ a, b }) => [
        [a, b],
        [b, a],
      ]),
    ),
  );

/** Contacts in series in each other's place, as many pairs as there are. */
function otherOrder(bench: Bench): Bench {
  const { nets, netOf, wired } = netlistOf(bench);
  const contacts = contactsOf(bench);
  const other = new Map<string, TerminalRef>();
  for (const one of contacts)
    for (const next of contacts) {
      const between = nets[netOf.get(one.b)!]!.terminals.filter((ref) => wired.has(ref));
      const isSeries = between.length === 2 && between.includes(next.a);
      if (!isSeries || [one.a, next.a].some((ref) => other.has(ref))) continue;
      for (const [from, to] of [
        [one.a, next.a],
        [one.b, next.b],
        [next.a, one.a],
        [next.b, one.b],
      ] as const)
        other.set(from, to);
    }
  return exchanged(bench, other);
}

const sharedWires = (one: Bench, other: Bench): number => {
  const key = ({ from, to }: Wire) => [from, to].toSorted().join(' ');
  const keys = new Set(one.wires.map(key));
  return other.wires.filter((wire) => keys.has(key(wire))).length;
};

const lossesOf = (exercise: Exercise, bench: Bench) => {
  const { criteria, passed, equivalence } = grade(exercise, bench, { faults: false });
  const lost = criteria.filter(
    ({ part, evidence }) => evidence && (part === 'behaviour' || part === 'safety'),
  );
  return {
    passed,
    equivalent: equivalence.equivalent,
    lost: lost.map(({ id, evidence }) => `${id}: ${evidence?.found}`),
  };
};

const RIGHT = { passed: true, equivalent: true, lost: [] };

for (const exercise of exercises())
  describe(`${exercise.id}, wired otherwise`, () => {
    const reference = referenceBench(exercise);

    test('its branches made at other terminals', () => {
      const bench = otherBranches(reference, seeded(7));
      if (reference.wires.length > 20)
        expect(sharedWires(reference, bench)).toBeLessThan(reference.wires.length);
      expect(lossesOf(exercise, bench)).toEqual(RIGHT);
    });
    test('every contact the other way round, and other branches again', () => {
      expect(lossesOf(exercise, otherBranches(turned(reference), seeded(8)))).toEqual(RIGHT);
    });
    test('contacts in series in each other’s place', () => {
      expect(lossesOf(exercise, otherOrder(reference))).toEqual(RIGHT);
    });
  });
