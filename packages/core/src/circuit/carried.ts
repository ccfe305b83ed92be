import type { Circuit, Motor } from './circuit.js';
import { meets } from './roles.js';
import { wiredTogether } from './wiring.js';

/**
 * Current that an overload relay's poles carry at rated load, amperes: the line's, or a winding's behind
 * the joint of a delta; null without a motor.
 */
export function carriedAmps(
  circuit: Circuit,
  tag: string,
): { readonly amps: number; readonly inWinding: boolean; readonly plate: Motor['plate'] } | null {
  const everything = wiredTogether(circuit, () => true);
  const poles = circuit.conductors.filter((conductor) => conductor.tag === tag && conductor.wire < 0);
  // Heaters are inner links; without them the load side of a pole shows what it alone feeds.
  const cut = wiredTogether(
    { ...circuit, conductors: circuit.conductors.filter((conductor) => conductor.tag !== tag) },
    (contact) => contact.spec.role === 'pole',
  );
  for (const { terminals, connection, plate } of circuit.motors) {
    if (!poles.some(({ b }) => meets(everything, terminals, b))) continue;
    const ends = poles.map(({ b }) => terminals.filter((end) => cut.find(end) === cut.find(b)).length);
    const inWinding =
      connection === 'open' && plate.connection === 'delta' && ends.every((count) => count === 1);
    // A single-phase motor is modelled as a third of a delta machine, whose line current is √3 times its own.
    const current = connection === 'single' ? plate.current / Math.sqrt(3) : plate.current;
    return { amps: inWinding ? current / Math.sqrt(3) : current, inWinding, plate };
  }
  return null;
}
