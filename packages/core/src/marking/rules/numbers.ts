import type { Wire } from '../../bench/index.js';
import { wiredTogether, type Circuit } from '../../circuit/index.js';
import { simple, type Breach } from './rule.js';
import { breachByWire, type WireFault } from './wires.js';

export const ferruleNumbers = simple(
  'ferrule-numbers',
  'Every wire numbered, one number a potential',
  'Every wire is numbered; one number a potential.',
  { breach: wrongNumbers },
);

function wrongNumbers(circuit: Circuit): Breach | null {
  const sets = wiredTogether(circuit);
  const { wires } = circuit.bench;
  const rootOf = ({ from }: Wire) => sets.find(circuit.indexOf.get(from)!);
  const numbersOf = new Map<number, string>();
  const rootsOf = new Map<string, number>();
  for (const wire of wires) {
    if (!wire.number) continue;
    if (!numbersOf.has(rootOf(wire))) numbersOf.set(rootOf(wire), wire.number);
    if (!rootsOf.has(wire.number)) rootsOf.set(wire.number, rootOf(wire));
  }
  const faults = wires.flatMap((wire, k): WireFault[] => {
    if (!wire.number) return [{ wire: k, found: 'has no number' }];
    const first = numbersOf.get(rootOf(wire));
    if (wire.number !== first)
      return [{ wire: k, found: `is ${wire.number}; its potential is ${first ?? ''}` }];
    return rootsOf.get(wire.number) === rootOf(wire)
      ? []
      : [{ wire: k, found: `is ${wire.number}, which is another potential` }];
  });
  return breachByWire(wires, faults, wires.length);
}
