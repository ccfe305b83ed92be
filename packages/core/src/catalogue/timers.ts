import {
  BARE,
  TIMER_IDLE,
  movingContacts,
  screws,
  contactTerminals,
  type Anatomy,
  type ContactSpec,
} from './anatomy.js';
import type { DeviceOf } from './device.js';

/** By timer state: idle, timing, done, to done, to idle, pause. */
function timed(name: string, normally: 'open' | 'closed', closedIn: readonly boolean[]): ContactSpec {
  const [a = '', b = ''] = name.split('-');
  return { name, a, b, role: 'aux', normally, closedIn };
}

const T = true;
const F = false;

/** On-delay: 15-18 closes a set time after the coil is energised. Off-delay: it opens a set time after release. */
export function timer(device: DeviceOf<'timer'>): Anatomy {
  const { coil, instant } = device.options;
  const off = device.options.function === 'off-delay';
  const energised = off ? [F, F, T, T, F, F] : [F, T, T, T, F, F];
  const instantContacts = movingContacts(instant, 'aux').map((contact) => ({
    ...contact,
    closedIn: contact.normally === 'open' ? energised : energised.map((on) => !on),
  }));
  return {
    ...BARE,
    terminals: screws('A1', 'A2', '15', '16', '18', ...contactTerminals(instant)),
    mechanism: { kind: 'timer', states: 6, initial: TIMER_IDLE },
    contacts: [
      timed('15-16', 'closed', off ? [T, F, F, F, F, F] : [T, T, F, F, F, F]),
      timed('15-18', 'open', off ? [F, T, T, F, F, F] : [F, F, T, F, F, F]),
      ...instantContacts,
    ],
    coil: { ...coil, a: 'A1', b: 'A2' },
  };
}

/** 17-18 (star) closes at once and opens after the delay; 17-28 (delta) closes a pause later. */
export function starDeltaTimer(device: DeviceOf<'star-delta-timer'>): Anatomy {
  return {
    ...BARE,
    terminals: screws('A1', 'A2', '17', '18', '28'),
    mechanism: { kind: 'timer', states: 6, initial: TIMER_IDLE },
    contacts: [timed('17-18', 'open', [F, T, F, F, F, F]), timed('17-28', 'open', [F, F, T, F, F, F])],
    coil: { ...device.options.coil, a: 'A1', b: 'A2' },
  };
}
