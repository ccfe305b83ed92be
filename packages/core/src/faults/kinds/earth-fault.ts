import { supplyEarths, wiredTerminals, wiredTogether, type Circuit } from '../../circuit/index.js';
import { at, withConductor, type FaultForm } from '../fault.js';

/** `"S2:14"`: the terminal touches earth. */
export const earthFault: FaultForm = {
  words: ({ place }) => `earth fault at ${place}`,
  apply(circuit, { place }) {
    const [earth] = supplyEarths(circuit);
    return withConductor(circuit, circuit.indexOf.get(place), earth, 'earth fault');
  },
  tried: controlPotentials,
  possible: (circuit) => controlPotentials(circuit).map(at),
};

/** One terminal of each potential of the control circuit that is not earth or a supply conductor itself. */
function controlPotentials(circuit: Circuit): string[] {
  if (circuit.earthed.length === 0) return [];
  const sets = wiredTogether(circuit);
  const wired = wiredTerminals(circuit);
  const seen = new Set(
    [...circuit.earthed, ...circuit.sources.map(({ terminal }) => terminal)].map((k) => sets.find(k)),
  );
  const ends = [
    ...circuit.coils.flatMap(({ a, b }) => [a, b]),
    ...circuit.switches.filter(({ spec }) => spec.role !== 'pole').flatMap(({ a, b }) => [a, b]),
  ];
  return ends.flatMap((end) => {
    const root = sets.find(end);
    if (!wired.has(end) || seen.has(root)) return [];
    seen.add(root);
    return [circuit.terminals[end]!];
  });
}
