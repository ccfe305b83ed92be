import { BURNT } from '../../catalogue/index.js';
import type { FaultForm } from '../fault.js';

/** `"KM1"`: the coil is burnt through. */
export const coilOpen: FaultForm = {
  words: (place) => `coil of ${place} open`,
  apply(circuit, place) {
    const coil = circuit.coils.find(({ tag }) => tag === place);
    if (!coil) return null;
    const initial = circuit.initial.slice();
    initial[coil.winding] = BURNT;
    return { ...circuit, initial };
  },
};
