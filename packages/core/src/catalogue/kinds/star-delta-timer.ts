import { BARE, screws } from '../anatomy.js';
import { deviceKind } from '../kind.js';
import { coil, coilRating } from '../shared-fields.js';
import { TIMER_IDLE } from '../states.js';
import { TIMER_STATES, delay, pause, timed } from './timers.js';

/** 17-18 (star) closes at once and opens after the delay; 17-28 (delta) closes a pause later. */
export const starDeltaTimer = deviceKind({
  type: 'star-delta-timer',
  name: 'Star-delta timer',
  letters: { iec: 'KT', us: 'TR' },
  symbol: () => 'coil-star-delta',
  options: { coil, pause },
  settings: { delay },
  verbs: ['elapse'],
  told: 'state',
  toldByDefault: false,
  rating: (options) => coilRating(options.coil),
  anatomy: ({ options, settings }) => ({
    ...BARE,
    terminals: [...screws('coil', 'A1', 'A2'), ...screws('contact', '17', '18', '28')],
    mechanism: {
      kind: 'timer',
      states: TIMER_STATES,
      initial: TIMER_IDLE,
      does: 'star-delta',
      delay: settings.delay,
      pause: options.pause,
    },
    contacts: [
      timed('17-18', 'open', [false, true, false, false, false, false]),
      timed('17-28', 'open', [false, false, true, false, false, false]),
    ],
    coil: { ...options.coil, a: 'A1', b: 'A2', size: 'relay' },
  }),
});
