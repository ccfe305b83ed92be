import { onDoor } from '../looks.js';
import { deviceKind } from '../kind.js';
import { actuatorContacts, colour } from '../shared-fields.js';
import { plunger } from './plungers.js';

/** Operated while it is held. */
export const pushbutton = deviceKind({
  type: 'pushbutton',
  name: 'Button',
  letters: { iec: 'S', us: 'PB' },
  symbol: () => 'pushbutton',
  looks: onDoor(4, { operator: 'button' }),
  options: { contacts: actuatorContacts('NO 13-14'), colour },
  settings: {},
  verbs: ['press', 'release'],
  told: 'state',
  toldByDefault: false,
  heldDead: { by: 'press', words: 'held' },
  rating: () => '',
  anatomy: ({ options }) => plunger(options.contacts, 'by spring'),
});
