import {
  blocksOf,
  isClosed,
  wiredTogether,
  type Circuit,
  type GraphEdge,
  type MechanicalState,
  type Switch,
} from '../../circuit/index.js';
import { breachAt, endsOf, namesOf, simple, type Breach } from './rule.js';

/** A motor's current runs through main poles alone: an auxiliary contact is not made for it. */
export const contactDuty = simple(
  'contact-duty',
  'No auxiliary contact carries a motor',
  'A motor’s current runs through main poles alone, never through an auxiliary or button contact.',
  { applies: ({ motors }) => motors.length > 0, breach: dutyBreach },
);

function dutyBreach(circuit: Circuit, _: boolean, running: readonly MechanicalState[]): Breach | null {
  for (const state of running)
    for (const { tag } of circuit.motors) {
      const contacts = carriersOf(circuit, state, tag);
      if (contacts.length > 0)
        return breachAt(endsOf(contacts), `the current of ${tag} runs through ${namesOf(contacts)}`);
    }
  return null;
}

/**
 * Contacts other than poles that a motor's current runs through: with every other load taken away, a simple
 * cycle leads through the contact and a winding of the motor. Star points that an auxiliary contact closes
 * count.
 */
function carriersOf(circuit: Circuit, state: MechanicalState, motor: string): Switch[] {
  const sets = wiredTogether(circuit, (contact) => isClosed(contact, state) && contact.spec.role === 'pole');
  let nodes = circuit.terminals.length;
  const edge = (a: number, b: number): GraphEdge => ({ a: sets.find(a), b: sets.find(b) });
  const windings = circuit.elements
    .filter(({ tag }) => tag === motor)
    .flatMap((one) => {
      // Ends below nought are star points inside.
      const inside = new Map<number, number>();
      const end = (terminal: number): number => {
        if (terminal >= 0) return sets.find(terminal);
        if (!inside.has(terminal)) inside.set(terminal, nodes++);
        return inside.get(terminal)!;
      };
      return one.windings.map(([a, b]): GraphEdge => ({ a: end(a), b: end(b) }));
    });
  const contacts = circuit.switches.filter(
    (contact) => isClosed(contact, state) && contact.spec.role !== 'pole',
  );
  const edges = [
    ...windings,
    ...contacts.map(({ a, b }) => edge(a, b)),
    ...circuit.sources
      .filter(({ liveIn, mechanism }) => liveIn[state[mechanism]!])
      .map(({ terminal, reference }) => edge(terminal, reference)),
    ...circuit.transformers.map(({ secondary: [x1, x2] }) => edge(x1, x2)),
  ];
  const block = blocksOf(nodes, edges);
  const carried = new Set(windings.flatMap(({ a, b }, k) => (a === b ? [] : [block[k]])));
  return contacts.filter((_, k) => {
    const { a, b } = edges[windings.length + k]!;
    return a !== b && carried.has(block[windings.length + k]);
  });
}
