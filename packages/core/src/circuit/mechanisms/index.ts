/**
 * How mechanisms move, one kind a file. An armature starts to move the moment its coil's decision changes;
 * moves already begun finish in the times that the simulation gives them, or in any order that the proof
 * tries.
 */
import type { MechanismKind, MechanismSpec, Verb } from '../../catalogue/index.js';
import { armature } from './armature.js';
import type { CoilMechanics, Mechanics, MechanismChoice, Move } from './mechanics.js';
import { plunger } from './plunger.js';
import { selector } from './selector.js';
import { supply } from './supply.js';
import { switchgear } from './switchgear.js';
import { timer } from './timer.js';
import { trip } from './trip.js';
import { winding } from './winding.js';

export { isIn } from './armature.js';
export type { MechanismChoice, Move } from './mechanics.js';

const MECHANICS: { readonly [K in MechanismKind]: Mechanics<K> } = {
  armature,
  plunger,
  selector,
  trip,
  switchgear,
  supply,
  timer,
  winding,
};

/** The table's entry for a mechanism; the kind of the one is the kind of the other. */
const mechanicsOf = ({ kind }: Pick<MechanismSpec, 'kind'>): Mechanics =>
  MECHANICS[kind] as unknown as Mechanics;

/** Only an electronic relay's trip bar is held by a coil: its supply. */
const coilOf = (spec: MechanismSpec): CoilMechanics<MechanismKind> | undefined =>
  spec.kind === 'trip' && !spec.electronic ? undefined : mechanicsOf(spec).coil;

/** The state to which a coil's decision moves its mechanism at once; the same state where nothing changes. */
export const react = (spec: MechanismSpec, state: number, wants: boolean): number =>
  coilOf(spec)?.react(spec, state, wants) ?? state;

/** True in the states in which a coil's magnetic circuit is closed. */
export const seals = (spec: MechanismSpec, state: number): boolean => coilOf(spec)?.seals(state) ?? false;

/** True where a coil must be energised for its mechanism to stay as it is. */
export const isHeldByCoil = (spec: MechanismSpec, state: number): boolean =>
  coilOf(spec)?.holds(spec, state) ?? false;

/** Where a mechanism stands as soon as its coil has moved it. */
export const movedByCoil = (spec: MechanismSpec, energised: boolean): number =>
  coilOf(spec)?.moves(spec, energised) ?? spec.initial;

/** The states in which a mechanism that a coil moves may stand; none where no coil does. */
export const standsIn = (spec: MechanismSpec): readonly number[] => coilOf(spec)?.rests ?? [];

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

/**
 * The state to which a verb sends a mechanism; the detail is the position or phase that the stimulus names.
 */
export const actedOn = (spec: MechanismSpec, verb: Verb, now: number, detail: string): number =>
  mechanicsOf(spec).acts[verb]?.(spec, now, detail) ?? now;

/** What a search works: the controls alone, or breakers and disconnectors as well. */
export type Hands = 'controls' | 'switchgear too';

/** What a search tries of a mechanism in a settled state. */
export const choicesOf = (
  spec: MechanismSpec,
  tag: string,
  hands: Hands = 'controls',
): readonly MechanismChoice[] => {
  const { choices, isSwitchgear } = mechanicsOf(spec);
  return isSwitchgear && hands === 'controls' ? [] : (choices?.(spec, tag) ?? []);
};

/** True of a mechanism that nothing a search does moves: it stays as the bench has it. */
export const isFixed = (spec: MechanismSpec, hands: Hands = 'controls'): boolean => {
  const { choices, isSwitchgear } = mechanicsOf(spec);
  return choices === undefined || (isSwitchgear === true && choicesOf(spec, '', hands).length === 0);
};

/** The state in which a mechanism stays when its board is wired again; null where it starts anew. */
export const keptState = (spec: MechanismSpec, state: number): number | null =>
  mechanicsOf(spec).kept(spec, state);
