import { BARE, screws } from '../anatomy.js';
import { number } from '../fields.js';
import { deviceKind } from '../kind.js';

/** All terminals are one node. */
export const busbar = deviceKind({
  type: 'busbar',
  name: 'Busbar',
  letters: { iec: 'W', us: 'BUS' },
  symbol: () => 'busbar',
  options: { count: number('Terminals', { whole: true, min: 1, max: 60 }, 12) },
  settings: {},
  verbs: [],
  told: 'nothing',
  toldByDefault: false,
  rating: () => '',
  anatomy({ options }) {
    const names = Array.from({ length: options.count }, (_, k) => String(k + 1));
    return {
      ...BARE,
      terminals: screws('joint', ...names),
      links: names.slice(1).map((name) => ['1', name] as const),
    };
  },
});
