import type { Wire } from '../../bench/index.js';
import { circuitOfLead, isOpening, placesOf, type Circuit } from '../../circuit/index.js';
import { CONDUCTOR_AMPS } from '../../tolerances.js';
import { simple, type Breach } from './rule.js';
import { breachByWire, earthWires, type WireFault } from './wires.js';

export const areaByProtection = simple(
  'area-by-protection',
  'Every conductor carries what its protection lets through',
  'Every conductor carries what its protection lets through.',
  { breach: thinWires },
);

/**
 * Amperes that fuses and breakers let reach each terminal: along the best fed way, the least rating on it.
 * Infinity before any protection.
 */
function ratingsOf(circuit: Circuit): Float64Array {
  const rating = new Float64Array(circuit.terminals.length);
  const unlimited = { limit: Number.POSITIVE_INFINITY };
  const limitOf = new Map(
    circuit.protections
      .filter(isOpening)
      .map(({ mechanism, spec }) => [mechanism, 'rating' in spec ? spec.rating : unlimited.limit] as const),
  );
  const ways = [
    ...circuit.conductors.map(({ a, b }) => ({ a, b, ...unlimited })),
    ...circuit.switches.map(({ a, b, mechanism }) => ({
      a,
      b,
      limit: limitOf.get(mechanism) ?? unlimited.limit,
    })),
    // A transformer's secondary is fed by what its primary's protection lets through, times its ratio.
    ...circuit.transformers.flatMap(({ primary, secondary }) =>
      primary.flatMap((a) => secondary.map((b) => ({ a, b, ...unlimited }))),
    ),
  ];
  for (const { terminal } of circuit.sources) rating[terminal] = Number.POSITIVE_INFINITY;
  const spread = (from: number, to: number, limit: number): boolean => {
    const reach = Math.min(rating[from]!, limit);
    if (reach <= rating[to]!) return false;
    rating[to] = reach;
    return true;
  };
  for (let changed = true; changed;) {
    changed = false;
    for (const { a, b, limit } of ways) {
      if (spread(a, b, limit)) changed = true;
      if (spread(b, a, limit)) changed = true;
    }
  }
  return rating;
}

/**
 * Least areas of power and of control conductors, mm². [S] IEC 60204-1, table 5 (from memory): 1.5 and 1.0
 * in one enclosure.
 */
const LEAST_AREA = { power: 1.5, control: 1 } as const;

/**
 * The area that a lead has as a rule: what carries its protection's rating, and what is strong enough; mm².
 */
export function usualAreas(circuit: Circuit): (wire: Pick<Wire, 'from' | 'to'>) => number {
  const rating = ratingsOf(circuit);
  const places = placesOf(circuit.bench);
  return (wire) => {
    const least = LEAST_AREA[circuitOfLead(places, wire) === 'control' ? 'control' : 'power'];
    const amps = rating[circuit.indexOf.get(wire.from)!]!;
    const carrying = Number.isFinite(amps) ? CONDUCTOR_AMPS.find(([, carries]) => carries >= amps)?.[0] : 0;
    return Math.max(least, carrying ?? CONDUCTOR_AMPS.at(-1)![0]);
  };
}

function thinWires(circuit: Circuit): Breach | null {
  const rating = ratingsOf(circuit);
  const earth = earthWires(circuit.bench);
  const { wires } = circuit.bench;
  const faults = wires.flatMap((wire, k): WireFault[] => {
    const { area } = wire;
    const protection = rating[circuit.indexOf.get(wire.from)!]!;
    if (area === undefined || earth.has(wire) || !Number.isFinite(protection)) return [];
    const carries = CONDUCTOR_AMPS.findLast(([size]) => size <= area)?.[1] ?? 0;
    if (carries >= protection) return [];
    const needed = CONDUCTOR_AMPS.find(([, amps]) => amps >= protection)?.[0];
    const needs = needed === undefined ? 'more' : `${needed} mm²`;
    return [
      { wire: k, found: `of ${area} mm² carries ${carries} A behind ${protection} A; it needs ${needs}` },
    ];
  });
  return breachByWire(wires, faults, wires.filter(({ area }) => area !== undefined).length);
}
