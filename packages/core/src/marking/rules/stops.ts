import { START_DUTIES, type Duty } from '../../catalogue/index.js';
import {
  isTripBar,
  feeds,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type Switch,
} from '../../circuit/index.js';
import { breachAt, coilsNamed, dutyOf, endsOf, namesOf, simple, touches, wiredCoils } from './rule.js';

const hasDuty = (circuit: Circuit, duty: Duty): boolean =>
  circuit.bench.devices.some((device) => device.duty === duty);

/** Terminals joined with the NC contacts of a duty open and every other contact closed. */
const withOpen = (circuit: Circuit, duty: Duty) =>
  wiredTogether(
    circuit,
    (contact) => !(dutyOf(circuit, contact) === duty && contact.spec.normally === 'closed'),
  );

/** Contacts that are wired at both ends. */
function wiredContacts(circuit: Circuit): Switch[] {
  const wired = wiredTerminals(circuit);
  return circuit.switches.filter(({ a, b }) => wired.has(a) && wired.has(b));
}

/** With the stop contacts open and every other contact closed, no start contact may be live. */
export const stopUpstream = simple('stop-upstream', 'Stop stands before Start', 'Stop lies before Start.', {
  applies: (circuit) => hasDuty(circuit, 'stop'),
  breach(circuit) {
    const sets = withOpen(circuit, 'stop');
    const live = feeds(circuit);
    const wrong = wiredContacts(circuit).filter(
      (contact) =>
        START_DUTIES.includes(dutyOf(circuit, contact)) &&
        contact.spec.normally === 'open' &&
        touches(sets, live, contact),
    );
    return breachAt(endsOf(wrong), `${namesOf(wrong)} is live with every stop button pressed`);
  },
});

/**
 * With the emergency stops set and every other contact closed, nothing else in the control circuit may be
 * live. IEC 60204-1, 9.2.3.4.2 (from memory).
 */
export const emergencyStopFirst = simple(
  'emergency-stop-first',
  'Emergency stop stands before everything',
  'The emergency stop lies before everything else in the control circuit.',
  {
    applies: (circuit) => hasDuty(circuit, 'emergency-stop'),
    breach(circuit) {
      const sets = withOpen(circuit, 'emergency-stop');
      const live = feeds(circuit);
      // The supply of an electronic relay stays on.
      const coils = wiredCoils(circuit).filter(
        (coil) => !isTripBar(circuit.mechanisms[coil.mechanism]!) && touches(sets, live, coil),
      );
      const contacts = wiredContacts(circuit).filter(
        (contact) =>
          contact.spec.role === 'control' &&
          dutyOf(circuit, contact) !== 'emergency-stop' &&
          touches(sets, live, contact),
      );
      const names = [namesOf(contacts), coilsNamed(coils)].filter(Boolean).join(', ');
      return breachAt(
        [...endsOf(contacts), ...coils.map(({ tag }) => tag)],
        `${names} is live with the emergency stop set`,
      );
    },
  },
);
