import { BARE, screws, type Anatomy } from '../anatomy.js';
import { positive, choice } from '../fields.js';
import { colour } from '../shared-fields.js';
import { INTACT } from '../states.js';

/** What lamp and buzzer have in common. Watts: common practice, no source. */
const WATTS = 3;

export const signalOptions = {
  voltage: positive('Voltage', 'V', 230),
  kind: choice('Current', ['ac', 'dc'], 'ac'),
  colour,
};

export function signal(voltage: number): Anatomy {
  return {
    ...BARE,
    terminals: screws('signal', 'X1', 'X2'),
    mechanism: { kind: 'winding', states: 2, initial: INTACT },
    lamp: { a: 'X1', b: 'X2', voltage, ohms: (voltage * voltage) / WATTS },
  };
}
