import type { Circuit, Conductor, Element, TerminalIndex } from '../../circuit/index.js';
import { OPTIONAL, conductorAt, pairOf, wirePlaces, type FaultForm } from '../fault.js';

const without = (circuit: Circuit, conductor: Conductor): Circuit => ({
  ...circuit,
  conductors: circuit.conductors.filter((one) => one !== conductor),
});

const between = (place: string): string => pairOf(place).join(' to ');

/** `"A:1 B:2"`: the wire between the two carries nothing. */
export const openWire: FaultForm = {
  isPair: true,
  words: ({ place }) => `wire ${between(place)} broken`,
  apply(circuit, { place }) {
    const broken = conductorAt(circuit, place);
    return broken ? without(circuit, broken) : null;
  },
  tried: ({ bench }) => bench.wires.map(({ from, to }) => `${from} ${to}`),
  possible: wirePlaces,
};

/** Ohms of a bad joint where a fault does not say. */
const LOOSE_OHMS = 2000;

/** `"A:1 B:2"`: a resistance in the wire. */
export const looseWire: FaultForm = {
  isPair: true,
  keys: { ohms: OPTIONAL },
  words: ({ place, ohms = LOOSE_OHMS }) => `wire ${between(place)} loose, ${ohms} Ω`,
  apply(circuit, { place, ohms = LOOSE_OHMS }) {
    const loose = conductorAt(circuit, place);
    if (!loose) return null;
    const joint: Element = {
      tag: '',
      wire: loose.wire,
      windings: [[loose.a, loose.b]],
      law: { kind: 'impedance', open: { ohms, henries: 0 } },
    };
    return { ...without(circuit, loose), elements: [...circuit.elements, joint] };
  },
  possible: wirePlaces,
};

/** `"A:1 B:2"`: the end that belongs on B:2 sits on another terminal. */
export const wrongWire: FaultForm = {
  keys: { to: { kind: 'terminal', needed: true } },
  words: ({ place, to = '' }) => `wire ${between(place)} ends on ${to}`,
  apply(circuit, { place, to = '' }) {
    const wrong = conductorAt(circuit, place);
    const end = circuit.indexOf.get(to);
    const meant = circuit.indexOf.get(pairOf(place)[1]);
    if (!wrong || end === undefined) return null;
    const other: TerminalIndex = wrong.a === meant ? wrong.b : wrong.a;
    const moved: Conductor = { ...wrong, a: other, b: end };
    return { ...circuit, conductors: circuit.conductors.map((one) => (one === wrong ? moved : one)) };
  },
  possible: () => [],
};
