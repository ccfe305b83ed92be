import type { Program } from '../program/index.js';
import { without } from '../without.js';
import type { Anatomy } from './anatomy.js';
import type { DeviceBody, DeviceKind, DeviceOfKind, Misfit } from './kind.js';
import type { Fields } from './fields.js';
import { KINDS } from './kinds/index.js';
import { misfitsOf } from './kinds/plc.js';

export type DeviceType = keyof typeof KINDS;
export type DeviceOf<T extends DeviceType> = DeviceOfKind<(typeof KINDS)[T]>;
/** A device of a bench document, complete; its shape follows from the fields of its kind. */
export type Device = { [T in DeviceType]: DeviceOf<T> }[DeviceType];

export const DEVICE_TYPES = Object.keys(KINDS) as DeviceType[];

/** A kind seen without its own type: what may be asked of any device. */
export type AnyKind = DeviceKind<DeviceType, Fields, Fields>;

/** The record of a device's kind. */
export const kindOf = ({ type }: { readonly type: DeviceType }): AnyKind => KINDS[type] as unknown as AnyKind;

const ANATOMIES = new WeakMap<Device, Anatomy>();

/** What a device is made of; a device is never changed in place, and is asked for again and again. */
export function anatomy(device: Device): Anatomy {
  const known = ANATOMIES.get(device);
  if (known) return known;
  const made = kindOf(device).anatomy(device);
  ANATOMIES.set(device, made);
  return made;
}

/** How a device looks on the board and on paper. */
export const looksOf = (device: Device): AnyKind['looks'] => kindOf(device).looks;

/** What a device consists of says what it is; nobody else asks for its type. */

/** True of what feeds the board. */
export const isSupply = (device: Device): boolean => anatomy(device).sources.length > 0;

/** A supply of three lines. */
export const isThreePhaseSupply = (device: Device): boolean => anatomy(device).sources.length === 3;

export const isDcSupply = (device: Device): boolean =>
  anatomy(device).sources.some(({ frequency }) => frequency === 0);

export const isTransformer = (device: Device): boolean => anatomy(device).transformer !== undefined;

/** Main poles that a coil moves. */
export const isContactor = (device: Device): boolean => {
  const { coils, contacts } = anatomy(device);
  return coils.length > 0 && contacts.some(({ role }) => role === 'pole');
};

/** An armature that a coil moves, with or without main poles. */
export const isContactorOrRelay = (device: Device): boolean => {
  const { coils, contacts, actuators } = anatomy(device);
  return coils.length > 0 && contacts.length > 0 && actuators[0]?.kind === 'armature';
};

export const isMotor = (device: Device): boolean => anatomy(device).motor !== undefined;

export const isThreePhaseMotor = (device: Device): boolean => {
  const { motor } = anatomy(device);
  return motor !== undefined && motor.connection !== 'single';
};

export const isOverloadRelay = (device: Device): boolean => anatomy(device).heaters.length > 0;

/** How a plunger comes back; null of what has none. */
const returnOf = (device: Device) => {
  const [first] = anatomy(device).actuators;
  return first?.kind === 'plunger' ? first.returns : null;
};

/** What runs a program. */
export const isController = (device: Device): boolean => anatomy(device).actuators[0]?.kind === 'processor';

/** The program of a controller; none of anything else. */
export const programOf = (device: Device | undefined): Program | null =>
  device?.type === 'plc' ? (device.settings.program ?? null) : null;

/** What is wrong with a program on a controller; nothing where it runs no programs. */
export const programMisfits = (program: Program, device: Device): readonly Misfit[] =>
  device.type === 'plc' ? misfitsOf(program, device.options) : [];

/** A controller with another program, or without one; anything else as it is. */
export function withProgram<D extends Device>(device: D, program: Program | null): D {
  if (device.type !== 'plc') return device;
  const others = without(device.settings, 'program');
  return { ...device, settings: program ? { ...others, program } : others };
}

/** A button that springs back. */
export const isPushbutton = (device: Device): boolean => returnOf(device) === 'by spring';

/** A button that stays in until it is released. */
export const isLatchingButton = (device: Device): boolean => returnOf(device) === 'by hand';

/** A switch that a load works. */
export const isLimitSwitch = (device: Device): boolean => returnOf(device) === 'by load';

/** Breakers, fuses and isolators. */
export const isSwitchgearDevice = (device: Device): boolean =>
  anatomy(device).actuators[0]?.kind === 'switchgear';

/** A link that shows nothing of what it has cleared. */
export const isFuseDevice = (device: Device): boolean => {
  const [first] = anatomy(device).actuators;
  return first?.kind === 'switchgear' && first.tripped === 'blown';
};

/** Seconds for which a timer is set; null of anything else. */
export const delaySetOn = (device: Device): number | null => {
  const [first] = anatomy(device).actuators;
  return first?.kind === 'timer' ? first.delay : null;
};

/** The positions of a selector; none of anything else. */
export const positionsOn = (device: Device): readonly string[] => {
  const [first] = anatomy(device).actuators;
  if (first?.kind === 'processor') return ['run', 'stop'];
  return first?.kind === 'selector' ? first.positions : [];
};

/** A device seen without its own type. */
export type AnyDevice = DeviceBody<
  DeviceType,
  Readonly<Record<string, unknown>>,
  Readonly<Record<string, unknown>>
>;

/** What people call a device. */
export const kindName = (device: Device): string => kindOf(device).name;

const DUTY_NAMES = {
  start: 'Start',
  stop: 'Stop',
  'emergency-stop': 'Emergency',
  forward: 'Forward',
  reverse: 'Reverse',
  jog: 'Jog',
  limit: 'Limit',
} as const;

/** What a device is for, in one word: its duty, or what it is. */
export const purposeOf = (device: Device): string =>
  device.duty ? DUTY_NAMES[device.duty] : kindName(device);

/** The rating that a person reads on a device; empty where it has none. */
export const ratingOf = (device: Device): string => kindOf(device).rating(device.options);

/** A setting that is changed while the board is wired, with its unit and limits. */
export interface Adjustable {
  readonly setting: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
}

/** True of what a hand sets on a device while the board is wired: its dials, and the way in which it resets. */
export function isSetByHand(device: Device, setting: string): boolean {
  const { settings } = kindOf(device);
  const field = Object.hasOwn(settings, setting) ? settings[setting] : undefined;
  if (!field || field.worked) return false;
  return field.shape.kind === 'choice' || (field.shape.kind === 'number' && field.shape.screw !== undefined);
}

/** The settings of a device that a person changes with a screwdriver. */
export function settableOn(device: Device): Adjustable[] {
  return Object.entries(kindOf(device).settings).flatMap(([setting, { shape }]): Adjustable[] => {
    if (shape.kind !== 'number' || shape.screw === undefined) return [];
    const limits = shape.screw === true ? limitsWithin(device, shape.within) : shape.screw;
    return limits ? [{ setting, unit: shape.unit ?? '', min: limits[0], max: limits[1] }] : [];
  });
}

/** Limits that an option of a device gives to another value of it. */
export function limitsWithin(device: Device, within: string | undefined): readonly [number, number] | null {
  if (within === undefined) return null;
  return (device as AnyDevice).options[within] as readonly [number, number];
}
