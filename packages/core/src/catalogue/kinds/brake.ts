import { ARMATURE, BARE, screws } from '../anatomy.js';
import { motorTag } from '../fields.js';
import { inField } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';

/** Spring-applied, released by its coil. */
export const brake = deviceKind({
  type: 'brake',
  name: 'Brake',
  letters: { iec: 'Y', us: 'BR' },
  symbol: () => 'brake',
  looks: inField(),
  options: { coil, motor: motorTag('Motor') },
  settings: {},
  verbs: [],
  told: 'state',
  toldByDefault: false,
  fresh: ({ control, motor }) => ({ coil: control, motor: motor?.tag ?? 'M1' }),
  rating: (options) => coilRating(options.coil),
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: screws('coil', 'B1', 'B2'),
    actuators: [ARMATURE],
    coils: [{ ...options.coil, name: 'coil', a: 'B1', b: 'B2', moves: ARMATURE.name, size: 'relay' }],
    brakes: { motor: options.motor, by: ARMATURE.name },
  }),
});
