import { BARE, screws } from '../anatomy.js';
import { positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';

/** Two galvanically separate windings. */
export const transformer = deviceKind({
  type: 'transformer',
  name: 'Transformer',
  letters: { iec: 'T', us: 'T' },
  symbol: () => 'transformer',
  looks: onRail(1),
  options: {
    primaryVoltage: positive('Primary voltage', 'V', 400),
    secondaryVoltage: positive('Secondary voltage', 'V', 230),
    va: positive('Rating', 'VA', 100),
  },
  settings: {},
  verbs: [],
  told: 'nothing',
  toldByDefault: false,
  fresh: ({ lines }) => ({ primaryVoltage: lines.volts }),
  rating: ({ primaryVoltage, secondaryVoltage, va }) => `${primaryVoltage}/${secondaryVoltage} V ${va} VA`,
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: [...screws('primary', 'H1', 'H2'), ...screws('secondary', 'X1', 'X2')],
    transformer: { primary: ['H1', 'H2'], secondary: ['X1', 'X2'], ...options },
  }),
});
