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
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';

/** Three main poles, a coil, and auxiliary contacts that all move with one armature. */
export const contactor = deviceKind({
  type: 'contactor',
  name: 'Contactor',
  letters: { iec: 'KM', us: 'M' },
  symbol: () => 'coil',
  options: { coil, aux: contacts('Auxiliary contacts', [0, 16], ['NO 13-14']) },
  settings: {},
  reserved: ['1', '2', '3', '4', '5', '6', 'A1', 'A2'],
  verbs: ['pushIn', 'letOut'],
  told: 'state',
  toldByDefault: true,
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
      mechanism: ARMATURE,
      contacts: [...movingContacts(poles, 'pole'), ...movingContacts(aux, 'aux')],
      coil: { ...rating, a: 'A1', b: 'A2', size: 'contactor' },
    };
  },
});
