import { contactEnds, type ContactSpec, type MechanismSpec } from '../anatomy.js';
import { number } from '../fields.js';
import { TIMER_IDLE } from '../states.js';
import { LONGEST_TIME } from '../../tolerances.js';

/** What the timers have in common. */

export const delay = number('Delay', { unit: 's', min: 0, max: LONGEST_TIME, screw: [0.1, 600] }, 10);
export const pause = number('Pause', { unit: 's', min: 0, max: LONGEST_TIME }, 0.05);

/** Name of the actuator of a timer. */
export const CLOCKWORK = 'clockwork';

/** Idle, timing, done, to done, to idle, pause. */
const TIMER_STATES = 6;

/** What runs in a timer; seconds. */
export const clockwork = (
  does: Extract<MechanismSpec, { kind: 'timer' }>['does'],
  seconds: number,
  pauseSeconds = 0,
): MechanismSpec => ({
  name: CLOCKWORK,
  kind: 'timer',
  states: TIMER_STATES,
  initial: TIMER_IDLE,
  does,
  delay: seconds,
  pause: pauseSeconds,
});

/** A timer's contact, by those states. */
export function timed(name: string, normally: 'open' | 'closed', closedIn: readonly boolean[]): ContactSpec {
  const [a, b] = contactEnds(name);
  return { name, a, b, movedBy: CLOCKWORK, role: 'aux', normally, closedIn };
}
