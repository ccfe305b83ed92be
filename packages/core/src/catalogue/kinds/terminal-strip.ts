import { BARE } from '../anatomy.js';
import { number } from '../fields.js';
import { deviceKind } from '../kind.js';

/** Each terminal is a place of its own, for four conductors. */
export const terminalStrip = deviceKind({
  type: 'terminal-strip',
  name: 'Terminals',
  letters: { iec: 'X', us: 'TB' },
  symbol: () => 'terminal',
  options: { count: number('Terminals', { whole: true, min: 1, max: 60 }, 12) },
  settings: {},
  verbs: [],
  told: 'nothing',
  toldByDefault: false,
  rating: () => '',
  anatomy: ({ options }) => ({
    ...BARE,
    terminals: Array.from({ length: options.count }, (_, k) => ({
      name: String(k + 1),
      role: 'joint',
      conductors: 4,
    })),
  }),
});
