import { isSupply } from '../../catalogue/index.js';
import { spellRef, spellWire, splitRef, type Bench, type TerminalRef, type Wire } from '../../bench/index.js';
import { UnionFind, type Circuit, type TerminalIndex } from '../../circuit/index.js';
import type { Joints } from './meter.js';

/** Terminals that a device's inner links make one. */
type Atom = readonly TerminalIndex[];

/** What the leads of a board join: each potential with its atoms, those without a lead apart. */
export interface Potentials {
  readonly nets: readonly (readonly Atom[])[];
  /** Place in `nets` of each terminal. */
  readonly netOf: Int32Array;
  /** Terminals that no lead reaches, an atom each. */
  readonly free: readonly Atom[];
}

/** One thing that is wired wrongly, as what it joins otherwise. */
export interface Mistake {
  /** The same for the same joints, whichever leads make them. */
  readonly key: string;
  readonly kind: 'left out' | 'moved' | 'bridge' | 'exchanged';
  readonly title: string;
  readonly joints: Joints;
  /** Terminals of the potentials that it changes. */
  readonly touched: readonly TerminalIndex[];
  /** The lead of the board that is left out, as it is spoken. */
  readonly lead?: string;
}

/**
 * Most atoms of a potential whose every partition into two is looked at; of a larger one those that its
 * leads and single ends make.
 */
const ALL_DIVISIONS = 7;

/** The potentials of a board by its leads and inner links. */
export function potentialsOf(circuit: Circuit, wires: readonly Wire[]): Potentials {
  const n = circuit.terminals.length;
  const atoms = new UnionFind(n);
  for (const { a, b } of circuit.conductors) atoms.union(a, b);
  const leads = new UnionFind(n);
  for (const { a, b } of circuit.conductors) leads.union(a, b);
  const at = (ref: string) => circuit.indexOf.get(ref)!;
  for (const { from, to } of wires) leads.union(at(from), at(to));
  const grouped = new Map<number, Map<number, TerminalIndex[]>>();
  for (let k = 0; k < n; k += 1) {
    const net = grouped.get(leads.find(k)) ?? new Map<number, TerminalIndex[]>();
    net.set(atoms.find(k), [...(net.get(atoms.find(k)) ?? []), k as TerminalIndex]);
    grouped.set(leads.find(k), net);
  }
  const all = [...grouped.values()].map((net) => [...net.values()]);
  const nets = all.filter((net) => net.length > 1);
  const netOf = new Int32Array(n).fill(-1);
  nets.forEach((net, k) => net.flat().forEach((terminal) => (netOf[terminal] = k)));
  return { nets, netOf, free: all.filter((net) => net.length === 1).map(([atom]) => atom!) };
}

export const jointsOf = (nets: Potentials['nets']): Joints => nets.map((net) => net.flat());

/** The name of a partition of potentials: which parts the terminals of a board are joined to. */
export function keyOf(joints: Joints): string {
  return joints
    .filter((group) => group.length > 1)
    .map(nameOf)
    .sort()
    .join('|');
}

const nameOf = (group: readonly TerminalIndex[]): string => [...group].sort((a, b) => a - b).join(' ');

/**
 * Every way in which one lead of a board may be wired wrongly, and every two potentials that one lead too
 * many may join, one of them perhaps a supply's terminal that nothing uses; where not all are wanted, those
 * within a potential or on one device.
 */
export function mistakesOf(circuit: Circuit, bench: Bench, all = true): Mistake[] {
  const known = potentialsOf(circuit, bench.wires);
  const found = new Map<string, Mistake>();
  const right = keyOf(jointsOf(known.nets));
  const sound = new Set(known.nets.map((net) => nameOf(net.flat())));
  const touched = (joints: Joints) => joints.filter((group) => !sound.has(nameOf(group))).flat();
  const add = (kind: Mistake['kind'], title: string, joints: Joints, lead?: string) => {
    const key = keyOf(joints);
    if (key !== right && !found.has(key))
      found.set(key, { key, kind, title, joints, touched: touched(joints), ...(lead ? { lead } : {}) });
  };
  const name = (terminal: TerminalIndex) => spellRef(circuit.terminals[terminal]!);
  const supplies = new Set(bench.devices.filter(isSupply).map(({ tag }) => tag));
  const unused = known.free.filter(([one]) => supplies.has(splitRef(circuit.terminals[one!]!).tag));
  const without = (net: number): Joints => jointsOf(known.nets.filter((_, k) => k !== net));

  for (const { wire, net, part, rest } of cuts(circuit, known, bench.wires)) {
    const spoken = spellWire(wire);
    const targets = all ? [...known.nets, ...known.free.map((atom) => [atom])] : [];
    add('left out', `${spoken} left out`, [...without(net), part.flat(), rest.flat()], spoken);
    for (const [stays, goes, end, other] of [
      [rest, part, wire.to, wire.from],
      [part, rest, wire.from, wire.to],
    ] as const)
      for (const to of targets) {
        if (to === known.nets[net]) continue;
        const joined = [...stays.flat(), ...to.flat()];
        const others = known.nets.filter((one, k) => k !== net && one !== to);
        const title = `${spellRef(other)} – ${spellRef(end)} at ${name(to[0]![0]!)} instead of ${spellRef(end)}`;
        add('moved', title, [...jointsOf(others), joined, goes.flat()]);
      }
  }
  known.nets.forEach((net, k) => {
    for (const [part, rest] of partitions(net)) {
      const [less, more] = part.length <= rest.length ? [part, rest] : [rest, part];
      const title = `${less.map(([one]) => name(one!)).join(', ')} not joined to ${name(more[0]![0]!)}`;
      add('left out', title, [...without(k), part.flat(), rest.flat()]);
    }
    for (let j = 0; all && j < k; j += 1) {
      const other = known.nets[j]!;
      const title = `${name(other[0]![0]!)} joined to ${name(net[0]![0]!)}`;
      const others = known.nets.filter((_, one) => one !== k && one !== j);
      add('bridge', title, [...jointsOf(others), [...net.flat(), ...other.flat()]]);
    }
    for (const atom of unused) {
      const title = `${name(net[0]![0]!)} joined to ${name(atom[0]!)}, which nothing uses`;
      add('bridge', title, [...without(k), [...net.flat(), ...atom]]);
    }
  });
  for (const [a, b] of neighbours(circuit, known)) {
    const nets = known.nets.map((net) =>
      net.map((atom) => (atom.includes(a) ? [b] : atom.includes(b) ? [a] : atom)),
    );
    add('exchanged', `leads of ${name(a)} and ${name(b)} exchanged`, jointsOf(nets));
  }
  return [...found.values()];
}

/** What falls apart where one lead is not there: the parts with its first and with its second end. */
function cuts(circuit: Circuit, { nets, netOf }: Potentials, wires: readonly Wire[]) {
  const at = (ref: TerminalRef) => circuit.indexOf.get(ref)!;
  return wires.flatMap((wire, k) => {
    const net = netOf[at(wire.from)]!;
    const sets = new UnionFind(circuit.terminals.length);
    for (const { a, b } of circuit.conductors) sets.union(a, b);
    wires.forEach(({ from, to }, other) => other !== k && sets.union(at(from), at(to)));
    const isWithFirst = (atom: Atom) => sets.find(atom[0]!) === sets.find(at(wire.from));
    const part = nets[net]!.filter(isWithFirst);
    const rest = nets[net]!.filter((atom) => !isWithFirst(atom));
    return rest.length > 0 ? [{ wire, net, part, rest }] : [];
  });
}

/** Ways to divide a potential's atoms into two parts. */
function partitions(net: readonly Atom[]): [Atom[], Atom[]][] {
  const n = net.length;
  const masks =
    n <= ALL_DIVISIONS
      ? Array.from({ length: 2 ** (n - 1) - 1 }, (_, k) => k + 1)
      : Array.from({ length: n }, (_, k) => 2 ** k);
  return masks.map((mask) => [
    net.filter((_, k) => (mask >> k) & 1),
    net.filter((_, k) => !((mask >> k) & 1)),
  ]);
}

/** Two terminals of one device whose leads may be taken for each other's. */
function neighbours(circuit: Circuit, { nets, netOf }: Potentials): [TerminalIndex, TerminalIndex][] {
  const single = nets.flatMap((net) => net.filter((atom) => atom.length === 1).flat());
  const tagOf = (terminal: TerminalIndex) => splitRef(circuit.terminals[terminal]!).tag;
  return single.flatMap((a, k) =>
    single
      .slice(k + 1)
      .filter((b) => netOf[a] !== netOf[b] && tagOf(a) === tagOf(b))
      .map((b): [TerminalIndex, TerminalIndex] => (a < b ? [a, b] : [b, a])),
  );
}
