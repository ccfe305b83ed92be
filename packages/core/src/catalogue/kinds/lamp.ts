import { deviceKind } from '../kind.js';
import { coilRating } from '../shared-fields.js';
import { signal, signalOptions } from './signals.js';

/** Signal lamp. */
export const lamp = deviceKind({
  type: 'lamp',
  name: 'Lamp',
  letters: { iec: 'H', us: 'LT' },
  symbol: () => 'lamp',
  options: signalOptions,
  settings: {},
  verbs: [],
  told: 'lamp',
  toldByDefault: true,
  rating: coilRating,
  anatomy: ({ options }) => signal(options.voltage),
});
