import { pairOf, withConductor, type FaultForm } from '../fault.js';

/** `"A:1 B:2"`: a bridge between the two. */
export const extraWire: FaultForm = {
  isPair: true,
  words({ place }) {
    const [from, to] = pairOf(place);
    return `${from} bridged to ${to}`;
  },
  apply(circuit, { place }) {
    const [a, b] = pairOf(place).map((ref) => circuit.indexOf.get(ref));
    return withConductor(circuit, a, b, 'extra wire');
  },
  possible: () => [],
};
