import { BARE, screws } from '../anatomy.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { jointNames, joints } from './joints.js';

/** All terminals are one node. */
export const busbar = deviceKind({
  type: 'busbar',
  name: 'Busbar',
  letters: { iec: 'W', us: 'BUS' },
  symbol: () => 'busbar',
  looks: onRail(4, { height: 40 }),
  ...joints,
  anatomy({ options }) {
    const names = jointNames(options);
    return {
      ...BARE,
      terminals: screws('joint', ...names),
      links: names.slice(1).map((name) => ['1', name] as const),
    };
  },
});
