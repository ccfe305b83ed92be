import type { FaultForm } from '../fault.js';

/** `"KM1"`: the armature cannot leave rest. */
export const armatureJammed: FaultForm = {
  words: (place) => `armature of ${place} jammed out`,
  apply(circuit, place) {
    const armature = circuit.mechanismOf.get(place);
    if (armature === undefined || circuit.mechanisms[armature]!.kind !== 'armature') return null;
    return { ...circuit, jammed: [...circuit.jammed, armature] };
  },
};
