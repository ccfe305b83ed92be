import { BARE } from '../anatomy.js';
import { positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { SUPPLY_SWITCH, liveUnless, rails, supplyMechanism } from './supplies.js';

/** Unearthed DC supply with an electronic current limit. */
export const supplyDc = deviceKind({
  type: 'supply-dc',
  name: 'Supply',
  letters: { iec: 'G', us: 'PS' },
  symbol: () => 'supply',
  looks: onRail(0, { height: 76 }),
  options: { voltage: positive('Voltage', 'V', 24), currentLimit: positive('Current limit', 'A', 5) },
  settings: {},
  verbs: ['open', 'close', 'lose', 'restore', 'reset'],
  told: 'state',
  toldByDefault: false,
  rating: ({ voltage }) => `${voltage} V DC`,
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: [...rails('feed', '+'), ...rails('return', '-')],
    actuators: [supplyMechanism('+')],
    sources: [
      {
        terminal: '+',
        reference: '-',
        conductor: '+',
        switchedBy: SUPPLY_SWITCH,
        volts: options.voltage,
        angle: 0,
        frequency: 0,
        ohms: 0,
        henries: 0,
        currentLimit: options.currentLimit,
        liveIn: liveUnless(0),
      },
    ],
  }),
});
