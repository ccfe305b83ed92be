import {
  ARMATURE,
  BARE,
  POLES,
  contactTerminals,
  movingContacts,
  poleTerminals,
  screws,
} from '../anatomy.js';
import { contacts } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';

/** Three main poles, a coil, and auxiliary contacts that all move with one armature. */
export const contactor = deviceKind({
  type: 'contactor',
  name: 'Contactor',
  letters: { iec: 'KM', us: 'M' },
  symbol: () => 'coil',
  looks: onRail(2),
  options: { coil, aux: contacts('Auxiliary contacts', [0, 16], ['NO 13-14']) },
  settings: {},
  reserved: ['1', '2', '3', '4', '5', '6', 'A1', 'A2'],
  verbs: ['pushIn', 'letOut'],
  told: 'state',
  toldByDefault: true,
  heldDead: { by: 'pushIn', words: 'pushed in' },
  fresh: ({ control }) => ({ coil: control, aux: ['NO 13-14', 'NC 21-22'] }),
  rating: (options) => coilRating(options.coil),
  anatomy({ options: { coil: rating, aux } }) {
    const poles = POLES.map((pole) => `NO ${pole}`);
    return {
      ...BARE,
      terminals: [
        ...poleTerminals(POLES),
        ...screws('coil', 'A1', 'A2'),
        ...screws('contact', ...contactTerminals(aux)),
      ],
      actuators: [ARMATURE],
      contacts: [
        ...movingContacts(poles, 'pole', ARMATURE.name),
        ...movingContacts(aux, 'aux', ARMATURE.name),
      ],
      coils: [{ ...rating, name: 'coil', a: 'A1', b: 'A2', moves: ARMATURE.name, size: 'contactor' }],
    };
  },
});
