import { BARE } from '../anatomy.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { jointNames, joints } from './joints.js';

/** Each terminal is a place of its own, for four conductors. */
export const terminalStrip = deviceKind({
  type: 'terminal-strip',
  name: 'Terminals',
  letters: { iec: 'X', us: 'TB' },
  symbol: () => 'terminal',
  looks: onRail(4, { height: 40 }),
  ...joints,
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: jointNames(options).map((name) => ({ name, role: 'joint', conductors: 4 })),
  }),
});
