import {
  IN_STOP,
  isInputCoil,
  isOfController,
  wiredTerminals,
  type Circuit,
  type Coil,
} from '../../circuit/index.js';
import { at, exchanged, withInitial, type FaultForm } from '../fault.js';

const inputPlace = ({ tag, name }: Coil): string => `${tag}:${name}`;

/** `"A1:I0.0"`: the input is never seen on. */
export const inputDead: FaultForm = {
  words: ({ place }) => `input ${place} is dead`,
  apply(circuit, { place }) {
    const k = circuit.coils.findIndex((coil) => isInputCoil(circuit, coil) && inputPlace(coil) === place);
    const input = circuit.coils[k];
    if (!input) return null;
    const own = { pickUp: Number.POSITIVE_INFINITY, dropOut: Number.POSITIVE_INFINITY };
    return { ...circuit, coils: exchanged(circuit.coils, k, { ...input, own }) };
  },
  possible(circuit) {
    const wired = wiredTerminals(circuit);
    return circuit.coils
      .filter((coil) => isInputCoil(circuit, coil) && wired.has(coil.a))
      .map((coil) => at(inputPlace(coil)));
  },
};

/** `"A1"`: the controller’s switch stands in stop. */
export const plcStopped: FaultForm = {
  mendedBy: 'set',
  words: ({ place }) => `${place} is in stop`,
  apply(circuit, { place }) {
    const controller = circuit.controllers.find(({ tag }) => tag === place);
    if (!controller) return null;
    return withInitial(circuit, controller.processor, circuit.initial[controller.processor]! | IN_STOP);
  },
  possible: ({ controllers }) => controllers.map(({ tag }) => at(tag)),
};

/** Coils with a winding: what a controller measures has none. */
export const wound = ({ coils, mechanisms }: Circuit): readonly Coil[] =>
  coils.filter(({ mechanism }) => !isOfController(mechanisms[mechanism]!));
