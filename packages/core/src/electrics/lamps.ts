import { BURNT } from '../catalogue/index.js';
import type { Circuit, MechanicalState } from '../circuit/index.js';
import { LAMP_DIM, LAMP_LIT } from '../tolerances.js';
import type { Electrical } from './electrical.js';

/** What a lamp that is not burnt shows at a voltage, per unit of its own. */
export const lampAt = (perUnit: number): 'lit' | 'dim' | 'dark' =>
  perUnit >= LAMP_LIT ? 'lit' : perUnit >= LAMP_DIM ? 'dim' : 'dark';

/** What a person sees of a lamp in one state of a circuit; `k` is its place among the circuit's lamps. */
export function lampState(
  circuit: Circuit,
  electrical: Electrical,
  state: MechanicalState,
  k: number,
): 'lit' | 'dim' | 'dark' | 'burnt' {
  const { mechanism, voltage } = circuit.lamps[k]!;
  if (state[mechanism] === BURNT) return 'burnt';
  return lampAt(electrical.lampVolts[k]! / voltage);
}
