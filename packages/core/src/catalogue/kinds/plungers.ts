import {
  BARE,
  contactTerminals,
  movingContacts,
  screws,
  type Anatomy,
  type MechanismSpec,
} from '../anatomy.js';
import { REST } from '../states.js';

/** What push-button, emergency stop and limit switch have in common. */
export function plunger(
  contacts: readonly string[],
  returns: Extract<MechanismSpec, { kind: 'plunger' }>['returns'],
): Anatomy {
  return {
    ...BARE,
    terminals: screws('contact', ...contactTerminals(contacts)),
    mechanism: { kind: 'plunger', states: 4, initial: REST, returns },
    contacts: movingContacts(contacts, 'control'),
  };
}
