import type { Bench, TerminalRef } from '../bench/index.js';
import { REST } from '../catalogue/index.js';
import type { Program, Scan } from '../program/index.js';
import type { ContactSpec, Device, MechanismSpec, MotorPlate, ProtectionSpec } from '../catalogue/index.js';

/** Index of a terminal in `Circuit.terminals`. */
export type TerminalIndex = number & { readonly __index: 'terminal' };
/** Index of a mechanism in `Circuit.mechanisms` and in a mechanical state. */
export type MechanismIndex = number & { readonly __index: 'mechanism' };

/** What every mechanism is doing: one state number each, in the order of `Circuit.mechanisms`. */
export type MechanicalState = Uint8Array;

export type Mechanism = MechanismSpec & {
  readonly index: MechanismIndex;
  readonly device: Device;
  /** Indices of the coils that it looks at, in the order in which its kind names them. */
  readonly coils: readonly number[];
  /** State number to electrical class: states of one class conduct alike. */
  readonly classOf: readonly number[];
  readonly classes: number;
};

/** A conductor that is always there: a wire, a device's inner link. */
export interface Conductor {
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  /** Index into `bench.wires`, or −1 for an inner link. */
  readonly wire: number;
  readonly tag: string;
  /** Relative resistance, used only to share current between parallel paths, ohms. */
  readonly ohms: number;
}

/** A contact, conducting by the state of its mechanism. */
export interface Switch {
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  readonly mechanism: MechanismIndex;
  readonly closedIn: readonly boolean[];
  readonly spec: ContactSpec;
  readonly tag: string;
}

/** True of a contact that is closed in a state of its board. */
export const isClosed = (
  { mechanism, closedIn: closed }: Pick<Switch, 'mechanism' | 'closedIn'>,
  state: MechanicalState,
): boolean => closed[state[mechanism]!] ?? false;

/** The contacts that are closed in a state, as a condition. */
export const closedIn =
  (state: MechanicalState) =>
  (contact: Pick<Switch, 'mechanism' | 'closedIn'>): boolean =>
    isClosed(contact, state);

/** An EMF behind its source impedance, between two terminals. */
export interface Source {
  readonly terminal: TerminalIndex;
  readonly reference: TerminalIndex;
  readonly re: number;
  readonly im: number;
  readonly frequency: number;
  readonly ohms: number;
  readonly henries: number;
  readonly currentLimit: number;
  readonly conductor: string;
  readonly mechanism: MechanismIndex;
  readonly liveIn: readonly boolean[];
  readonly tag: string;
}

/** Volts at which a coil moves its armature, and below which it lets it go once it is in. */
export interface Thresholds {
  readonly pickUp: number;
  readonly dropOut: number;
}

/** A coil, or an input that is measured: its voltage decides for a mechanism. */
export interface Coil {
  readonly tag: string;
  /** What it is in its device: `"coil"`, `"set"`. */
  readonly name: string;
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  /** What it moves, and which of the coils that move this it is. */
  readonly mechanism: MechanismIndex;
  readonly asks: number;
  /** Index of its winding in `Circuit.elements`. */
  readonly element: number;
  /** On its own kind of current, and on the other: null where that does nothing. */
  readonly own: Thresholds;
  readonly other: Thresholds | null;
  /** The winding's own mechanism: intact or burnt. */
  readonly winding: MechanismIndex;
  readonly voltage: number;
  readonly kind: 'ac' | 'dc';
  /** Only too many volts are wrong with it. */
  readonly takesFewVolts: boolean;
}

export interface Lamp {
  readonly tag: string;
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  /** Index in `Circuit.elements`. */
  readonly element: number;
  readonly mechanism: MechanismIndex;
  readonly voltage: number;
}

export interface Impedance {
  readonly ohms: number;
  readonly henries: number;
}

export interface Motor {
  readonly tag: string;
  /** Ends of windings U, V, W; −1 stands for the inner star point. */
  readonly windings: readonly (readonly [number, number])[];
  readonly plate: MotorPlate;
  readonly connection: 'open' | 'star' | 'delta' | 'single';
  /** Torque of its load, per unit of the rated. */
  readonly load: number;
  /** Mechanism of the brake on its shaft, or −1. */
  readonly brake: number;
  /** Terminals that a line can reach. */
  readonly terminals: readonly TerminalIndex[];
  readonly earth: TerminalIndex;
}

/** Ideal ratio with all its impedance on the secondary side. */
export interface Transformer {
  readonly tag: string;
  readonly primary: readonly [TerminalIndex, TerminalIndex];
  readonly secondary: readonly [TerminalIndex, TerminalIndex];
  readonly primaryVoltage: number;
  readonly secondaryVoltage: number;
  /** Primary volts per secondary volt. */
  readonly ratio: number;
  /** Series impedance seen from the secondary. */
  readonly series: Impedance;
  /** Across the primary. */
  readonly magnetising: Impedance;
  /** Winding resistances at DC, ohms. */
  readonly primaryOhms: number;
  readonly secondaryOhms: number;
}

/** Something that a mechanism cannot do any more: trip, be reset, run out. */
export interface Blocked {
  readonly mechanism: MechanismIndex;
  readonly what: 'trip' | 'reset' | 'run-out';
}

/** What opens by the heat of the current in a device's poles. */
export interface Protection {
  readonly tag: string;
  readonly spec: ProtectionSpec;
  readonly mechanism: MechanismIndex;
  /** Line and load terminal of each pole. */
  readonly poles: readonly (readonly [TerminalIndex, TerminalIndex])[];
}

/** A switch that the load of a motor works at one end of its travel. */
export interface Travelled {
  /** Index of the motor. */
  readonly motor: number;
  readonly mechanism: MechanismIndex;
  readonly end: 'forward' | 'reverse';
}

/** A programmable controller at work: how its parts change together, with no time in it. */
export interface Controller {
  readonly tag: string;
  readonly program: Program | null;
  readonly processor: MechanismIndex;
  readonly inputs: readonly MechanismIndex[];
  readonly outputs: readonly MechanismIndex[];
  readonly timers: readonly MechanismIndex[];
  /** All its parts, what its program remembers among them. */
  readonly members: readonly MechanismIndex[];
  /** Seconds. */
  readonly scan: number;
  readonly filter: number;
  readonly isRunning: (state: MechanicalState) => boolean;
  /** Everything as it stands without the supply, or in stop. */
  readonly stop: (state: MechanicalState) => void;
  /** Works every rung once with what the inputs show. */
  readonly work: Scan;
  /** The same with counters that count no further than to their presets. */
  readonly workInProof: Scan;
}

/** A bench as a circuit: terminals joined by conductors and switches, loads and sources between them. */
export interface Circuit {
  readonly bench: Bench;
  readonly terminals: readonly TerminalRef[];
  readonly indexOf: ReadonlyMap<string, TerminalIndex>;
  readonly conductors: readonly Conductor[];
  readonly switches: readonly Switch[];
  readonly mechanisms: readonly Mechanism[];
  /** By designation: the first actuator of a device, which a person works and reads. */
  readonly mechanismOf: ReadonlyMap<string, MechanismIndex>;
  readonly sources: readonly Source[];
  /**
   * Everything that takes current; coils, lamps, motors and transformers are known by what they are as
   * well.
   */
  readonly elements: readonly Element[];
  readonly coils: readonly Coil[];
  readonly lamps: readonly Lamp[];
  readonly motors: readonly Motor[];
  readonly transformers: readonly Transformer[];
  /** Armatures of which one in, or moving in, keeps the others out. */
  readonly interlocks: readonly (readonly MechanismIndex[])[];
  /** Armatures that cannot leave rest, whatever their coils ask. */
  readonly jammed: readonly MechanismIndex[];
  /** Armatures that cannot leave their operated place. */
  readonly jammedIn: readonly MechanismIndex[];
  /** What mechanisms cannot do any more. */
  readonly blocked: readonly Blocked[];
  readonly protections: readonly Protection[];
  /** Switches that loads of motors work. */
  readonly travels: readonly Travelled[];
  /** Programmable controllers. */
  readonly controllers: readonly Controller[];
  readonly frequencies: readonly number[];
  /** N and PE of every AC supply: one node, earthed at the source. */
  readonly earthed: readonly TerminalIndex[];
  /** The mechanical state of a fresh bench: supply on, nothing operated. */
  readonly initial: MechanicalState;
}

/** True of the coil that stands for an input of a controller. */
export const isInputCoil = (
  { mechanisms }: Pick<Circuit, 'mechanisms'>,
  { mechanism }: Pick<Coil, 'mechanism'>,
): boolean => mechanisms[mechanism]!.kind === 'input';

/** True of what a current blows: a link that shows nothing of it and is replaced. */
export const isFuse = (mechanism: Mechanism): boolean =>
  mechanism.kind === 'switchgear' && mechanism.tripped === 'blown';

/** True of what a mechanism cannot do. */
export const isBlocked = ({ blocked }: Circuit, mechanism: number, what: Blocked['what']): boolean =>
  blocked.some((one) => one.mechanism === mechanism && one.what === what);

/** True where a mechanical interlock, or a jam, keeps this armature from leaving rest. */
export function isHeldOut(circuit: Circuit, state: MechanicalState, armature: MechanismIndex): boolean {
  return (
    circuit.jammed.includes(armature) ||
    circuit.interlocks.some(
      (group) =>
        group.includes(armature) && group.some((other) => other !== armature && state[other] !== REST),
    )
  );
}

/**
 * What takes current between terminals: one or more windings. A coil, a lamp or an impedance is one
 * winding; the windings of a motor or a transformer are coupled through their core. All of them are solved,
 * measured and exported alike.
 */
export interface Element {
  readonly tag: string;
  /** Index into `bench.wires` of the wire that it is the resistance of. */
  readonly wire?: number;
  /** Ends of each winding; −1 is a star point inside the device, lower numbers are other places inside it. */
  readonly windings: readonly (readonly [number, number])[];
  readonly law: ImpedanceLaw | MotorLaw | TransformerLaw;
}

/** One winding of one impedance, or of another while a mechanism closes its magnetic circuit. */
export interface ImpedanceLaw {
  readonly kind: 'impedance';
  readonly open: Impedance;
  readonly sealed?: {
    readonly impedance: Impedance;
    readonly by: MechanismIndex;
    /** Which of the coils of that mechanism it is. */
    readonly asks: number;
  };
  /** Mechanism that says whether it has burnt through. */
  readonly burns?: MechanismIndex;
}

/** Windings of the motor with this index in `Circuit.motors`. */
export interface MotorLaw {
  readonly kind: 'motor';
  readonly motor: number;
}

/** Primary and secondary of the transformer with this index in `Circuit.transformers`. */
export interface TransformerLaw {
  readonly kind: 'transformer';
  readonly transformer: number;
}
