import type { MechanismKind, MechanismSpec, Verb } from '../../catalogue/index.js';
import type { Stimulus } from '../stimuli.js';

export type SpecOf<K extends MechanismKind> = Extract<MechanismSpec, { readonly kind: K }>;

/**
 * One thing that the proof does to a settled mechanism: from the state `when` it is sent to the state `to`.
 */
export interface MechanismChoice {
  readonly stimulus: Stimulus;
  readonly when: number;
  readonly to: number;
  /** A momentary button pressed: one more is held. */
  readonly holds?: boolean;
}

/**
 * A move that has just begun: the state now, the one before it, and the seconds that were left of the one
 * before.
 */
export interface Move {
  readonly now: number;
  readonly before: number;
  readonly left: number;
}

/** Where a verb sends a mechanism; the detail is the position or phase that the stimulus names. */
type ActOn<K extends MechanismKind> = (spec: SpecOf<K>, now: number, detail: string) => number;

/** What a coil does with its mechanism. */
export interface CoilMechanics<K extends MechanismKind> {
  /** The state to which its decision moves the mechanism at once; the same one where nothing changes. */
  readonly react: (spec: SpecOf<K>, state: number, wants: boolean) => number;
  /** The states in which the coil's magnetic circuit is closed, so that it draws its sealed current. */
  readonly seals: (state: number) => boolean;
  /** True where the coil must be energised for the mechanism to stay in a state. */
  readonly holds: (spec: SpecOf<K>, state: number) => boolean;
  /** Where the mechanism stands as soon as the coil, energised or not, has moved it. */
  readonly moves: (spec: SpecOf<K>, energised: boolean) => number;
  /** The states in which it may stand. */
  readonly rests: readonly number[];
}

/**
 * How one kind of mechanism moves, one step at a time, with no electricity in it: the simulation gives the
 * steps their times, the proof tries their orders.
 */
export interface Mechanics<K extends MechanismKind = MechanismKind> {
  /** What a coil does with it; nothing where it has none. */
  readonly coil?: CoilMechanics<K>;
  /** It runs by itself for a set time. */
  readonly runs?: {
    readonly isRunning: (state: number) => boolean;
    /** The state that it goes to when its time has run out. */
    readonly out: (spec: SpecOf<K>) => number;
  };
  /** True while it is on its way and will arrive by itself. */
  readonly isMoving: (spec: SpecOf<K>, state: number) => boolean;
  /** Where it is when its present move has ended. */
  readonly arrive: (spec: SpecOf<K>, state: number) => number;
  /** Seconds of a move that begins, for a device whose own travel is `own` times its kind's. */
  readonly travel: (spec: SpecOf<K>, own: number, move: Move) => number;
  /** What it is doing, in the words of scripts; null while it is between two states. */
  readonly word: (spec: SpecOf<K>, state: number) => string | null;
  readonly acts: { readonly [V in Verb]?: ActOn<K> };
  /** What a search tries of it; a kind without choices stays as the bench has it. */
  readonly choices?: (spec: SpecOf<K>, tag: string) => readonly MechanismChoice[];
  /** Opened and closed by hand, but only where a search works switchgear too. */
  readonly isSwitchgear?: true;
  /** It stays where it stood when the board is wired again: the state to keep, or null. */
  readonly kept: (spec: SpecOf<K>, state: number) => number | null;
}
