import { isArmature } from '../../circuit/index.js';
import { OPERATED } from '../../catalogue/index.js';
import { at, withInitial, type FaultForm } from '../fault.js';

/** `"KM1"`: the armature cannot leave rest, or cannot leave its operated place. */
export const armatureJammed: FaultForm = {
  keys: { position: { kind: 'position', needed: false } },
  words: ({ place, position = 'out' }) => `armature of ${place} jammed ${position}`,
  apply(circuit, { place, position = 'out' }) {
    const armature = circuit.mechanismOf.get(place);
    if (armature === undefined || !isArmature(circuit.mechanisms[armature]!)) return null;
    if (position === 'out') return { ...circuit, jammed: [...circuit.jammed, armature] };
    const stuck = withInitial(circuit, armature, OPERATED);
    return { ...stuck, jammedIn: [...circuit.jammedIn, armature] };
  },
  possible: (circuit) =>
    circuit.coils.flatMap(({ tag, mechanism }) =>
      isArmature(circuit.mechanisms[mechanism]!) ? [at(tag), { place: tag, position: 'in' as const }] : [],
    ),
};
