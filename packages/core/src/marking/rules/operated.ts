import { OPERATED } from '../../catalogue/index.js';
import type { Circuit, MechanicalState } from '../../circuit/index.js';

/** A state in which some mechanisms are operated and all others are as on a fresh bench. */
export function operated(circuit: Circuit, ...tags: string[]): MechanicalState {
  const state = circuit.initial.slice();
  for (const tag of tags) {
    const index = circuit.mechanismOf.get(tag);
    if (index !== undefined) state[index] = OPERATED;
  }
  return state;
}
