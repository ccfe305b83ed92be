import type { TerminalRef } from '../bench/index.js';
import { UnionFind, type Circuit } from '../circuit/index.js';

/** What joins terminals within devices: bars, strips, links. */
export function innerSets(circuit: Circuit): UnionFind {
  const sets = new UnionFind(circuit.terminals.length);
  for (const { a, b, wire } of circuit.conductors) if (wire < 0) sets.union(a, b);
  return sets;
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
