import type { Circuit, Switch } from './circuit.js';
import { UnionFind } from './union-find.js';

/** Sets of terminals joined by wires, inner links and those contacts that `through` admits. */
export function wiredTogether(
  circuit: Circuit,
  through: (contact: Switch) => boolean = () => false,
): UnionFind {
  const sets = new UnionFind(circuit.terminals.length);
  for (const { a, b } of circuit.conductors) sets.union(a, b);
  for (const contact of circuit.switches) if (through(contact)) sets.union(contact.a, contact.b);
  return sets;
}

/** Terminals on which a wire ends. */
export function wiredTerminals(circuit: Circuit): Set<number> {
  return new Set(
    circuit.conductors.filter(({ wire }) => wire >= 0).flatMap(({ a, b }) => [a as number, b as number]),
  );
}
