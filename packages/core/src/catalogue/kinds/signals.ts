import { BARE, screws, type Anatomy } from '../anatomy.js';
import { positive, choice } from '../fields.js';
import { coilRating, colour } from '../shared-fields.js';
import { INTACT } from '../states.js';

/** Common practice, no source. */
const WATTS = 3;

const FILAMENT = 'filament';

/** What lamp and buzzer have in common. */
export const signal = {
  options: {
    voltage: positive('Voltage', 'V', 230),
    kind: choice('Current', ['ac', 'dc'], 'ac'),
    colour,
  },
  settings: {},
  verbs: [],
  told: 'lamp',
  toldByDefault: true,
  rating: coilRating,
  anatomy: ({ options: { voltage } }: { readonly options: { readonly voltage: number } }): Anatomy => ({
    ...BARE,
    terminals: screws('signal', 'X1', 'X2'),
    actuators: [{ name: FILAMENT, kind: 'winding', states: 2, initial: INTACT }],
    lamps: [{ a: 'X1', b: 'X2', filament: FILAMENT, voltage, ohms: (voltage * voltage) / WATTS }],
  }),
} as const;
