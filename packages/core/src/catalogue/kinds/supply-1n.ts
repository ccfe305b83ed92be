import { BARE } from '../anatomy.js';
import { positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { sourceImpedance as impedanceFields } from '../shared-fields.js';
import { SUPPLY_SWITCH, liveUnless, rails, sourceImpedance, supplyMechanism } from './supplies.js';

/** Two-wire supply with an earthed neutral. */
export const supply1n = deviceKind({
  type: 'supply-1n',
  name: 'Supply',
  letters: { iec: 'G', us: 'PS' },
  symbol: () => 'supply',
  looks: onRail(0, { height: 76 }),
  options: {
    voltage: positive('Voltage', 'V', 230),
    frequency: positive('Frequency', 'Hz', 50),
    prospectiveCurrent: positive('Prospective current', 'A', 1000),
    ...impedanceFields,
  },
  settings: {},
  verbs: ['open', 'close', 'lose', 'restore', 'reset'],
  told: 'state',
  toldByDefault: false,
  rating: ({ voltage, frequency }) => `${voltage} V ${frequency} Hz`,
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: [...rails('feed', 'L'), ...rails('return', 'N'), ...rails('earth', 'PE')],
    actuators: [supplyMechanism('L')],
    sources: [
      {
        terminal: 'L',
        reference: 'N',
        conductor: 'L',
        switchedBy: SUPPLY_SWITCH,
        volts: options.voltage,
        angle: 0,
        frequency: options.frequency,
        ...sourceImpedance(options, options.voltage),
        liveIn: liveUnless(0),
      },
    ],
  }),
});
