import { blocksOf, wiredTogether, type Circuit, type MechanicalState } from '../../circuit/index.js';

/** An answer that rests on some mechanisms alone, kept for all states in which these conduct alike. */
export class ByContacts<T> {
  private readonly mechanisms: readonly number[];
  private readonly kept = new Map<string, T>();

  constructor(
    private readonly circuit: Circuit,
    mechanisms: Iterable<number>,
    private readonly answer: (state: MechanicalState) => T,
  ) {
    this.mechanisms = [...new Set(mechanisms)];
  }

  at(state: MechanicalState): T {
    const { mechanisms } = this.circuit;
    const key = String.fromCharCode(...this.mechanisms.map((k) => mechanisms[k]!.classOf[state[k]!]!));
    const known = this.kept.get(key);
    if (known !== undefined) return known;
    const found = this.answer(state);
    this.kept.set(key, found);
    return found;
  }
}

/**
 * Mechanisms whose contacts lie on some way between a supply's conductor and one of some terminals: with
 * the two joined by one more edge, those are the contacts in its biconnected component.
 */
export function mechanismsBetween(circuit: Circuit, terminals: readonly number[]): number[] {
  const sets = wiredTogether(circuit);
  const [supply, end] = [circuit.terminals.length, circuit.terminals.length + 1];
  const held = [...circuit.sources.flatMap((one) => [one.terminal, one.reference]), ...circuit.earthed];
  const contacts = circuit.switches.map(({ a, b }) => ({ a: sets.find(a), b: sets.find(b) }));
  const edges = [
    ...contacts,
    ...[...new Set(held.map((terminal) => sets.find(terminal)))].map((a) => ({ a, b: supply })),
    ...[...new Set(terminals.map((terminal) => sets.find(terminal)))].map((a) => ({ a, b: end })),
    { a: supply, b: end },
  ];
  const block = blocksOf(circuit.terminals.length + 2, edges);
  return circuit.switches.flatMap(({ mechanism }, k) => (block[k] === block.at(-1) ? [mechanism] : []));
}
