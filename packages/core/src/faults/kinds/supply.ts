import { splitRef } from '../../bench/index.js';
import {
  actedOn,
  supplyEarths,
  terminalsOfRole,
  type Circuit,
  type Conductor,
  type Source,
  type TerminalIndex,
} from '../../circuit/index.js';
import { at, pairOf, withInitial, type FaultForm } from '../fault.js';

const sourceAt = (circuit: Circuit, place: string): Source | undefined =>
  circuit.sources.find(({ terminal }) => circuit.terminals[terminal] === place);

/** `"G1:L2"`: this line of the supply is gone. */
export const lostPhase: FaultForm = {
  words: ({ place }) => `${place} lost`,
  apply(circuit, { place }) {
    const source = sourceAt(circuit, place);
    const supply = source ? circuit.mechanisms[source.mechanism] : undefined;
    if (!source || !supply) return null;
    const { initial } = circuit;
    const lost = actedOn(supply, 'lose', initial[supply.index]!, source.conductor);
    return lost === initial[supply.index] ? null : withInitial(circuit, supply.index, lost);
  },
  possible: ({ sources, terminals }) => sources.map(({ terminal }) => at(terminals[terminal]!)),
};

/** `"G1:L1 G1:L2"`: two lines of a supply are exchanged; or what ends on any two terminals. */
export const swappedPhases: FaultForm = {
  isPair: true,
  words: ({ place }) => `${pairOf(place).join(' and ')} exchanged`,
  apply(circuit, { place }) {
    const [first, second] = pairOf(place);
    const [one, other] = [sourceAt(circuit, first), sourceAt(circuit, second)];
    if (one && other && one !== other) {
      const swapped = (source: Source): Source => {
        const from = source === one ? other : source === other ? one : source;
        return { ...source, re: from.re, im: from.im };
      };
      return { ...circuit, sources: circuit.sources.map(swapped) };
    }
    const [a, b] = [circuit.indexOf.get(first), circuit.indexOf.get(second)];
    if (a === undefined || b === undefined || a === b) return null;
    const end = (terminal: TerminalIndex) => (terminal === a ? b : terminal === b ? a : terminal);
    const moved = (one: Conductor): Conductor =>
      one.wire < 0 ? one : { ...one, a: end(one.a), b: end(one.b) };
    return { ...circuit, conductors: circuit.conductors.map(moved) };
  },
  possible(circuit) {
    const lines = circuit.sources.filter(({ frequency }) => frequency > 0);
    return lines.flatMap((one, k) =>
      lines
        .slice(k + 1)
        .filter(({ tag }) => tag === one.tag)
        .map((other) => at(`${circuit.terminals[one.terminal]!} ${circuit.terminals[other.terminal]!}`)),
    );
  },
};

/** `"G1:N"`: the neutral is open inside the supply; its star point stays earthed. */
export const openNeutral: FaultForm = {
  words: ({ place }) => `neutral ${place} open`,
  apply(circuit, { place }) {
    const neutral = circuit.indexOf.get(place);
    if (neutral === undefined || !circuit.earthed.includes(neutral)) return null;
    const { tag } = splitRef(place);
    const earth = supplyEarths(circuit).find((one) => splitRef(circuit.terminals[one]!).tag === tag);
    if (earth === undefined || earth === neutral) return null;
    return {
      ...circuit,
      sources: circuit.sources.map((source) =>
        source.reference === neutral ? { ...source, reference: earth } : source,
      ),
      earthed: circuit.earthed.filter((terminal) => terminal !== neutral),
    };
  },
  possible: (circuit) =>
    terminalsOfRole(circuit, 'return')
      .filter((terminal) => circuit.earthed.includes(terminal))
      .map((terminal) => at(circuit.terminals[terminal]!)),
};

/** `"M1:PE"`: the frame is not joined to its earth terminal; what passes through the terminal goes on. */
export const openEarth: FaultForm = {
  words: ({ place }) => `earth of ${splitRef(place).tag} open inside`,
  apply(circuit, { place }) {
    const frame = circuit.indexOf.get(place);
    if (frame === undefined || !circuit.motors.some(({ earth }) => earth === frame)) return null;
    const [first] = circuit.conductors.filter(({ a, b }) => a === frame || b === frame);
    if (!first) return circuit;
    const hub = first.a === frame ? first.b : first.a;
    const end = (terminal: TerminalIndex) => (terminal === frame ? hub : terminal);
    return {
      ...circuit,
      conductors: circuit.conductors
        .filter((one) => one !== first)
        .map((one) => ({ ...one, a: end(one.a), b: end(one.b) })),
    };
  },
  possible: ({ motors, terminals }) => motors.map(({ earth }) => at(terminals[earth]!)),
};
