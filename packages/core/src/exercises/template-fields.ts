import { choice, flag, list, number, type Field, type Fields } from '../catalogue/index.js';
import {
  COLOUR_SCHEMES,
  INTERLOCK_KINDS,
  type ColourScheme,
  type Family,
  type InterlockKind,
} from '../marking/index.js';
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
  /** Contacts and relays, or a programmable controller. */
  readonly logic: 'relays' | 'controller';
  /** Between the lines, volts. */
  readonly lineVoltage: number;
  /** Where the control circuit is fed from. */
  readonly control: 'direct' | 'lines' | 'transformer' | 'dc';
  /** What protects the control circuit. */
  readonly controlProtection: 'fuse' | 'breaker';
  /** What protects the motor against shorts. */
  readonly motorProtection: 'breaker' | 'fuses';
  /** Behind a transformer or a DC supply, volts. */
  readonly controlVoltage: number;
  /** The overload's contact: before Stop, or between coil and return. */
  readonly overload: 'line' | 'coil';
  readonly relay: 'thermal' | 'electronic';
  /**
   * Overload relays of a reversing starter: one behind the joint; one a contactor, their contacts in series
   * or each in its own rung.
   */
  readonly relays: 'shared' | 'in-series' | 'own-rung';
  /** Start and stop stations. */
  readonly stations: number;
  /** Remote stations hang on cables that have no core to spare. */
  readonly stationCable: boolean;
  readonly emergencyStop: boolean;
  readonly lamps: readonly LampDuty[];
  /** The run lamp beside the coil, or by a contact of its own. */
  readonly runLamp: 'coil' | 'contact';
  /** Contactors carry an add-on block of four auxiliary contacts. */
  readonly auxiliaryBlock: boolean;
  /** Colours of leads; those of the form, or others. */
  readonly colours: 'form' | ColourScheme;
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
  logic: 'relays',
  lineVoltage: 400,
  control: 'direct',
  controlVoltage: 230,
  controlProtection: 'fuse',
  motorProtection: 'breaker',
  overload: 'line',
  relay: 'thermal',
  relays: 'shared',
  stations: 1,
  stationCable: false,
  emergencyStop: false,
  lamps: [],
  runLamp: 'coil',
  auxiliaryBlock: false,
  colours: 'form',
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
  form: choice('Form', FORMS, 'iec'),
  logic: choice('Logic', ['relays', 'controller'], 'relays'),
  lineVoltage: number('Lines', { unit: 'V', min: 100, max: 690 }, 400),
  control: choice('Control circuit', ['direct', 'lines', 'transformer', 'dc'], 'direct'),
  controlVoltage: number('Control voltage', { unit: 'V', min: 12, max: 400 }, 230),
  controlProtection: choice('Control protected by', ['fuse', 'breaker'], 'fuse'),
  motorProtection: choice('Motor protected by', ['breaker', 'fuses'], 'breaker'),
  overload: choice('Overload contact', ['line', 'coil'], 'line'),
  relay: choice('Overload relay', ['thermal', 'electronic'], 'thermal'),
  relays: choice('Overload relays', ['shared', 'in-series', 'own-rung'], 'shared'),
  stations: number('Stations', { whole: true, min: 1, max: 3 }, 1),
  stationCable: flag('Remote stations on a cable without spare cores', false),
  emergencyStop: flag('Emergency stop', false),
  lamps: list('Lamps', choice('Lamp', LAMP_DUTIES), [0, 3], []),
  runLamp: choice('Run lamp', ['coil', 'contact'], 'coil'),
  auxiliaryBlock: flag('Add-on auxiliary blocks', false),
  colours: choice('Colours', ['form', ...COLOUR_SCHEMES], 'form'),
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
  stationCable: ['seal-in', 'reversing'],
  relays: ['reversing'],
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
  logic: { relays: 'by relays', controller: 'by controller' },
  control: {
    direct: 'from a line and neutral',
    lines: 'from two lines',
    transformer: 'from a transformer',
    dc: 'from a 24 V DC supply',
  },
  controlProtection: { fuse: 'fuse', breaker: 'small breaker' },
  motorProtection: { breaker: 'breaker', fuses: 'line fuses' },
  overload: { line: 'before Stop', coil: 'between coil and return' },
  relay: { thermal: 'thermal', electronic: 'electronic, with its own supply' },
  relays: {
    shared: 'one for both directions',
    'in-series': 'one a direction, contacts in series',
    'own-rung': 'one a direction, each in its own rung',
  },
  runLamp: { coil: 'beside the coil', contact: 'by a contact of its own' },
  colours: {
    form: 'of the habit',
    iec: 'IEC 60204-1',
    us: 'NFPA 79',
    'red-yellow-blue': 'red, yellow, blue',
  },
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
