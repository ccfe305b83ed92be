import type { Bench, TerminalRef } from '../bench/index.js';
import { isSwitchgearDevice, isSupply, anatomy } from '../catalogue/index.js';
import { UnionFind } from '../circuit/index.js';
import type { Netlist } from './nets.js';
import type { Edge } from './series-parallel.js';

type Potential = 'feed' | 'return' | 'earth';

/** Which nets feed and return control circuits: the rails of their paths. */
export class Rails {
  private readonly potential: ReadonlyMap<number, Potential>;

  constructor(bench: Bench, netlist: Netlist) {
    this.potential = potentials(bench, netlist);
  }

  /**
   * Upper and lower rail of a part of the circuit that hangs together; without a return there is no lower
   * one.
   */
  of(edges: readonly Edge[]): { readonly top: number; readonly bottom: number | null } {
    const degree = new Map<number, number>();
    for (const { u, v } of edges) for (const net of [u, v]) degree.set(net, (degree.get(net) ?? 0) + 1);
    const most = (among: (net: number) => boolean): number | undefined =>
      [...degree].filter(([net]) => among(net)).toSorted((a, b) => b[1] - a[1])[0]?.[0];
    const is = (potential: Potential) => (net: number) => this.potential.get(net) === potential;
    const feed = most(is('feed'));
    const back = most(is('return')) ?? most(is('earth')) ?? most((net) => is('feed')(net) && net !== feed);
    if (feed !== undefined) return { top: feed, bottom: back ?? null };
    return { top: back ?? most(() => true)!, bottom: null };
  }

  /** Nets of a supply that are no rail of the circuit in which they stand. */
  tapped(components: readonly (readonly Edge[])[]): ReadonlySet<number> {
    return new Set(
      components.flatMap((edges) => {
        const { top, bottom } = this.of(edges);
        const nets = new Set(edges.flatMap(({ u, v }) => [u, v]));
        return [...nets].filter((net) => this.potential.has(net) && net !== top && net !== bottom);
      }),
    );
  }
}

/** What each net carries, seen through breakers and fuses of the power circuit. */
function potentials(bench: Bench, { nets, netOf }: Netlist): Map<number, Potential> {
  const sets = new UnionFind(nets.length);
  const marks: [TerminalRef, Potential][] = [];
  const net = (ref: TerminalRef) => netOf.get(ref)!;
  for (const device of bench.devices) {
    const { tag } = device;
    const body = anatomy(device);
    if (isSwitchgearDevice(device) && body.contacts.length === 3)
      for (const { a, b } of body.contacts) sets.union(net(`${tag}:${a}`), net(`${tag}:${b}`));
    if (isSupply(device))
      for (const { name, role } of body.terminals)
        if (role === 'feed' || role === 'return' || role === 'earth') marks.push([`${tag}:${name}`, role]);
  }
  const earths = new Set(marks.flatMap(([ref, potential]) => (potential === 'earth' ? [net(ref)] : [])));
  for (const device of bench.devices) {
    const { transformer } = anatomy(device);
    if (!transformer) continue;
    const [x1, x2] = transformer.secondary.map((name): TerminalRef => `${device.tag}:${name}`) as [
      TerminalRef,
      TerminalRef,
    ];
    const back = earths.has(net(x1)) && !earths.has(net(x2)) ? x1 : x2;
    marks.push([back, 'return'], [back === x1 ? x2 : x1, 'feed']);
  }
  const known = new Map<number, Potential>();
  for (const wanted of ['return', 'feed', 'earth'] as const)
    for (const [ref, potential] of marks) {
      const root = sets.find(net(ref));
      if (potential === wanted && !known.has(root)) known.set(root, potential);
    }
  return new Map(
    nets.flatMap((_, k) => {
      const potential = known.get(sets.find(k));
      return potential ? [[k, potential] as const] : [];
    }),
  );
}
