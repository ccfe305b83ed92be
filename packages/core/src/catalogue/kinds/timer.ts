import { BARE, contactTerminals, movingContacts, screws } from '../anatomy.js';
import { choice, contacts } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coil } from '../shared-fields.js';
import { CLOCKWORK, clockwork, delay, timed } from './timers.js';

const T = true;
const F = false;

/** When its contacts have changed over, and when its instantaneous contacts have, by timer state. */
const ON_DELAY = { over: [F, F, T, F, F, F], rest: [T, T, F, F, F, F], energised: [F, T, T, T, F, F] };
const OFF_DELAY = { over: [F, T, T, F, F, F], rest: [T, F, F, F, F, F], energised: [F, F, T, T, F, F] };

/** Contacts that change over after the delay. */
const DELAYED = ['15-16', '15-18'] as const;

/**
 * On-delay: 15-18 closes a set time after the coil is energised. Off-delay: it opens a set time after
 * release.
 */
export const timer = deviceKind({
  type: 'timer',
  name: 'Timer',
  letters: { iec: 'KT', us: 'TR' },
  symbol: ({ options }) => (options.function === 'off-delay' ? 'coil-off-delay' : 'coil-on-delay'),
  looks: {
    ...onRail(1),
    operator: ({ name }, { options }) => (DELAYED.some((one) => one === name) ? options.function : 'none'),
  },
  options: {
    function: choice('Function', ['on-delay', 'off-delay'], 'on-delay'),
    coil,
    instant: contacts('Instantaneous contacts', [0, 8], []),
  },
  settings: { delay },
  reserved: ['A1', 'A2', '15', '16', '18'],
  verbs: ['elapse'],
  told: 'state',
  toldByDefault: false,
  fresh: ({ control }) => ({ coil: control }),
  rating: (options) => `${options.function}, ${options.coil.voltage} V`,
  anatomy({ options, settings }) {
    const { coil: rating, instant } = options;
    const { over, rest, energised } = options.function === 'off-delay' ? OFF_DELAY : ON_DELAY;
    const instantContacts = movingContacts(instant, 'aux', CLOCKWORK).map((contact) => ({
      ...contact,
      closedIn: contact.normally === 'open' ? energised : energised.map((on) => !on),
    }));
    return {
      ...BARE,
      terminals: [
        ...screws('coil', 'A1', 'A2'),
        ...screws('contact', '15', '16', '18', ...contactTerminals(instant)),
      ],
      actuators: [clockwork(options.function, settings.delay)],
      contacts: [timed(DELAYED[0], 'closed', rest), timed(DELAYED[1], 'open', over), ...instantContacts],
      coils: [{ ...rating, name: 'coil', a: 'A1', b: 'A2', moves: CLOCKWORK, size: 'relay' }],
    };
  },
});
