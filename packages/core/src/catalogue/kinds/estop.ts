import { onDoor } from '../looks.js';
import { deviceKind } from '../kind.js';
import { actuatorContacts } from '../shared-fields.js';
import { plunger } from './plungers.js';

/** Stays in until it is released. */
export const estop = deviceKind({
  type: 'estop',
  name: 'Emergency stop',
  letters: { iec: 'S', us: 'PB' },
  symbol: () => 'emergency-stop',
  looks: onDoor(2, { operator: 'estop' }),
  options: { contacts: actuatorContacts('NC 11-12') },
  settings: {},
  verbs: ['press', 'release'],
  told: 'state',
  toldByDefault: false,
  heldDead: { by: 'press', words: 'set' },
  rating: () => '',
  anatomy: ({ options }) => plunger(options.contacts, 'by hand'),
});
