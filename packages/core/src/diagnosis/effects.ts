import { compile } from '../circuit/index.js';
import { describeFault, possibleFaults, type Fault } from '../faults/index.js';
import { Search } from './search.js';
import { tabulate, type Effect, type ReferenceCircuit } from './table.js';

/** A fault that can befall a board, and what it does. */
export interface FaultEffect extends Effect {
  readonly fault: Fault;
  readonly title: string;
  /** Tests that a search by the best next one makes until it is found. */
  readonly readings: number;
  /** Places among the faults of the board of those that nothing tells apart from it. */
  readonly alike: readonly number[];
}

/** Every single fault of a board with what it does; yields the part that is done. */
export function* faultEffects(
  referenceCircuit: ReferenceCircuit,
  faults: readonly Fault[] = possibleFaults(compile(referenceCircuit.bench)),
): Generator<number, FaultEffect[]> {
  const table = yield* tabulate(
    referenceCircuit,
    faults.map((fault) => [fault]),
  );
  const search = new Search(table);
  const readings = search.readings();
  const alike = faults.map((): number[] => []);
  for (const group of search.groups(faults.map((_, k) => k)))
    for (const k of group) alike[k] = group.filter((other) => other !== k);
  return faults.map((fault, k) => ({
    fault,
    title: describeFault(fault),
    ...table.effects[k]!,
    readings: readings[k]!,
    alike: alike[k]!,
  }));
}
