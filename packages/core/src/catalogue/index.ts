/**
 * What devices exist: their terminals, contacts, loads and sources, and what a person can do to them.
 * Read `device.ts` (documents), then `anatomy.ts` (what a device is made of), then one file a family.
 */
import type { Anatomy } from './anatomy.js';
import { estop, limitSwitch, pushbutton, selector } from './controls.js';
import type { Device, DeviceOf, DeviceType } from './device.js';
import {
  brake,
  buzzer,
  busbar,
  impedance,
  lamp,
  motor1,
  motor3,
  terminalStrip,
  transformer,
} from './loads.js';
import { supply1n, supply3n, supplyDc } from './supplies.js';
import { breaker, contactor, disconnector, fuse, overload, relay } from './switchgear.js';
import { starDeltaTimer, timer } from './timers.js';

export * from './device.js';
export * from './anatomy.js';
export { RELAY_BASES } from './switchgear.js';
export { turning, turningTo } from './controls.js';
export { synchronousSpeed } from './synchronous-speed.js';

const CATALOGUE: { readonly [T in DeviceType]: (device: DeviceOf<T>) => Anatomy } = {
  'supply-3n': supply3n,
  'supply-1n': supply1n,
  'supply-dc': supplyDc,
  breaker,
  fuse,
  disconnector,
  transformer,
  contactor,
  relay,
  overload,
  pushbutton,
  estop,
  selector,
  'limit-switch': limitSwitch,
  timer,
  'star-delta-timer': starDeltaTimer,
  lamp,
  buzzer,
  'motor-3': motor3,
  'motor-1': motor1,
  brake,
  impedance,
  'terminal-strip': terminalStrip,
  busbar,
};

export const DEVICE_TYPES = Object.keys(CATALOGUE) as DeviceType[];

/** What a device is made of. */
export function anatomy(device: Device): Anatomy {
  const build = CATALOGUE[device.type] as (device: Device) => Anatomy;
  return build(device);
}
