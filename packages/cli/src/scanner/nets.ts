import type { TerminalRef, UnionFind } from '@contactum/core';

/** The sets of two and more terminals by their names. */
export function namedNets(names: readonly TerminalRef[], sets: UnionFind): TerminalRef[][] {
  const nets = new Map<number, TerminalRef[]>();
  names.forEach((name, k) => {
    const root = sets.find(k);
    nets.set(root, [...(nets.get(root) ?? []), name]);
  });
  return [...nets.values()].filter((net) => net.length > 1);
}
