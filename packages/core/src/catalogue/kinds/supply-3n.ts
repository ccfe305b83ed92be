import { BARE, type SourceSpec } from '../anatomy.js';
import { positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { sourceImpedance as impedanceFields } from '../shared-fields.js';
import { SUPPLY_SWITCH, liveUnless, rails, sourceImpedance, supplyMechanism } from './supplies.js';

const LINES = ['L1', 'L2', 'L3'];

/** Four-wire supply: L1, L2, L3 at 0, −120, 120 degrees to a neutral that is earthed at its source. */
export const supply3n = deviceKind({
  type: 'supply-3n',
  name: 'Supply',
  letters: { iec: 'G', us: 'PS' },
  symbol: () => 'supply',
  looks: onRail(0, { height: 76 }),
  options: {
    lineVoltage: positive('Voltage between lines', 'V', 400),
    frequency: positive('Frequency', 'Hz', 50),
    prospectiveCurrent: positive('Prospective current', 'A', 3000),
    ...impedanceFields,
  },
  settings: {},
  verbs: ['open', 'close', 'lose', 'restore', 'reset'],
  told: 'state',
  toldByDefault: false,
  rating: ({ lineVoltage, frequency }) =>
    `${lineVoltage}/${Math.round(lineVoltage / Math.sqrt(3))} V ${frequency} Hz`,
  anatomy({ options }) {
    const volts = options.lineVoltage / Math.sqrt(3);
    const sources = LINES.map((conductor, k): SourceSpec => ({
      terminal: conductor,
      reference: 'N',
      conductor,
      switchedBy: SUPPLY_SWITCH,
      volts,
      angle: [0, -120, 120][k] ?? 0,
      frequency: options.frequency,
      ...sourceImpedance(options, volts),
      liveIn: liveUnless(k),
    }));
    return {
      ...BARE,
      terminals: [...rails('feed', ...LINES), ...rails('return', 'N'), ...rails('earth', 'PE')],
      actuators: [supplyMechanism(...LINES)],
      sources,
    };
  },
});
