import type { Program, TimerBlock } from '../program/index.js';
import type { CoilRating, MotorPlate } from './shared-fields.js';
import { LETTING_GO, REST } from './states.js';

/**
 * What a terminal is for. Lines feed and loads are fed through a main pole or heater; coils, contacts and
 * signals are ends of a control circuit; a joint only joins.
 */
export type TerminalRole =
  | 'feed'
  | 'return'
  | 'earth'
  | 'line'
  | 'load'
  | 'winding'
  | 'primary'
  | 'secondary'
  | 'coil'
  | 'contact'
  | 'signal'
  | 'impedance'
  | 'joint';

/** A screw terminal, what it is for, and how many conductors it takes. */
export interface TerminalSpec {
  readonly name: string;
  readonly role: TerminalRole;
  readonly conductors: number;
}

interface States {
  /** What contacts, coils and sources of the device know it by: `"armature"`. */
  readonly name: string;
  /** How many states there are; states are 0 … states − 1. */
  readonly states: number;
  readonly initial: number;
}

/**
 * An actuator of a device: what moves in it, or what can burn through. It is always in exactly one numbered
 * state (`states.ts`); contacts, sources and filaments are conducting or not by that state alone. What has
 * more to remember than one number is several actuators.
 */
export type MechanismSpec = States &
  (
    | { readonly kind: 'armature' }
    /** Pushed in; it comes back by its spring, when it is released by hand, or when its load leaves it. */
    | { readonly kind: 'plunger'; readonly returns: 'by spring' | 'by hand' | 'by load' }
    | { readonly kind: 'selector'; readonly positions: readonly string[] }
    /** One with a supply of its own (a coil) stands as tripped without it. */
    | { readonly kind: 'trip'; readonly reset: 'manual' | 'auto' }
    /** Breaker, fuse, disconnector. */
    | { readonly kind: 'switchgear'; readonly tripped: 'tripped' | 'blown' }
    | { readonly kind: 'supply'; readonly phases: readonly string[] }
    | {
        readonly kind: 'timer';
        readonly does: 'on-delay' | 'off-delay' | 'star-delta';
        /** Seconds. */
        readonly delay: number;
        readonly pause: number;
      }
    /** The processor of a programmable controller, whose supply (a coil) is there or not. */
    | {
        readonly kind: 'processor';
        readonly program: Program | null;
        /** Seconds of a scan, and for which an input must last to be seen. */
        readonly scan: number;
        readonly filter: number;
      }
    /** An input of a controller, which its circuit (a coil) turns on and off. */
    | { readonly kind: 'input' }
    | { readonly kind: 'output' }
    /** A bit of a program, or a part of a number. */
    | { readonly kind: 'memory'; readonly retain: boolean; readonly isShown: boolean }
    | { readonly kind: 'program-timer'; readonly does: TimerBlock; readonly delay: number }
    /** A lamp's filament or a coil's winding: intact or burnt through. */
    | { readonly kind: 'winding' }
  );

export type MechanismKind = MechanismSpec['kind'];

export interface ContactSpec {
  /** `"13-14"`. */
  readonly name: string;
  readonly a: string;
  readonly b: string;
  /** Name of the actuator that moves it. */
  readonly movedBy: string;
  /** By the state of that actuator: conducting or not. */
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
  /** Name of the actuator that switches it. */
  readonly switchedBy: string;
  readonly liveIn: readonly boolean[];
}

/** A winding that moves an actuator while it has its voltage. */
export interface CoilSpec extends CoilRating {
  /** `"coil"`; where a device has several, what each is for: `"set"`, `"reset"`. */
  readonly name: string;
  readonly a: string;
  readonly b: string;
  /** Name of the actuator that it moves; one that several move looks at them in the order of the list. */
  readonly moves: string;
  /** Size of its magnet. */
  readonly size: 'contactor' | 'relay';
}

/** An input that is only measured: its voltage decides for an actuator, its current does no work. */
export interface SensorSpec extends CoilRating {
  readonly name: string;
  readonly a: string;
  readonly b: string;
  readonly moves: string;
  readonly ohms: number;
  /** Only too many volts are wrong with it, not too few: a switch that leaks is read as off. */
  readonly takesFewVolts?: boolean;
  /** Volts from which it is on, and below which it is off again. */
  readonly on: number;
  readonly off: number;
}

export interface LampSpec {
  readonly a: string;
  readonly b: string;
  /** Name of the actuator that is its filament. */
  readonly filament: string;
  readonly voltage: number;
  readonly ohms: number;
}

export interface MotorSpec {
  /** Winding ends U, V, W: start and finish; a name with a star in front is internal to the motor. */
  readonly windings: readonly (readonly [string, string])[];
  readonly plate: MotorPlate;
  readonly connection: 'open' | 'star' | 'delta' | 'single';
  /** Torque of its load, per unit of the rated. */
  readonly load: number;
}

/** What opens by the heat of the current in a device's poles. */
export type ProtectionSpec = {
  readonly poles: readonly string[];
  /** Name of the actuator that it releases. */
  readonly releases: string;
} & (
  | { readonly curve: 'breaker'; readonly rating: number; readonly band: 'B' | 'C' | 'D' }
  | { readonly curve: 'fuse'; readonly rating: number; readonly class: 'gG' | 'aM' }
  | {
      readonly curve: 'overload';
      readonly range: readonly [number, number];
      readonly dial: number;
      readonly class: '10A' | '10' | '20' | '30';
      readonly phaseLossSensitive: boolean;
    }
);

/** A switch that a motor's load works at one end of its travel. */
export interface TravelSpec {
  /** Name of the actuator that the load works. */
  readonly works: string;
  readonly motor: string;
  readonly end: 'forward' | 'reverse';
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
  /** Joined by a heater, which feels the current. */
  readonly heaters: readonly (readonly [string, string])[];
  /** The first is the one that a person works and reads. */
  readonly actuators: readonly MechanismSpec[];
  readonly contacts: readonly ContactSpec[];
  readonly sources: readonly SourceSpec[];
  readonly coils: readonly CoilSpec[];
  readonly sensors: readonly SensorSpec[];
  readonly lamps: readonly LampSpec[];
  readonly impedances: readonly {
    readonly a: string;
    readonly b: string;
    readonly ohms: number;
    readonly henries: number;
  }[];
  readonly motor?: MotorSpec;
  readonly transformer?: TransformerSpec;
  readonly protection?: ProtectionSpec;
  readonly travel?: TravelSpec;
  /** The motor whose shaft an actuator holds while it is at rest. */
  readonly brakes?: { readonly motor: string; readonly by: string };
  readonly earthTerminal?: string;
}

export const BARE: Anatomy = {
  terminals: [],
  links: [],
  heaters: [],
  actuators: [],
  contacts: [],
  sources: [],
  coils: [],
  sensors: [],
  lamps: [],
  impedances: [],
};

/** Terminals of one role that take two conductors each. */
export function screws(role: TerminalRole, ...names: string[]): TerminalSpec[] {
  return names.map((name) => ({ name, role, conductors: 2 }));
}

/** The three main poles or heaters of a device. */
export const POLES = ['1-2', '3-4', '5-6'] as const;

/** Terminals of main poles or heaters: the odd one at the line, the even one at the load. */
export function poleTerminals(poles: readonly string[]): TerminalSpec[] {
  return poles.flatMap((pole) => {
    const [line, load] = contactEnds(pole);
    return [...screws('line', line), ...screws('load', load)];
  });
}

/** An armature at rest. */
export const ARMATURE: MechanismSpec = {
  name: 'armature',
  kind: 'armature',
  states: LETTING_GO + 1,
  initial: REST,
};

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

/** Contacts that move with a two-position actuator and break before they make. */
export function movingContacts(
  texts: readonly string[],
  role: ContactSpec['role'],
  movedBy: string,
): ContactSpec[] {
  return texts.map((text) => {
    const { normally, name } = readContact(text);
    const [a, b] = contactEnds(name);
    return { name, a, b, movedBy, role, normally, closedIn: normally === 'open' ? NO_STATES : NC_STATES };
  });
}

/** Terminal names of a list of contacts, each once, in order. */
export function contactTerminals(texts: readonly string[]): string[] {
  return [...new Set(texts.flatMap((text) => contactEnds(readContact(text).name)))];
}
