import { BARE, screws } from '../anatomy.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';
import { CLOCKWORK, clockwork, delay, pause, timed } from './timers.js';

/** 17-18 (star) closes at once and opens after the delay; 17-28 (delta) closes a pause later. */
export const starDeltaTimer = deviceKind({
  type: 'star-delta-timer',
  name: 'Star-delta timer',
  letters: { iec: 'KT', us: 'TR' },
  symbol: () => 'coil-star-delta',
  looks: onRail(1, { operator: 'on-delay' }),
  options: { coil, pause },
  settings: { delay },
  verbs: ['elapse'],
  told: 'state',
  toldByDefault: false,
  fresh: ({ control }) => ({ coil: control }),
  rating: (options) => coilRating(options.coil),
  anatomy: ({ options, settings }) => ({
    ...BARE,
    terminals: [...screws('coil', 'A1', 'A2'), ...screws('contact', '17', '18', '28')],
    actuators: [clockwork('star-delta', settings.delay, options.pause)],
    contacts: [
      timed('17-18', 'open', [false, true, false, false, false, false]),
      timed('17-28', 'open', [false, false, true, false, false, false]),
    ],
    coils: [{ ...options.coil, name: 'coil', a: 'A1', b: 'A2', moves: CLOCKWORK, size: 'relay' }],
  }),
});
