import { pairOf, type FaultForm } from '../fault.js';

/** `"A:1 B:2"`: the wire between the two carries nothing. */
export const openWire: FaultForm = {
  words(place) {
    const [from, to] = pairOf(place);
    return `wire ${from} to ${to} broken`;
  },
  apply(circuit, place) {
    const [first, second] = pairOf(place);
    const broken = circuit.bench.wires.findIndex(
      ({ from, to }) => (from === first && to === second) || (from === second && to === first),
    );
    if (broken < 0) return null;
    return { ...circuit, conductors: circuit.conductors.filter(({ wire }) => wire !== broken) };
  },
  tried: ({ bench }) => bench.wires.map(({ from, to }) => `${from} ${to}`),
};
