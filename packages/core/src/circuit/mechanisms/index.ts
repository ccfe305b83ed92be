/**
 * How mechanisms move, one kind a file. An armature starts to move the moment its coil's decision changes;
 * moves already begun finish in the times that the simulation gives them, or in any order that the proof
 * tries.
 */
import type { MechanismKind, MechanismSpec, Verb } from '../../catalogue/index.js';
import type { Mechanism } from '../circuit.js';
import { armature } from './armature.js';
import type { CoilMechanics, Mechanics, MechanismChoice, MechanismPart, Move, Wants } from './mechanics.js';
import { input, memory, output, processor, programTimer } from './controller.js';
import { plunger } from './plunger.js';
import { selector } from './selector.js';
import { supply } from './supply.js';
import { switchgear } from './switchgear.js';
import { timer } from './timer.js';
import { trip } from './trip.js';
import { winding } from './winding.js';

export { isIn } from './armature.js';
export { IN_STOP, POWERED } from './controller.js';
export type { MechanismChoice, Move } from './mechanics.js';

const MECHANICS: { readonly [K in MechanismKind]: Mechanics<K> } = {
  armature,
  plunger,
  selector,
  trip,
  switchgear,
  supply,
  timer,
  processor,
  input,
  output,
  memory,
  'program-timer': programTimer,
  winding,
};

/** The table's entry for a mechanism; the kind of the one is the kind of the other. */
const mechanicsOf = ({ kind }: Pick<MechanismSpec, 'kind'>): Mechanics =>
  MECHANICS[kind] as unknown as Mechanics;

/** What coils do with a mechanism: nothing where this device has none for it. */
const coilOf = (mechanism: Mechanism): CoilMechanics<MechanismKind> | undefined =>
  mechanism.coils.length === 0 ? undefined : mechanicsOf(mechanism).coil;

/**
 * The state to which the decisions of its coils move a mechanism at once; the same state where nothing
 * changes.
 */
export const react = (mechanism: Mechanism, state: number, wants: Wants): number =>
  coilOf(mechanism)?.react(mechanism, state, wants) ?? state;

/** True in the states in which the magnetic circuit of one of its coils is closed. */
export const seals = (spec: MechanismSpec, state: number, asks: number): boolean =>
  mechanicsOf(spec).coil?.seals(state, asks) ?? false;

/** True where one of its coils must be energised for a mechanism to stay as it is. */
export const isHeldByCoil = (mechanism: Mechanism, state: number, asks: number): boolean =>
  coilOf(mechanism)?.holds(mechanism, state, asks) ?? false;

/** Where a mechanism stands as soon as one of its coils, the others dead, has moved it. */
export const movedByCoil = (mechanism: Mechanism, asks: number, energised: boolean): number =>
  coilOf(mechanism)?.moves(
    mechanism,
    mechanism.coils.map((_, k) => energised && k === asks),
  ) ?? mechanism.initial;

/** The states in which a mechanism that coils move may stand; none where no coil does. */
export const standsIn = (mechanism: Mechanism): readonly number[] => coilOf(mechanism)?.rests ?? [];

/** True while the mechanism is on its way and will arrive by itself. */
export const isMoving = (spec: MechanismSpec, state: number): boolean =>
  mechanicsOf(spec).isMoving(spec, state);

/** Where a moving mechanism is when its present move has ended. */
export const arrive = (spec: MechanismSpec, state: number): number => mechanicsOf(spec).arrive(spec, state);

/** Seconds of a move that has just begun, for a device whose own travel is `own` times its kind's. */
export const travelOf = (spec: MechanismSpec, own: number, move: Move): number =>
  mechanicsOf(spec).travel(spec, own, move);

/** True while a mechanism runs for a set time. */
export const isTiming = (spec: MechanismSpec, state: number): boolean =>
  mechanicsOf(spec).runs?.isRunning(state) ?? false;

/** The state that a mechanism goes to when its set time has run out. */
export const runOut = (spec: MechanismSpec): number => mechanicsOf(spec).runs?.out(spec) ?? spec.initial;

/** What a mechanism is doing, in the words of scripts; null while it is between two states. */
export const stateName = (spec: MechanismSpec, state: number): string | null =>
  mechanicsOf(spec).word(spec, state);

/** What a mechanism is called in traces: its device, or `A1.I0.0` of a part of a controller. */
export const toldAs = ({ device, name, kind }: Mechanism): string =>
  isOfController({ kind }) && kind !== 'processor' ? `${device.tag}.${name}` : device.tag;

/** Every word of scripts for what a mechanism can be doing. */
export const stateNames = (spec: MechanismSpec): readonly string[] => mechanicsOf(spec).words(spec);

/**
 * The state to which a verb sends a mechanism; the detail is the position or phase that the stimulus names.
 */
export const actedOn = (spec: MechanismSpec, verb: Verb, now: number, detail: string): number =>
  mechanicsOf(spec).acts[verb]?.(spec, now, detail) ?? now;

type Kind = Pick<MechanismSpec, 'kind'>;

const isPart =
  (part: MechanismPart) =>
  (mechanism: Kind): boolean =>
    mechanicsOf(mechanism).part === part;

/** True of what a magnet moves and a hand, a jam or a mechanical interlock may hold. */
export const isArmature = isPart('armature');
/** True of the trip bar of an overload relay. */
export const isTripBar = isPart('trip bar');
/** True of the poles of breakers, fuses and isolators. */
export const isSwitchgear = isPart('switchgear');
/** True of the switch of a supply. */
export const isSupplySwitch = isPart('supply');
/** True of what runs in a timer. */
export const isClockwork = isPart('clockwork');
/** True of a part of a programmable controller, which its program moves. */
export const isOfController = isPart('controller');
/** True of a coil's winding or a lamp's filament. */
export const isWinding = isPart('winding');

/** How a control behaves in a hand; null of anything else. */
export const controlOf = (spec: MechanismSpec): 'momentary' | 'maintained' | null =>
  mechanicsOf(spec).control?.(spec) ?? null;

/** Seconds for which a timer is set; null of anything else. */
export const secondsSet = (spec: MechanismSpec): number | null =>
  mechanicsOf(spec).runs?.seconds(spec) ?? null;

/** How a trip bar comes back; null of anything else. */
export const resetOf = (spec: MechanismSpec): 'manual' | 'auto' | null =>
  spec.kind === 'trip' ? spec.reset : null;

/** True where a state is a set of bits. */
export const isBitSet = (mechanism: Kind): boolean => mechanicsOf(mechanism).isBitSet === true;

/** True of what is put where the old one stood when its device is exchanged. */
export const staysWhenRenewed = (mechanism: Kind): boolean =>
  mechanicsOf(mechanism).staysWhenRenewed === true;

/** What a search works: the controls alone, or breakers and disconnectors as well. */
export type Hands = 'controls' | 'switchgear too';

/** What a search tries of a mechanism in a settled state. */
export const choicesOf = (
  spec: MechanismSpec,
  tag: string,
  hands: Hands = 'controls',
): readonly MechanismChoice[] => {
  const left = hands === 'controls' && isSwitchgear(spec);
  return left ? [] : (mechanicsOf(spec).choices?.(spec, tag) ?? []);
};

/** True of a mechanism that nothing a search does moves: it stays as the bench has it. */
export const isFixed = (spec: MechanismSpec, hands: Hands = 'controls'): boolean => {
  const isWorked = mechanicsOf(spec).choices !== undefined;
  return !isWorked || (isSwitchgear(spec) && choicesOf(spec, '', hands).length === 0);
};

/** The state in which a mechanism stays when its board is wired again; null where it starts anew. */
export const keptState = (spec: MechanismSpec, state: number): number | null =>
  mechanicsOf(spec).kept(spec, state);
