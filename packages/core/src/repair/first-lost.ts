import type { Solver } from '../electrics/index.js';
import { PROPERTY_IDS, firstLostOf, proveCircuit, type Property } from '../proof/index.js';

/**
 * The first safety property that a repaired board does not hold, of those that need not be excused because
 * the reference itself does not hold them; and whether the proof came to its end.
 */
export function firstLost(
  solver: Solver,
  excused: ReadonlySet<string>,
): { readonly lost: Property | null; readonly complete: boolean } {
  const properties = PROPERTY_IDS.filter((id) => !excused.has(id));
  const proof = proveCircuit(solver, { properties, untilLost: true });
  return { lost: firstLostOf(proof.properties) ?? null, complete: proof.complete };
}
