import { BARE, screws, type MotorSpec } from '../anatomy.js';
import { choice, completed, group } from '../fields.js';
import { inField } from '../looks.js';
import { deviceKind } from '../kind.js';
import { load, plate, tenths, type MotorPlate } from '../shared-fields.js';
import { plateMisfits } from '../synchronous-speed.js';

const SIX_LEADS: MotorSpec['windings'] = [
  ['U1', 'U2'],
  ['V1', 'V2'],
  ['W1', 'W2'],
];
/** Joined inside the motor; `*` is its own star point. */
const INSIDE: Readonly<Record<'star' | 'delta', MotorSpec['windings']>> = {
  star: [
    ['U', '*'],
    ['V', '*'],
    ['W', '*'],
  ],
  delta: [
    ['U', 'V'],
    ['V', 'W'],
    ['W', 'U'],
  ],
};

/** Three-phase induction motor; winding ends by IEC 60034-8 (from memory). */
export const motor3 = deviceKind({
  type: 'motor-3',
  name: 'Motor',
  letters: { iec: 'M', us: 'MTR' },
  symbol: () => 'motor-three-phase',
  looks: inField({ height: 88 }),
  options: {
    leads: choice('Leads', [3, 6], 6),
    internal: completed(choice('Joined inside', ['star', 'delta'])),
    plate: group('Plate', plate),
  },
  settings: { load },
  complete: (options) => ({ options: { internal: options.internal ?? options.plate.connection } }),
  verbs: [],
  told: 'field',
  toldByDefault: true,
  fresh({ lines: { volts, frequency } }) {
    const current = tenths(1500 / (Math.sqrt(3) * volts * 0.8 * 0.8));
    const speed = frequency === 60 ? 1740 : 1420;
    return {
      leads: 3 as const,
      plate: { kW: 1.5, voltage: volts, connection: 'star', frequency, speed, current } as MotorPlate,
    };
  },
  rating: (options) => `${options.plate.kW} kW ${options.plate.voltage} V`,
  misfits: ({ options }) => plateMisfits(options.plate),
  anatomy({ options, settings }) {
    const six = options.leads === 6;
    const ends = six ? ['U1', 'V1', 'W1', 'U2', 'V2', 'W2'] : ['U', 'V', 'W'];
    return {
      ...BARE,
      terminals: [...screws('winding', ...ends), ...screws('earth', 'PE')],
      earthTerminal: 'PE',
      motor: {
        windings: six ? SIX_LEADS : INSIDE[options.internal],
        plate: options.plate,
        connection: six ? 'open' : options.internal,
        load: settings.load,
      },
    };
  },
});
