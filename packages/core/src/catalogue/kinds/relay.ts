import { ARMATURE, BARE, contactTerminals, movingContacts, screws } from '../anatomy.js';
import { choice, contacts, optional } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';

/**
 * Plug-in bases with their coil pins and contacts (octal-8: coil 2, 7; octal-11: coil 2, 10). Common
 * practice, no source.
 */
const BASES = {
  'octal-8': { coil: ['2', '7'], contacts: ['NO 1-3', 'NC 1-4', 'NO 8-6', 'NC 8-5'] },
  'octal-11': {
    coil: ['2', '10'],
    contacts: ['NO 1-3', 'NC 1-4', 'NO 6-7', 'NC 6-5', 'NO 11-9', 'NC 11-8'],
  },
} as const;

/** Control relay, with free contacts or on a plug-in base. */
export const relay = deviceKind({
  type: 'relay',
  name: 'Relay',
  letters: { iec: 'KA', us: 'CR' },
  symbol: () => 'coil',
  looks: onRail(1),
  options: {
    base: optional(choice('Base', ['octal-8', 'octal-11'])),
    contacts: contacts('Contacts', [0, 16], []),
    coil,
  },
  settings: {},
  reserved: ['A1', 'A2'],
  verbs: ['pushIn', 'letOut'],
  told: 'state',
  toldByDefault: true,
  fresh: ({ control }) => ({ coil: control, contacts: ['NO 13-14', 'NC 21-22'] }),
  rating: (options) => coilRating(options.coil),
  misfits: ({ options: { base, contacts: own } }) =>
    base && own.length > 0
      ? [{ path: 'options.contacts', message: `a relay on base ${base} has the contacts of its base` }]
      : [],
  anatomy({ options: { base, coil: rating, contacts: own } }) {
    const [a, b] = base ? BASES[base].coil : (['A1', 'A2'] as const);
    const texts = base ? BASES[base].contacts : own;
    return {
      ...BARE,
      terminals: [...screws('coil', a, b), ...screws('contact', ...contactTerminals(texts))],
      actuators: [ARMATURE],
      contacts: movingContacts(texts, 'aux', ARMATURE.name),
      coils: [{ ...rating, name: 'coil', a, b, moves: ARMATURE.name, size: 'relay' }],
    };
  },
});
