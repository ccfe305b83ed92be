/**
 * What a device document says once it is complete. The shapes are plain data: the schemas that read
 * them from JSON stand apart in `documents/`, so that computation does not carry a parser with it.
 */

export type Duty = 'start' | 'stop' | 'emergency-stop' | 'forward' | 'reverse' | 'jog' | 'limit';
export type CurrentKind = 'ac' | 'dc';

export interface CoilRating {
  /** Rated volts. */
  readonly voltage: number;
  readonly kind: CurrentKind;
}

/** `"NO 13-14"` or `"NC 21-22"`. */
export type ContactText = string;

export interface SelectorContact {
  /** `"13-14"`. */
  readonly terminals: string;
  readonly closedIn: readonly string[];
}

/** Rated values of an induction motor as its plate gives them. */
export interface MotorPlate {
  readonly kW: number;
  /** Volts between lines in the running connection. */
  readonly voltage: number;
  readonly connection: 'star' | 'delta';
  readonly frequency: number;
  /** Rated speed, rpm. */
  readonly speed: number;
  /** Line current, amperes. */
  readonly current: number;
  readonly cosPhi: number;
  readonly startCurrentRatio: number;
  readonly startTorqueRatio: number;
  readonly breakdownTorqueRatio: number;
  readonly serviceFactor: number;
}

/** What the plate of a single-phase motor gives. */
export interface SinglePhasePlate {
  readonly kW: number;
  readonly voltage: number;
  readonly frequency: number;
  readonly speed: number;
  readonly current: number;
}

interface SourceImpedance {
  readonly prospectiveCurrent: number;
  readonly sourceOhms?: number | undefined;
  readonly sourceHenries?: number | undefined;
}

export interface OptionsByType {
  'supply-3n': { readonly lineVoltage: number; readonly frequency: number } & SourceImpedance;
  'supply-1n': { readonly voltage: number; readonly frequency: number } & SourceImpedance;
  'supply-dc': { readonly voltage: number; readonly currentLimit: number };
  breaker: { readonly poles: number; readonly rating: number; readonly curve: 'B' | 'C' | 'D' };
  fuse: { readonly poles: number; readonly rating: number; readonly class: 'gG' | 'aM' };
  disconnector: { readonly poles: number };
  transformer: { readonly primaryVoltage: number; readonly secondaryVoltage: number; readonly va: number };
  contactor: { readonly coil: CoilRating; readonly aux: readonly ContactText[] };
  relay: {
    readonly base?: 'octal-8' | 'octal-11' | undefined;
    readonly contacts: readonly ContactText[];
    readonly coil: CoilRating;
  };
  overload: {
    readonly range: readonly [number, number];
    readonly class: '10A' | '10' | '20' | '30';
    readonly phaseLossSensitive: boolean;
  };
  pushbutton: { readonly contacts: readonly ContactText[]; readonly colour?: string | undefined };
  estop: { readonly contacts: readonly ContactText[] };
  selector: { readonly positions: readonly string[]; readonly contacts: readonly SelectorContact[] };
  'limit-switch': {
    readonly contacts: readonly ContactText[];
    readonly travel?: { readonly motor: string; readonly end: 'forward' | 'reverse' } | undefined;
  };
  timer: {
    readonly function: 'on-delay' | 'off-delay';
    readonly coil: CoilRating;
    readonly instant: readonly ContactText[];
  };
  'star-delta-timer': { readonly coil: CoilRating; readonly pause: number };
  lamp: { readonly voltage: number; readonly kind: CurrentKind; readonly colour?: string | undefined };
  buzzer: { readonly voltage: number; readonly kind: CurrentKind; readonly colour?: string | undefined };
  'motor-3': {
    readonly leads: 3 | 6;
    readonly internal: 'star' | 'delta';
    readonly plate: MotorPlate;
  };
  'motor-1': { readonly plate: SinglePhasePlate };
  brake: { readonly coil: CoilRating; readonly motor: string };
  impedance: { readonly ohms: number; readonly henries: number };
  'terminal-strip': { readonly count: number };
  busbar: { readonly count: number };
}

export interface SettingsByType {
  'supply-3n': object;
  'supply-1n': object;
  'supply-dc': object;
  breaker: { readonly closed: boolean };
  fuse: { readonly fitted: boolean };
  disconnector: { readonly closed: boolean };
  transformer: object;
  contactor: object;
  relay: object;
  overload: { readonly dial: number; readonly reset: 'manual' | 'auto' };
  pushbutton: object;
  estop: object;
  selector: { readonly position: string };
  'limit-switch': object;
  timer: { readonly delay: number };
  'star-delta-timer': { readonly delay: number };
  lamp: object;
  buzzer: object;
  'motor-3': { readonly load: number };
  'motor-1': { readonly load: number };
  brake: object;
  impedance: object;
  'terminal-strip': object;
  busbar: object;
}

export type DeviceType = keyof OptionsByType;

export interface DeviceOf<T extends DeviceType> {
  readonly tag: string;
  readonly type: T;
  readonly options: OptionsByType[T];
  readonly settings: SettingsByType[T];
  readonly duty?: Duty | undefined;
  /** Board millimetres; layout only. */
  readonly at?: readonly [number, number] | undefined;
}

export type Device = { [T in DeviceType]: DeviceOf<T> }[DeviceType];
