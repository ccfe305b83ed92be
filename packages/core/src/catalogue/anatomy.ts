import type { CoilRating, MotorPlate } from './device.js';

/** A screw terminal and how many conductors it takes. */
export interface TerminalSpec {
  readonly name: string;
  readonly conductors: number;
}

/**
 * What moves in a device. Every mechanism is always in exactly one numbered state; contacts, sources
 * and filaments are conducting or not by that state alone.
 */
export type MechanismKind =
  'armature' | 'plunger' | 'latch' | 'selector' | 'trip' | 'switchgear' | 'supply' | 'timer' | 'filament';

/** States shared by everything with two positions: at rest, operated, and on the way between. */
export const REST = 0;
export const OPERATED = 1;
/** Travelling towards operated, and back to rest: every contact is open. */
export const ARRIVING = 2;
export const RETURNING = 3;
/** Coil already dead, armature not yet moving: contacts as operated. */
export const LETTING_GO = 4;

/** Breaker, fuse, disconnector. */
export const CLOSED = 0;
export const OPEN = 1;
export const TRIPPED = 2;

/** Delay timers. Off-delay timers are TIMER_DONE while energised and TIMER_TIMING after release. */
export const TIMER_IDLE = 0;
export const TIMER_TIMING = 1;
export const TIMER_DONE = 2;
export const TIMER_TO_DONE = 3;
export const TIMER_TO_IDLE = 4;
export const TIMER_PAUSE = 5;

/** Supply states are bits: a lost phase each, switched off, tripped. */
export const SUPPLY_OPEN = 8;
export const SUPPLY_TRIPPED = 16;

/** A filament or winding that has burnt through. */
export const INTACT = 0;
export const BURNT = 1;

export interface MechanismSpec {
  readonly kind: MechanismKind;
  /** How many states there are; states are 0 … states − 1. */
  readonly states: number;
  readonly initial: number;
  /** Position names of a selector. */
  readonly positions?: readonly string[];
}

export interface ContactSpec {
  /** `"13-14"`. */
  readonly name: string;
  readonly a: string;
  readonly b: string;
  /** By mechanism state: conducting or not. */
  readonly closedIn: readonly boolean[];
  /** What the contact is for, where rules and drawings must know. */
  readonly role: 'pole' | 'aux' | 'control' | 'overload-nc' | 'overload-no';
  readonly normally: 'open' | 'closed' | 'none';
}

export interface SourceSpec {
  /** Terminal that carries the potential. */
  readonly terminal: string;
  /** Terminal to which the EMF refers. */
  readonly reference: string;
  /** EMF: RMS volts and angle in degrees; frequency 0 is DC. */
  readonly volts: number;
  readonly angle: number;
  readonly frequency: number;
  readonly ohms: number;
  readonly henries: number;
  readonly currentLimit?: number;
  /** Phase name for messages: L1, L2, L3, L, +. */
  readonly conductor: string;
  readonly liveIn: readonly boolean[];
}

export interface CoilSpec extends CoilRating {
  readonly a: string;
  readonly b: string;
}

export interface LampSpec {
  readonly a: string;
  readonly b: string;
  readonly voltage: number;
  readonly ohms: number;
}

export interface MotorSpec {
  /** Winding ends U, V, W: start and finish; a name with a star in front is internal to the motor. */
  readonly windings: readonly (readonly [string, string])[];
  readonly plate: MotorPlate;
  readonly connection: 'open' | 'star' | 'delta' | 'single';
}

export interface TransformerSpec {
  readonly primary: readonly [string, string];
  readonly secondary: readonly [string, string];
  readonly primaryVoltage: number;
  readonly secondaryVoltage: number;
  readonly va: number;
}

/** The whole of a device as the circuit compiler sees it. */
export interface Anatomy {
  readonly terminals: readonly TerminalSpec[];
  /** Joined inside the device, always. */
  readonly links: readonly (readonly [string, string])[];
  readonly mechanism?: MechanismSpec;
  readonly contacts: readonly ContactSpec[];
  readonly sources: readonly SourceSpec[];
  readonly coil?: CoilSpec;
  readonly lamp?: LampSpec;
  readonly impedance?: {
    readonly a: string;
    readonly b: string;
    readonly ohms: number;
    readonly henries: number;
  };
  readonly motor?: MotorSpec;
  readonly transformer?: TransformerSpec;
  readonly earthTerminal?: string;
}

export const BARE: Anatomy = { terminals: [], links: [], contacts: [], sources: [] };

/** Terminals that take two conductors each. */
export function screws(...names: string[]): TerminalSpec[] {
  return names.map((name) => ({ name, conductors: 2 }));
}

/** Splits `"13-14"` into its two terminal names. */
export function contactEnds(name: string): [string, string] {
  const [a = '', b = ''] = name.split('-');
  return [a, b];
}

/** Splits `"NO 13-14"` into its kind and terminals. */
export function readContact(text: string): { normally: 'open' | 'closed'; name: string } {
  return { normally: text.startsWith('NC') ? 'closed' : 'open', name: text.slice(3) };
}

const NO_STATES = [false, true, false, false, true];
const NC_STATES = [true, false, false, false, false];

/** Contacts that move with a two-position mechanism and break before they make. */
export function movingContacts(texts: readonly string[], role: ContactSpec['role']): ContactSpec[] {
  return texts.map((text) => {
    const { normally, name } = readContact(text);
    const [a, b] = contactEnds(name);
    return { name, a, b, role, normally, closedIn: normally === 'open' ? NO_STATES : NC_STATES };
  });
}

/** Terminal names of a list of contacts, each once, in order. */
export function contactTerminals(texts: readonly string[]): string[] {
  return [...new Set(texts.flatMap((text) => contactEnds(readContact(text).name)))];
}
