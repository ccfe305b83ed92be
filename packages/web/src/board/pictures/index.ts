import type { Device, DeviceType } from '@contactum/core';
import { coiled, timed } from './coils.js';
import { controller } from './controller.js';
import { estop, limitSwitch, pushbutton, selector } from './controls.js';
import { motor } from './motors.js';
import { overload } from './overload.js';
import type { Picture } from './picture.js';
import { busbar, impedance, terminalStrip } from './plain.js';
import { signal } from './signals.js';
import { supply } from './supply.js';
import { breaker, disconnector, fuse } from './switchgear.js';
import { transformer } from './transformer.js';

/** How each type of device is drawn. */
const PICTURES: { readonly [T in DeviceType]: Picture<T> } = {
  'supply-3n': supply,
  'supply-1n': supply,
  'supply-dc': supply,
  breaker,
  fuse,
  disconnector,
  transformer,
  contactor: coiled,
  relay: coiled,
  overload,
  pushbutton,
  estop,
  selector,
  'limit-switch': limitSwitch,
  timer: timed,
  'star-delta-timer': timed,
  lamp: signal,
  buzzer: signal,
  'motor-3': motor,
  'motor-1': motor,
  brake: coiled,
  plc: controller,
  impedance,
  'terminal-strip': terminalStrip,
  busbar,
};

/** The picture of a device, seen without its own type. */
export const pictureOf = ({ type }: Pick<Device, 'type'>): Picture => PICTURES[type];
