import { terminalsOf, type Bench, type TerminalRef } from '../bench/index.js';
import { anatomy, isSupply } from '../catalogue/index.js';
import { UnionFind } from '../circuit/index.js';
import type { Net } from './drawing.js';

/** What the wires join, with what devices join inside; contacts and heaters join nothing here. */
export interface Netlist {
  readonly nets: readonly Net[];
  /** Index into `nets`, by terminal; every terminal of the bench has one. */
  readonly netOf: ReadonlyMap<TerminalRef, number>;
  readonly wired: ReadonlySet<TerminalRef>;
}

/** Finds the nets of a bench and names each: by its supply conductor, by a ferrule's number, or in order. */
export function netlistOf(bench: Bench): Netlist {
  const terminals = terminalsOf(bench);
  const index = new Map(terminals.map((ref, k) => [ref, k] as const));
  const sets = new UnionFind(terminals.length);
  const join = (a: TerminalRef, b: TerminalRef) => sets.union(index.get(a)!, index.get(b)!);
  for (const { from, to } of bench.wires) join(from, to);
  for (const device of bench.devices)
    for (const [a, b] of anatomy(device).links) join(`${device.tag}:${a}`, `${device.tag}:${b}`);

  const members = new Map<number, TerminalRef[]>();
  terminals.forEach((ref, k) => {
    const root = sets.find(k);
    members.set(root, [...(members.get(root) ?? []), ref]);
  });
  const groups = [...members.values()];
  const names = nameNets(bench, groups);
  return {
    nets: groups.map((group, k) => ({ name: names[k]!, terminals: group })),
    netOf: new Map(groups.flatMap((group, k) => group.map((ref) => [ref, k] as const))),
    wired: new Set(bench.wires.flatMap(({ from, to }) => [from, to])),
  };
}

function nameNets(bench: Bench, groups: readonly (readonly TerminalRef[])[]): string[] {
  const supplies = bench.devices.filter(isSupply).map(({ tag }) => tag);
  const numbers = new Map(
    bench.wires.flatMap(({ from, number }) => (number ? [[from, number] as const] : [])),
  );
  const used = new Set<string>();
  let next = 0;
  const fresh = (): string => {
    do next += 1;
    while (used.has(String(next)));
    return String(next);
  };
  const take = (name: string): string => {
    const free = used.has(name) ? fresh() : name;
    used.add(free);
    return free;
  };
  const named = groups.map((group) => {
    const supply = group.find((ref) => supplies.some((tag) => ref.startsWith(`${tag}:`)));
    if (supply) return take(supplies.length > 1 ? supply.replace(':', ' ') : supply.split(':')[1]!);
    const number = group.flatMap((ref) => numbers.get(ref) ?? [])[0];
    return number === undefined ? null : take(number);
  });
  return named.map((name, k) => name ?? (groups[k]!.length > 1 ? take(fresh()) : ''));
}
