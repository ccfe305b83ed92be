import { contactEnds, type ContactSpec } from '../anatomy.js';
import { number } from '../fields.js';
import { LONGEST_TIME } from '../../tolerances.js';

/** What the timers have in common. */

export const delay = number('Delay', { unit: 's', min: 0, max: LONGEST_TIME, screw: [0.1, 600] }, 10);
export const pause = number('Pause', { unit: 's', min: 0, max: LONGEST_TIME }, 0.05);

/** States of a timer: idle, timing, done, to done, to idle, pause. */
export const TIMER_STATES = 6;

/** A timer's contact, by those states. */
export function timed(name: string, normally: 'open' | 'closed', closedIn: readonly boolean[]): ContactSpec {
  const [a, b] = contactEnds(name);
  return { name, a, b, role: 'aux', normally, closedIn };
}
