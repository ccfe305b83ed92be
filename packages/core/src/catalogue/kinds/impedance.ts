import { BARE, screws } from '../anatomy.js';
import { number } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';

/** Any load of constant resistance and inductance. */
export const impedance = deviceKind({
  type: 'impedance',
  name: 'Impedance',
  letters: { iec: 'R', us: 'RES' },
  symbol: () => 'impedance',
  looks: onRail(4),
  options: {
    ohms: number('Resistance', { unit: 'Ω', min: 0 }, 100),
    henries: number('Inductance', { unit: 'H', min: 0 }, 0),
  },
  settings: {},
  verbs: [],
  told: 'nothing',
  toldByDefault: false,
  rating: ({ ohms }) => `${ohms} Ω`,
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: screws('impedance', '1', '2'),
    impedances: [{ a: '1', b: '2', ...options }],
  }),
});
