/**
 * A program of a programmable controller as its document has it: variables, and rungs of a ladder diagram
 * (IEC 61131-3).
 */

interface Named {
  readonly name: string;
  readonly comment?: string | undefined;
}

/** The value at an input or an output of the device. */
export interface Connected extends Named {
  /** `I0.0`, `Q0.2`. */
  readonly at: string;
}

/** A bit of the program's own. */
export interface Memory extends Named {
  readonly initial?: boolean | undefined;
  /** Keeps its value without the supply and while the program is stopped. */
  readonly retain?: boolean | undefined;
}

export const TIMERS = ['TON', 'TOF', 'TP'] as const;
export type TimerBlock = (typeof TIMERS)[number];

export interface TimerVariable extends Named {
  readonly timer: TimerBlock;
  /** Seconds. */
  readonly preset: number;
}

export const COUNTERS = ['CTU', 'CTD'] as const;
export type CounterBlock = (typeof COUNTERS)[number];

export interface CounterVariable extends Named {
  readonly counter: CounterBlock;
  readonly preset: number;
}

export type ProgramVariable = Connected | Memory | TimerVariable | CounterVariable;

export type RungContact =
  | { readonly no: string }
  | { readonly nc: string }
  | { readonly rising: string }
  | { readonly falling: string };
export type ContactKind = 'no' | 'nc' | 'rising' | 'falling';

/** One element of a series: a contact, or branches in parallel. */
export type RungElement = RungContact | { readonly any: readonly RungSeries[] };

export type RungSeries = readonly RungElement[];

/** What a rung does with its result. */
export type RungAction =
  | { readonly coil: string }
  | { readonly negated: string }
  | { readonly set: string }
  | { readonly reset: string }
  | { readonly timer: string }
  | { readonly counter: string; readonly reset?: string | undefined };

export interface Rung {
  readonly comment?: string | undefined;
  readonly when: RungSeries;
  readonly then: readonly RungAction[];
}

export interface Program {
  readonly contactum: 'program/1';
  readonly title: string;
  readonly variables: readonly ProgramVariable[];
  readonly rungs: readonly Rung[];
}

export const isConnected = (variable: ProgramVariable): variable is Connected => 'at' in variable;
export const isTimer = (variable: ProgramVariable): variable is TimerVariable => 'timer' in variable;
export const isCounter = (variable: ProgramVariable): variable is CounterVariable => 'counter' in variable;
export const isMemory = (variable: ProgramVariable): variable is Memory =>
  !isConnected(variable) && !isTimer(variable) && !isCounter(variable);

/** True of a variable at an input, which the program only reads. */
export const isInput = (variable: ProgramVariable): boolean =>
  isConnected(variable) && variable.at.startsWith('I');

/** How a contact looks at its bit, which is the only key that it has. */
export const kindOfContact = (contact: RungContact): ContactKind => Object.keys(contact)[0] as ContactKind;

/** The bit that a contact looks at. */
export const examined = (contact: RungContact): string =>
  'no' in contact
    ? contact.no
    : 'nc' in contact
      ? contact.nc
      : 'rising' in contact
        ? contact.rising
        : contact.falling;

/** The variable that an action works. */
export const workedBy = (action: RungAction): string =>
  'coil' in action
    ? action.coil
    : 'negated' in action
      ? action.negated
      : 'set' in action
        ? action.set
        : 'timer' in action
          ? action.timer
          : 'counter' in action
            ? action.counter
            : action.reset;

/** A contact of a kind that looks at a bit. */
export const contactOf = (kind: ContactKind, bit: string): RungContact =>
  ({ [kind]: bit }) as unknown as RungContact;

/** Bits that a contact can look at: variables, and outputs of blocks. */
export const readableBits = ({ variables }: Pick<Program, 'variables'>): string[] =>
  variables.map((one) => (isTimer(one) || isCounter(one) ? `${one.name}.Q` : one.name));

/** A block with its preset, as it stands in its box: `TON 5 s`, `CTU 3`; null of what is no block. */
export function blockWords(variable: ProgramVariable): string | null {
  if (isTimer(variable)) return `${variable.timer} ${variable.preset} s`;
  return isCounter(variable) ? `${variable.counter} ${variable.preset}` : null;
}

export type ActionKind = 'coil' | 'negated' | 'set' | 'reset' | 'timer' | 'counter';

export const kindOfAction = (action: RungAction): ActionKind =>
  'counter' in action ? 'counter' : (Object.keys(action)[0] as ActionKind);

/** The name of the variable whose bit or output is named: `Delay` of `Delay.Q`. */
export const variableOf = (bit: string): string => bit.replace(/\.Q$/, '');

interface ContactAt {
  readonly contact: RungContact;
  readonly path: string;
}

/** Every contact of a program in the order in which a scan works them, with its path. */
export function* contactsOf({ rungs }: Pick<Program, 'rungs'>): Generator<ContactAt> {
  for (const [k, { when }] of rungs.entries()) yield* within(when, `rungs[${k}].when`);
}

function* within(series: RungSeries, path: string): Generator<ContactAt> {
  for (const [k, element] of series.entries()) {
    if (!('any' in element)) yield { contact: element, path: `${path}[${k}]` };
    else for (const [b, branch] of element.any.entries()) yield* within(branch, `${path}[${k}].any[${b}]`);
  }
}

export const isEdge = (contact: RungElement): boolean => 'rising' in contact || 'falling' in contact;

/** An address as the standard writes it, `%IX0.0` of `I0.0`, and back; null of what is neither (IEC 61131-3). */
export const standardAddress = (at: string): string => `%${at.slice(0, 1)}X${at.slice(1)}`;
export function addressFrom(text: string): string | null {
  const [, letter, place] = /^%([IQ])X?(\d+\.\d+)$/i.exec(text) ?? [];
  return letter === undefined || place === undefined ? null : `${letter.toUpperCase()}${place}`;
}

/** An identifier that a title makes, as the standard names programs. */
export const programName = (title: string): string =>
  title
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^(?=[0-9]|$)/, 'P_')
    .slice(0, 32);

/** Longest preset of a timer, seconds: a day. */
export const LONGEST_PRESET = 86_400;
/** Largest value of a counter: the range of INT (IEC 61131-3, from memory). */
export const MOST_COUNTS = 32_767;

/** A name that no variable of a program has yet: `Memo1`, `Time2`. */
export function freshVariable({ variables }: Program, base: string): string {
  const taken = new Set(variables.map(({ name }) => name.toUpperCase()));
  for (let k = 1; ; k += 1) if (!taken.has(`${base}${k}`.toUpperCase())) return `${base}${k}`;
}
