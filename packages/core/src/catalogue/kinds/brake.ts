import { ARMATURE, BARE, screws } from '../anatomy.js';
import { motorTag } from '../fields.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';

/** Spring-applied, released by its coil. */
export const brake = deviceKind({
  type: 'brake',
  name: 'Brake',
  letters: { iec: 'Y', us: 'BR' },
  symbol: () => 'brake',
  options: { coil, motor: motorTag('Motor') },
  settings: {},
  verbs: [],
  told: 'state',
  toldByDefault: false,
  rating: (options) => coilRating(options.coil),
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: screws('coil', 'B1', 'B2'),
    mechanism: ARMATURE,
    coil: { ...options.coil, a: 'B1', b: 'B2', size: 'relay' },
    brakes: options.motor,
  }),
});
