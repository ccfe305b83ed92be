import { BARE, screws } from '../anatomy.js';
import { group, positive } from '../fields.js';
import { inField } from '../looks.js';
import { deviceKind } from '../kind.js';
import { load, type MotorPlate } from '../shared-fields.js';
import { plateMisfits } from '../synchronous-speed.js';

/** Efficiency and starting values of small capacitor motors, per unit; common practice, no source. */
const SMALL = { efficiency: 0.7, startCurrentRatio: 4.5, startTorqueRatio: 1.2, breakdownTorqueRatio: 2 };

/** Single-phase capacitor motor: one winding between U1 and U2 that makes a forward field. */
export const motor1 = deviceKind({
  type: 'motor-1',
  name: 'Motor',
  letters: { iec: 'M', us: 'MTR' },
  symbol: () => 'motor-single-phase',
  looks: inField({ height: 88 }),
  options: {
    plate: group('Plate', {
      kW: positive('Power', 'kW'),
      voltage: positive('Voltage', 'V', 230),
      frequency: positive('Frequency', 'Hz', 50),
      speed: positive('Rated speed', 'rpm'),
      current: positive('Rated current', 'A'),
    }),
  },
  settings: { load },
  verbs: [],
  told: 'field',
  toldByDefault: true,
  fresh: ({ lines: { frequency } }) => ({
    plate: { kW: 0.75, voltage: 230, frequency, speed: frequency === 60 ? 1725 : 1400, current: 5 },
  }),
  rating: (options) => `${options.plate.kW} kW ${options.plate.voltage} V`,
  misfits: ({ options }) => plateMisfits(options.plate),
  anatomy({ options, settings }) {
    const { kW, voltage, frequency, speed, current } = options.plate;
    const { efficiency, ...ratios } = SMALL;
    // Fitted as one third of a three-phase machine, whose winding has the whole voltage.
    const plate: MotorPlate = {
      kW: 3 * kW,
      voltage,
      connection: 'delta',
      frequency,
      speed,
      current: current * Math.sqrt(3),
      cosPhi: Math.min(0.95, (kW * 1000) / (efficiency * voltage * current)),
      serviceFactor: 1,
      ...ratios,
    };
    return {
      ...BARE,
      terminals: [...screws('winding', 'U1', 'U2'), ...screws('earth', 'PE')],
      earthTerminal: 'PE',
      motor: { windings: [['U1', 'U2']], plate, connection: 'single', load: settings.load },
    };
  },
});
