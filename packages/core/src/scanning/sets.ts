import type { TerminalRef } from '../bench/index.js';
import { UnionFind, type Circuit } from '../circuit/index.js';

/** What joins terminals within devices: bars, strips, links. */
export function innerSets(circuit: Circuit): UnionFind {
  const sets = new UnionFind(circuit.terminals.length);
  for (const { a, b, wire } of circuit.conductors) if (wire < 0) sets.union(a, b);
  return sets;
}

/** Joins what lists of names join; a name that the board does not have joins nothing. */
export function joinLists(
  circuit: Circuit,
  sets: UnionFind,
  lists: readonly (readonly TerminalRef[])[],
): UnionFind {
  for (const list of lists) {
    const [first, ...others] = list.flatMap((ref) => circuit.indexOf.get(ref) ?? []);
    for (const other of others) sets.union(first!, other);
  }
  return sets;
}

/** True where two partitions are the same. */
export function areSame(one: UnionFind, other: UnionFind, count: number): boolean {
  const there = new Map<number, number>();
  const back = new Map<number, number>();
  for (let k = 0; k < count; k += 1) {
    const [a, b] = [one.find(k), other.find(k)];
    if ((there.get(a) ?? b) !== b || (back.get(b) ?? a) !== a) return false;
    there.set(a, b);
    back.set(b, a);
  }
  return true;
}

/** The sets as lists, in order of their first members. */
export function groupsOf(count: number, sets: UnionFind): number[][] {
  const groups = new Map<number, number[]>();
  for (let k = 0; k < count; k += 1) {
    const root = sets.find(k);
    const group = groups.get(root);
    if (group) group.push(k);
    else groups.set(root, [k]);
  }
  return [...groups.values()];
}

/** Sets of two or more terminals by their names. */
export const namedGroups = ({ terminals }: Circuit, sets: UnionFind): TerminalRef[][] =>
  groupsOf(terminals.length, sets)
    .filter((group) => group.length > 1)
    .map((group) => group.map((terminal) => terminals[terminal]!));

/**
 * Sets of what is in one set of each of several partitions.
 * @param count members, numbered from 0.
 */
export function meetOf(count: number, partitions: readonly UnionFind[]): UnionFind {
  const sets = new UnionFind(count);
  const firstWith = new Map<string, number>();
  for (let k = 0; k < count; k += 1) {
    const key = partitions.map((one) => one.find(k)).join(' ');
    const first = firstWith.get(key);
    if (first === undefined) firstWith.set(key, k);
    else sets.union(first, k);
  }
  return sets;
}
