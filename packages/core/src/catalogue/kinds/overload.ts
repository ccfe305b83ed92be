import { BARE, POLES, contactEnds, movingContacts, poleTerminals, screws } from '../anatomy.js';
import { choice, completed, flag, group, limits, number, optional, positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { coilRating, tenths } from '../shared-fields.js';
import { REST, UNPOWERED } from '../states.js';

const TRIP_BAR = 'trip bar';

/** Amperes of the motor that it is for where none is there yet. */
const USUAL_AMPS = 3.4;

/**
 * Overload relay: three heaters in the line, NC 95-96 and NO 97-98 on one trip bar. An electronic one has a
 * supply of its own at A1-A2, and without it its contacts stand as if it had tripped.
 */
export const overload = deviceKind({
  type: 'overload',
  name: 'Overload',
  letters: { iec: 'F', us: 'OL' },
  symbol: () => 'overload',
  looks: onRail(3, { operator: 'overload' }),
  options: {
    range: limits('Range', 'A'),
    class: choice('Trip class', ['10A', '10', '20', '30'], '10'),
    phaseLossSensitive: flag('Sensitive to a lost phase', true),
    supply: optional(
      group('Supply of an electronic relay', {
        voltage: positive('Voltage', 'V'),
        kind: choice('Current', ['ac', 'dc']),
      }),
    ),
  },
  settings: {
    dial: completed(number('Dial', { unit: 'A', above: 0, within: 'range', screw: true })),
    reset: choice('Reset', ['manual', 'auto'], 'manual'),
  },
  complete: ({ range }, { dial }) => ({ settings: { dial: dial ?? range[0] } }),
  verbs: ['trip', 'reset'],
  told: 'state',
  toldByDefault: false,
  heldDead: { by: 'trip', words: 'tripped' },
  fresh({ motor }) {
    const amps = motor?.amps ?? USUAL_AMPS;
    return { range: [tenths(amps * 0.75), tenths(amps * 1.2)] as const };
  },
  rating: ({ range, class: trip, supply }) =>
    `${range[0]} to ${range[1]} A, class ${trip}${supply ? `, ${coilRating(supply)}` : ''}`,
  anatomy: ({ options: { supply, ...options }, settings }) => ({
    ...BARE,
    terminals: [
      ...poleTerminals(POLES),
      ...(supply ? screws('coil', 'A1', 'A2') : []),
      ...screws('contact', '95', '96', '97', '98'),
    ],
    heaters: POLES.map(contactEnds),
    actuators: [
      {
        name: TRIP_BAR,
        kind: 'trip',
        states: UNPOWERED + 1,
        initial: REST,
        reset: settings.reset,
      },
    ],
    contacts: [
      ...movingContacts(['NC 95-96'], 'overload-nc', TRIP_BAR),
      ...movingContacts(['NO 97-98'], 'overload-no', TRIP_BAR),
    ],
    coils: supply ? [{ ...supply, name: 'supply', a: 'A1', b: 'A2', moves: TRIP_BAR, size: 'relay' }] : [],
    protection: { curve: 'overload', releases: TRIP_BAR, poles: POLES, dial: settings.dial, ...options },
  }),
});
