import { deviceKind } from '../kind.js';
import { coilRating } from '../shared-fields.js';
import { signal, signalOptions } from './signals.js';

/** Acoustic signal. */
export const buzzer = deviceKind({
  type: 'buzzer',
  name: 'Buzzer',
  letters: { iec: 'P', us: 'ALM' },
  symbol: () => 'buzzer',
  options: signalOptions,
  settings: {},
  verbs: [],
  told: 'lamp',
  toldByDefault: true,
  rating: coilRating,
  anatomy: ({ options }) => signal(options.voltage),
});
