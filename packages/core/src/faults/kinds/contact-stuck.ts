import {
  contactAt,
  contactPlace,
  isSwitchgear,
  wiredTerminals,
  type Circuit,
  type Switch,
} from '../../circuit/index.js';
import { at, type FaultForm } from '../fault.js';

/** Contacts that a single fault may strike: wired at both ends, and not of switchgear. */
function wiredContacts(circuit: Circuit): Switch[] {
  const wired = wiredTerminals(circuit);
  return circuit.switches.filter(
    ({ a, b, mechanism }) => wired.has(a) && wired.has(b) && !isSwitchgear(circuit.mechanisms[mechanism]!),
  );
}

const isPole = ({ spec }: Switch): boolean => spec.role === 'pole';
const moves = (circuit: Circuit, contact: Switch): boolean =>
  circuit.coils.some(({ tag }) => tag === contact.tag);

const always = (contact: Switch, closed: boolean): Switch => ({
  ...contact,
  closedIn: contact.closedIn.map(() => closed),
});

const changed = (circuit: Circuit, change: (contact: Switch) => Switch): Circuit => ({
  ...circuit,
  switches: circuit.switches.map(change),
});

/** `"KM1:13-14"`: the contact never makes. */
export const contactStuckOpen: FaultForm = {
  words: ({ place }) => `${place} does not close`,
  apply(circuit, { place }) {
    const contact = contactAt(circuit, place);
    return contact ? changed(circuit, (one) => (one === contact ? always(one, false) : one)) : null;
  },
  tried: (circuit) => wiredContacts(circuit).map(contactPlace),
  possible: (circuit) => wiredContacts(circuit).map((contact) => at(contactPlace(contact))),
};

/**
 * `"KM1:1-2"`: the contact never parts. A welded pole keeps the armature from coming back: its NC contacts stay open
 * (mirror contacts, IEC 60947-4-1 annex F, from memory), and a mechanical interlock keeps the other
 * armature out.
 */
export const contactStuckClosed: FaultForm = {
  words: ({ place }) => (/:[1-6]-[1-6]$/.test(place) ? `pole ${place} welded` : `${place} does not open`),
  apply(circuit, { place }) {
    const contact = contactAt(circuit, place);
    if (!contact) return null;
    const welded = isPole(contact) && moves(circuit, contact);
    const stuck = changed(circuit, (one) => {
      if (one === contact) return always(one, true);
      return welded && one.tag === contact.tag && one.spec.normally === 'closed' ? always(one, false) : one;
    });
    if (!welded) return stuck;
    const partners = circuit.interlocks
      .filter((group) => group.includes(contact.mechanism))
      .flatMap((group) => group.filter((other) => other !== contact.mechanism));
    return { ...stuck, jammed: [...circuit.jammed, ...partners] };
  },
  tried(circuit) {
    const contacts = wiredContacts(circuit);
    return [...contacts.filter(isPole), ...contacts.filter((one) => !isPole(one))].map(contactPlace);
  },
  possible: (circuit) => wiredContacts(circuit).map((contact) => at(contactPlace(contact))),
};
