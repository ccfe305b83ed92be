import { choice, group, motorTag, optional } from '../fields.js';
import { inField } from '../looks.js';
import { deviceKind } from '../kind.js';
import { actuatorContacts } from '../shared-fields.js';
import { PLUNGER, plunger } from './plungers.js';

/** Operated while a load stands at its end of the travel, or by hand. */
export const limitSwitch = deviceKind({
  type: 'limit-switch',
  name: 'Limit switch',
  letters: { iec: 'S', us: 'LS' },
  symbol: () => 'limit-switch',
  looks: inField({ operator: 'limit' }),
  options: {
    contacts: actuatorContacts('NO 13-14', 'NC 21-22'),
    travel: optional(
      group('Travel', { motor: motorTag('Motor'), end: choice('End', ['forward', 'reverse']) }),
    ),
  },
  settings: {},
  verbs: ['press', 'release'],
  told: 'state',
  toldByDefault: false,
  rating: () => '',
  anatomy: ({ options: { contacts, travel } }) => ({
    ...plunger(contacts, 'by load'),
    ...(travel ? { travel: { ...travel, works: PLUNGER } } : {}),
  }),
});
