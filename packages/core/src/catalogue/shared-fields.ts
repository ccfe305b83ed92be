import {
  choice,
  contacts,
  group,
  number,
  optional,
  positive,
  text,
  worked,
  flag,
  type ValuesOf,
} from './fields.js';

/** Fields that several kinds of device have. */

const current = choice('Current', ['ac', 'dc']);
export type CurrentKind = 'ac' | 'dc';

export const coil = group('Coil', { voltage: positive('Voltage', 'V'), kind: current });
/** What a coil is made for: rated volts and kind of current. */
export interface CoilRating {
  readonly voltage: number;
  readonly kind: CurrentKind;
}

export const poles = (standard: number) => number('Poles', { whole: true, min: 1, max: 3 }, standard);

export const colour = optional(text('Colour', 24));

export const closed = worked(flag('Closed', true));

/** What an actuator can carry, and what it carries by default. */
export const actuatorContacts = (...standard: string[]) => contacts('Contacts', [1, 8], standard);

/** Ohms and henries of a source where its prospective current does not say enough. */
export const sourceImpedance = {
  sourceOhms: optional(number('Source resistance', { unit: 'Ω', min: 0 })),
  sourceHenries: optional(number('Source inductance', { unit: 'H', min: 0 })),
};

/** Torque of a motor's load, per unit of the rated torque. */
export const load = number('Load', { unit: 'of rated torque', min: 0 }, 0.3);

/** Rated values of an induction motor as its plate gives them. */
export const plate = {
  kW: positive('Power', 'kW'),
  /** Between lines in the running connection. */
  voltage: positive('Voltage', 'V'),
  connection: choice('Connection', ['star', 'delta'], 'star'),
  frequency: positive('Frequency', 'Hz', 50),
  speed: positive('Rated speed', 'rpm'),
  /** In a line. */
  current: positive('Rated current', 'A'),
  cosPhi: number('Power factor', { above: 0, max: 1 }, 0.8),
  startCurrentRatio: number('Starting current', { unit: 'of rated', above: 0 }, 6),
  startTorqueRatio: number('Starting torque', { unit: 'of rated', above: 0 }, 2),
  breakdownTorqueRatio: number('Breakdown torque', { unit: 'of rated', above: 1 }, 2.5),
  serviceFactor: number('Service factor', { min: 1 }, 1),
};

/** Rated values of an induction motor. */
export type MotorPlate = ValuesOf<typeof plate>;

/** The voltage and kind of current that something is made for, in words. */
export const coilRating = ({ voltage, kind }: CoilRating): string => `${voltage} V ${kind.toUpperCase()}`;

/** Rounded to a tenth. */
export const tenths = (value: number): number => Math.round(value * 10) / 10;
