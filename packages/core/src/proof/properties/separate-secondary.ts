import {
  wayBetween,
  wayWords,
  type Circuit,
  type TerminalIndex,
  type Transformer,
} from '../../circuit/index.js';
import { DANGER, type PropertyRule, type WiringFault } from './property.js';

/** Conductors of all supplies but earth: lines, neutrals, both poles of DC supplies. */
function conductorsOf(circuit: Circuit): TerminalIndex[] {
  const earths = earthsOf(circuit);
  const all = circuit.sources.flatMap(({ terminal, reference }) => [terminal, reference]);
  return [...new Set([...all, ...circuit.earthed])].filter((terminal) => !earths.includes(terminal));
}

/** Earth terminals of the supplies. */
function earthsOf({ earthed, sources }: Circuit): TerminalIndex[] {
  return earthed.filter((terminal) => !sources.some(({ reference }) => reference === terminal));
}

/** What joins a transformer's secondary circuit to another supply, whichever contacts close. */
function fault(circuit: Circuit, { tag, secondary }: Transformer): WiringFault | null {
  const always = () => true;
  const other = wayBetween(circuit, secondary, conductorsOf(circuit), always);
  const name = (terminal: number) => circuit.terminals[terminal]!;
  if (other)
    return {
      found: `the secondary of ${tag} is joined to ${name(other.to)}${wayWords(other)}, a conductor of another supply`,
    };
  const [x1, x2] = secondary.map((end) => wayBetween(circuit, [end], earthsOf(circuit), always));
  if (!x1 || !x2) return null;
  return {
    found: `both conductors of the secondary of ${tag} are earthed: ${name(x1.from)}${wayWords(x1)} and ${name(x2.from)}${wayWords(x2)}`,
  };
}

/**
 * A control circuit behind a transformer is a supply of its own: nothing joins it to another but earth, at
 * one conductor.
 */
export const separateSecondary: PropertyRule = {
  title: 'A transformer’s secondary is joined to nothing but earth, at one conductor',
  weight: DANGER,
  applies: ({ transformers }) => transformers.length > 0,
  tested: ({ hasRun, hasEnergised }) => hasRun || hasEnergised,
  wiring(circuit) {
    for (const transformer of circuit.transformers) {
      const found = fault(circuit, transformer);
      if (found) return found;
    }
    return null;
  },
};
