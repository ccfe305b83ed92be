import {
  BARE,
  contactTerminals,
  movingContacts,
  screws,
  type Anatomy,
  type MechanismSpec,
} from '../anatomy.js';
import { REST } from '../states.js';

export const PLUNGER = 'plunger';

/** What push-button, emergency stop and limit switch have in common. */
export function plunger(
  contacts: readonly string[],
  returns: Extract<MechanismSpec, { kind: 'plunger' }>['returns'],
): Anatomy {
  return {
    ...BARE,
    terminals: screws('contact', ...contactTerminals(contacts)),
    actuators: [{ name: PLUNGER, kind: 'plunger', states: 4, initial: REST, returns }],
    contacts: movingContacts(contacts, 'control', PLUNGER),
  };
}
