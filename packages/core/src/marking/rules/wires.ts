import { splitRef, type Bench, type Wire } from '../../bench/index.js';
import { anatomy } from '../../catalogue/index.js';
import { placesOf } from '../../circuit/index.js';
import type { Breach } from './rule.js';

/** What is wrong with one wire. */
export interface WireFault {
  readonly wire: number;
  readonly found: string;
}

export const nameOf = ({ from, to }: Wire): string => `${from} to ${to}`;

/** Names at most this many wrong wires; the rest are counted. */
const NAMED = 4;

/** What is judged wire by wire keeps the points of the right ones. */
export function breachByWire(
  wires: readonly Wire[],
  faults: readonly WireFault[],
  judged: number,
): Breach | null {
  if (faults.length === 0) return null;
  const more = faults.length > NAMED ? `; and ${faults.length - NAMED} more` : '';
  const named = faults.slice(0, NAMED).map(({ wire, found }) => `${nameOf(wires[wire]!)} ${found}`);
  return {
    found: named.join('; ') + more,
    where: faults.flatMap(({ wire }) => [wires[wire]!.from, wires[wire]!.to]),
    kept: Math.max(0, 1 - faults.length / Math.max(1, judged)),
  };
}

/**
 * Wires of the protective conductor: those that end on an earth terminal, onwards through strips and
 * busbars, up to whatever else they earth.
 */
export function earthWires(bench: Bench): Set<Wire> {
  const places = placesOf(bench);
  const roleOf = (ref: string) => places.get(ref)?.role;
  const bars = new Map(
    bench.devices.flatMap((device) => {
      const { links, terminals } = anatomy(device);
      const isBar = links.length > 0 && terminals.every(({ role }) => role === 'joint');
      return isBar ? [[device.tag, terminals.map(({ name }) => `${device.tag}:${name}`)] as const] : [];
    }),
  );
  const earth = new Set<Wire>();
  const seen = new Set<string>();
  const ends = bench.wires.flatMap(({ from, to }): string[] => [from, to]);
  const queue = ends.filter((ref) => roleOf(ref) === 'earth');
  for (const ref of queue) {
    if (seen.has(ref)) continue;
    seen.add(ref);
    queue.push(...(bars.get(splitRef(ref).tag) ?? []));
    for (const wire of bench.wires) {
      if (wire.from !== ref && wire.to !== ref) continue;
      earth.add(wire);
      const other = wire.from === ref ? wire.to : wire.from;
      if (roleOf(other) === 'earth' || roleOf(other) === 'joint') queue.push(other);
    }
  }
  return earth;
}
