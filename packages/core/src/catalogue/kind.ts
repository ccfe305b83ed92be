import type { Anatomy, ContactSpec } from './anatomy.js';
import type { Fields, GivenOf, ValuesOf } from './fields.js';
import type { CoilRating } from './shared-fields.js';

/** What a control is for, where it matters to a check. */
export const DUTIES = ['start', 'stop', 'emergency-stop', 'forward', 'reverse', 'jog', 'limit'] as const;
export type Duty = (typeof DUTIES)[number];

/** Duties of controls that set something going; a button without a duty may be one. */
export const START_DUTIES: readonly (Duty | undefined)[] = ['start', 'forward', 'reverse', 'jog'];

/** What a person, the supply company or time does to a device: the verbs of scripts. */
export type Verb =
  | 'press'
  | 'release'
  | 'turn'
  | 'open'
  | 'close'
  | 'lose'
  | 'restore'
  | 'trip'
  | 'reset'
  | 'elapse'
  | 'pushIn'
  | 'letOut';

/** Names of the drawing symbols of devices (IEC 60617, NEMA ICS 19, from memory). */
export type SymbolName =
  | 'supply'
  | 'breaker'
  | 'fuse'
  | 'disconnector'
  | 'transformer'
  | 'coil'
  | 'coil-on-delay'
  | 'coil-off-delay'
  | 'coil-star-delta'
  | 'overload'
  | 'pushbutton'
  | 'emergency-stop'
  | 'selector'
  | 'limit-switch'
  | 'lamp'
  | 'buzzer'
  | 'controller'
  | 'motor-three-phase'
  | 'motor-single-phase'
  | 'brake'
  | 'impedance'
  | 'terminal'
  | 'busbar';

/**
 * Where a device is mounted: on a rail of the panel (0 is the uppermost: what is fed stands below what
 * feeds it), on its door (in this order from above), or out at the machine.
 */
export type Mounting =
  | { readonly zone: 'panel'; readonly rail: 0 | 1 | 2 | 3 | 4 }
  | { readonly zone: 'door'; readonly order: number }
  | { readonly zone: 'field' };

/** What works a contact by hand, by load, by heat or by time; drawn beside it. */
export type Operator =
  'button' | 'estop' | 'selector' | 'limit' | 'overload' | 'on-delay' | 'off-delay' | 'none';

/** How a main pole is drawn. */
export type PoleSymbol = 'contact-main' | 'breaker' | 'fuse' | 'disconnector';

/** How a device looks on the board and on paper. */
export interface Looks<T extends string, Options, Settings> {
  readonly mounting: Mounting;
  /** Height of its face, board millimetres. */
  readonly height: number;
  readonly pole: PoleSymbol;
  readonly operator: (contact: ContactSpec, device: DeviceBody<T, Options, Settings>) => Operator;
}

/** A device of a bench document, complete. */
export interface DeviceBody<T extends string, Options, Settings> {
  readonly tag: string;
  readonly type: T;
  /** How it is built: the instructor chooses. */
  readonly options: Options;
  /** What a person sets with a screwdriver or a handle. */
  readonly settings: Settings;
  readonly duty?: Duty | undefined;
  /** Board millimetres; layout only. */
  readonly at?: readonly [number, number] | undefined;
}

/** Something that the fields of one device alone cannot say, with its path inside the device. */
export interface Misfit {
  readonly path: string;
  readonly message: string;
}

/** What a board is built for, as a new device must fit it. */
export interface Surroundings {
  /** What its coils and lamps are made for. */
  readonly control: CoilRating;
  /** Volts between its lines, and hertz. */
  readonly lines: { readonly volts: number; readonly frequency: number };
  /** Its first motor. */
  readonly motor: { readonly tag: string; readonly amps: number } | null;
}

/** All that is known of a kind of device, once. */
export interface DeviceKind<T extends string, O extends Fields, S extends Fields> {
  readonly type: T;
  /** What people call it. */
  readonly name: string;
  /**
   * Letters of its designation: IEC 81346-2 and IEC 60204-1 practice; NEMA ICS 19 and NFPA 79 (both from
   * memory).
   */
  readonly letters: { readonly iec: string; readonly us: string };
  readonly symbol: (device: DeviceBody<T, ValuesOf<O>, ValuesOf<S>>) => SymbolName;
  readonly looks: Looks<T, ValuesOf<O>, ValuesOf<S>>;
  readonly options: O;
  readonly settings: S;
  /** Values that follow from others where a document leaves them out. */
  readonly complete?: (
    options: GivenOf<O>,
    settings: GivenOf<S>,
  ) => { readonly options?: Partial<ValuesOf<O>>; readonly settings?: Partial<ValuesOf<S>> };
  /** Terminal names that contacts of its own choice must leave alone. */
  readonly reserved?: readonly string[];
  readonly misfits?: (device: DeviceBody<T, ValuesOf<O>, ValuesOf<S>>) => readonly Misfit[];
  readonly anatomy: (device: DeviceBody<T, ValuesOf<O>, ValuesOf<S>>) => Anatomy;
  /** What can be done to it. */
  readonly verbs: readonly Verb[];
  /** The rating that a person reads on it; empty where it has none. */
  readonly rating: (options: ValuesOf<O>) => string;
  /**
   * What is told of it over time: what its mechanism does, how its lamp glows, the field of its motor;
   * nothing of what stands still.
   */
  readonly told: 'state' | 'lamp' | 'field' | 'nothing';
  /** Told where nobody says what to observe. */
  readonly toldByDefault: boolean;
  /** Options of a new one that no field can give by itself: they fit what is on the board already. */
  readonly fresh?: (board: Surroundings) => Partial<GivenOf<O>>;
  /** What a hand does to it while a dead board is measured, and how that is said; common practice, no source. */
  readonly heldDead?: { readonly by: 'press' | 'open' | 'trip' | 'pushIn'; readonly words: string };
}

/** Declares a kind of device; its documents' types follow from its fields. */
export function deviceKind<const T extends string, O extends Fields, S extends Fields>(
  kind: DeviceKind<T, O, S>,
): DeviceKind<T, O, S> {
  return kind;
}

/** The document type of a kind. */
export type DeviceOfKind<K> = K extends {
  readonly type: infer T extends string;
  readonly options: infer O extends Fields;
  readonly settings: infer S extends Fields;
}
  ? DeviceBody<T, ValuesOf<O>, ValuesOf<S>>
  : never;

/** The n-th designation of some letters: letters first by IEC practice, the number first by US practice. */
export const iecTag = (letters: string, n: number): string => `${letters}${n}`;
export const usTag = (letters: string, n: number): string => `${n}${letters}`;
