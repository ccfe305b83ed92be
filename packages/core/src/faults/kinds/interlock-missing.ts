import type { Circuit } from '../../circuit/index.js';
import { at, pairOf, type FaultForm } from '../fault.js';

/** `"KM1 KM2"`: the mechanical interlock of the two is gone. */
export const interlockMissing: FaultForm = {
  isPair: true,
  words({ place }) {
    const [one, other] = pairOf(place);
    return `mechanical interlock of ${one} and ${other} broken`;
  },
  apply(circuit, { place }) {
    const [a, b] = pairOf(place).map((tag) => circuit.mechanismOf.get(tag));
    if (a === undefined || b === undefined) return null;
    const interlocks = circuit.interlocks.filter((group) => !group.includes(a) || !group.includes(b));
    return interlocks.length === circuit.interlocks.length ? null : { ...circuit, interlocks };
  },
  tried: interlocksOf,
  possible: (circuit) => interlocksOf(circuit).map(at),
};

function interlocksOf({ bench }: Circuit): string[] {
  return bench.interlocks.map(({ between }) => between.slice(0, 2).join(' '));
}
