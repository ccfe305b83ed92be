import {
  blocksOf,
  wiredTogether,
  type Circuit,
  type GraphEdge,
  type MechanicalState,
  type Motor,
  type UnionFind,
} from '../../circuit/index.js';
import { perCircuit } from './property.js';

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
export function mechanismsBetween(circuit: Circuit, terminals: readonly number[]): readonly number[] {
  const contacts = contactsOf(circuit);
  const key = terminals.join();
  const known = contacts.between.get(key);
  if (known) return known;
  const { sets, edges: fixed, supply, end } = contacts;
  const edges = [
    ...fixed,
    ...[...new Set(terminals.map((terminal) => sets.find(terminal)))].map((a) => ({ a, b: end })),
    { a: supply, b: end },
  ];
  const block = blocksOf(end + 1, edges);
  const own = block.at(-1);
  const found = [
    ...new Set(circuit.switches.flatMap(({ mechanism }, k) => (block[k] === own ? [mechanism] : []))),
  ];
  contacts.between.set(key, found);
  return found;
}

/** A circuit's contacts between what is wired together, the supply's conductors joined to one more node. */
interface Contacts {
  readonly sets: UnionFind;
  readonly edges: readonly GraphEdge[];
  readonly supply: number;
  readonly end: number;
  /** What was asked before, by terminals. */
  readonly between: Map<string, readonly number[]>;
}

const contactsOf = perCircuit((circuit): Contacts => {
  const sets = wiredTogether(circuit);
  const [supply, end] = [circuit.terminals.length, circuit.terminals.length + 1];
  const held = [...circuit.sources.flatMap((one) => [one.terminal, one.reference]), ...circuit.earthed];
  const edges = [
    ...circuit.switches.map(({ a, b }) => ({ a: sets.find(a), b: sets.find(b) })),
    ...[...new Set(held.map((terminal) => sets.find(terminal)))].map((a) => ({ a, b: supply })),
  ];
  return { sets, edges, supply, end, between: new Map() };
});

/**
 * An answer about each motor that rests on what lies between it and the supply; made when it is asked for.
 */
export function byMotor<T>(
  answer: (circuit: Circuit, motor: Motor, state: MechanicalState) => T,
): (circuit: Circuit, k: number) => ByContacts<T> {
  const kept = perCircuit((): (ByContacts<T> | undefined)[] => []);
  return (circuit, k) => {
    const motor = circuit.motors[k]!;
    return (kept(circuit)[k] ??= new ByContacts(
      circuit,
      mechanismsBetween(circuit, motor.terminals),
      (state) => answer(circuit, motor, state),
    ));
  };
}
