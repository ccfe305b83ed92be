import { choice, flag, list, number, type Field, type Fields } from '../catalogue/index.js';
import { INTERLOCK_KINDS, type Family, type InterlockKind } from '../marking/index.js';
import { FORMS, type FormName } from './form.js';

/** Families for which there is a template. */
export const TEMPLATE_FAMILIES = ['seal-in', 'jogging', 'reversing', 'star-delta'] as const;
export type TemplateFamily = Extract<Family, (typeof TEMPLATE_FAMILIES)[number]>;

export const LAMP_DUTIES = ['off', 'run', 'trip'] as const;
export type LampDuty = (typeof LAMP_DUTIES)[number];

/** What an instructor chooses of a template. */
export interface TemplateChoices {
  readonly family: TemplateFamily;
  readonly form: FormName;
  /** Between the lines, volts. */
  readonly lineVoltage: number;
  /** Where the control circuit is fed from. */
  readonly control: 'direct' | 'transformer' | 'dc';
  /** Behind a transformer or a DC supply, volts. */
  readonly controlVoltage: number;
  /** The overload's contact: before Stop, or between coil and return. */
  readonly overload: 'line' | 'coil';
  /** Start and stop stations. */
  readonly stations: number;
  readonly emergencyStop: boolean;
  readonly lamps: readonly LampDuty[];
  /** Rated power of the motor, kW. */
  readonly power: number;
  readonly jog: 'relay' | 'button' | 'selector';
  readonly interlocks: readonly InterlockKind[];
  readonly limits: boolean;
  readonly changeover: 'timer' | 'star-delta-timer' | 'by-hand';
  readonly main: 'start' | 'star';
  /** Where the overload's heaters carry the current. */
  readonly leg: 'line' | 'winding';
  /** Of the changeover, seconds. */
  readonly delay: number;
}

/** Common practice, no source: what a house begins with. */
export const TEMPLATE_DEFAULTS: TemplateChoices = {
  family: 'seal-in',
  form: 'iec',
  lineVoltage: 400,
  control: 'direct',
  controlVoltage: 230,
  overload: 'line',
  stations: 1,
  emergencyStop: false,
  lamps: [],
  power: 1.5,
  jog: 'relay',
  interlocks: ['electrical'],
  limits: false,
  changeover: 'timer',
  main: 'start',
  leg: 'line',
  delay: 10,
};

/** A choice of a template as a field of a form, and the families that have it. */
export interface TemplateField {
  readonly key: keyof TemplateChoices;
  readonly field: Field;
  /** Words of the values of a choice. */
  readonly words?: Readonly<Record<string, string>>;
  readonly only?: readonly TemplateFamily[];
}

const FIELDS = {
  family: choice('Family', TEMPLATE_FAMILIES, 'seal-in'),
  form: choice('Habit', FORMS, 'iec'),
  lineVoltage: number('Lines', { unit: 'V', min: 100, max: 690 }, 400),
  control: choice('Control circuit', ['direct', 'transformer', 'dc'], 'direct'),
  controlVoltage: number('Control voltage', { unit: 'V', min: 12, max: 400 }, 230),
  overload: choice('Overload contact', ['line', 'coil'], 'line'),
  stations: number('Stations', { whole: true, min: 1, max: 3 }, 1),
  emergencyStop: flag('Emergency stop', false),
  lamps: list('Lamps', choice('Lamp', LAMP_DUTIES), [0, 3], []),
  power: number('Motor', { unit: 'kW', min: 0.1, max: 90 }, 1.5),
  jog: choice('Jogging by', ['relay', 'button', 'selector'], 'relay'),
  interlocks: list('Interlocks', choice('Interlock', INTERLOCK_KINDS), [0, 3], ['electrical']),
  limits: flag('Limit switches at both ends', false),
  changeover: choice('Changeover', ['timer', 'star-delta-timer', 'by-hand'], 'timer'),
  main: choice('Main contactor', ['start', 'star'], 'start'),
  leg: choice('Overload in', ['line', 'winding'], 'line'),
  delay: number('Time to delta', { unit: 's', min: 1, max: 60 }, 10),
} satisfies Fields & Readonly<Record<keyof TemplateChoices, Field>>;

const ONLY: Readonly<Partial<Record<keyof TemplateChoices, readonly TemplateFamily[]>>> = {
  stations: ['seal-in', 'jogging', 'reversing'],
  jog: ['jogging'],
  interlocks: ['reversing'],
  limits: ['reversing'],
  changeover: ['star-delta'],
  main: ['star-delta'],
  leg: ['star-delta'],
  delay: ['star-delta'],
};

const WORDS: Readonly<Partial<Record<keyof TemplateChoices, Readonly<Record<string, string>>>>> = {
  family: { 'seal-in': 'Seal-in', jogging: 'Jogging', reversing: 'Reversing', 'star-delta': 'Star-delta' },
  form: { iec: 'IEC', us: 'US' },
  control: {
    direct: 'from a line and neutral',
    transformer: 'from a transformer',
    dc: 'from a 24 V DC supply',
  },
  overload: { line: 'before Stop', coil: 'between coil and return' },
  jog: { relay: 'control relay', button: 'NC contact of the jog button', selector: 'selector run/jog' },
  interlocks: { electrical: 'electrical', mechanical: 'mechanical', 'push-button': 'push buttons' },
  lamps: { off: 'off', run: 'run', trip: 'tripped' },
  changeover: { timer: 'timer', 'star-delta-timer': 'star-delta timer', 'by-hand': 'by hand' },
  main: { start: 'from Start', star: 'through star' },
  leg: { line: 'the line', winding: 'the winding leg' },
};

export const TEMPLATE_FIELDS: readonly TemplateField[] = (
  Object.keys(FIELDS) as (keyof TemplateChoices)[]
).map((key) => ({
  key,
  field: FIELDS[key],
  ...(WORDS[key] ? { words: WORDS[key] } : {}),
  ...(ONLY[key] ? { only: ONLY[key] } : {}),
}));
