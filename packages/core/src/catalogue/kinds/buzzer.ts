import { onDoor } from '../looks.js';
import { deviceKind } from '../kind.js';
import { signal } from './signals.js';

/** Acoustic signal. */
export const buzzer = deviceKind({
  type: 'buzzer',
  name: 'Buzzer',
  letters: { iec: 'P', us: 'ALM' },
  symbol: () => 'buzzer',
  looks: onDoor(1),
  ...signal,
  fresh: ({ control }) => control,
});
