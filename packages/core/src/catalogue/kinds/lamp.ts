import { onDoor } from '../looks.js';
import { deviceKind } from '../kind.js';
import { signal } from './signals.js';

/** Signal lamp. */
export const lamp = deviceKind({
  type: 'lamp',
  name: 'Lamp',
  letters: { iec: 'H', us: 'LT' },
  symbol: () => 'lamp',
  looks: onDoor(0),
  ...signal,
  fresh: ({ control }) => ({ ...control, colour: 'white' }),
});
