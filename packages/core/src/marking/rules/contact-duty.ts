import { meets, wayBetween, wiredTogether, type Circuit, type MechanicalState } from '../../circuit/index.js';
import { breachAt, endsOf, namesOf, simple, type Breach } from './rule.js';

/** A motor's current runs through main poles alone: an auxiliary contact is not made for it. */
export const contactDuty = simple(
  'contact-duty',
  'No auxiliary contact carries a motor',
  'A motor’s current runs through main poles alone, never through an auxiliary or button contact.',
  { applies: ({ motors }) => motors.length > 0, breach: dutyBreach },
);

function dutyBreach(circuit: Circuit, _: boolean, running: readonly MechanicalState[]): Breach | null {
  for (const state of running) {
    const isClosed = ({ mechanism, closedIn }: Circuit['switches'][number]) => closedIn[state[mechanism]!]!;
    const all = wiredTogether(circuit, isClosed);
    const poles = wiredTogether(circuit, (contact) => isClosed(contact) && contact.spec.role === 'pole');
    for (const { tag, terminals } of circuit.motors)
      for (const end of terminals) {
        const line = circuit.sources.find(
          ({ terminal }) => meets(all, [end], terminal) && !meets(poles, [end], terminal),
        );
        const way = line && wayBetween(circuit, [line.terminal], [end], isClosed);
        const contacts = way?.contacts.filter(({ spec }) => spec.role !== 'pole') ?? [];
        if (contacts.length > 0)
          return breachAt(endsOf(contacts), `the current of ${tag} runs through ${namesOf(contacts)}`);
      }
  }
  return null;
}
