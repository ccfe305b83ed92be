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

/** Which of a mechanism's coils want it moved, in the order of the record. */
export type Wants = readonly boolean[];

/** What coils do with their mechanism. */
export interface CoilMechanics<K extends MechanismKind> {
  /** The state to which its decision moves the mechanism at once; the same one where nothing changes. */
  readonly react: (spec: SpecOf<K>, state: number, wants: Wants) => number;
  /** The states in which a coil's magnetic circuit is closed, so that it draws its sealed current. */
  readonly seals: (state: number, asks: number) => boolean;
  /** True where a coil must be energised for the mechanism to stay in a state. */
  readonly holds: (spec: SpecOf<K>, state: number, asks: number) => boolean;
  /** Where the mechanism stands as soon as its coils, energised or not, have moved it from rest. */
  readonly moves: (spec: SpecOf<K>, wants: Wants) => number;
  /** The states in which it may stand. */
  readonly rests: readonly number[];
}

/**
 * Parts of a board that mechanisms are: an armature that a magnet moves and a hand may hold, a control, the
 * trip bar of an overload relay, breakers and what else isolates, a supply's switch, the clockwork of a
 * timer, or a winding, which only burns.
 */
export type MechanismPart =
  'armature' | 'control' | 'trip bar' | 'switchgear' | 'supply' | 'clockwork' | 'controller' | 'winding';

/**
 * How one kind of mechanism moves, one step at a time, with no electricity in it: the simulation gives the
 * steps their times, the proof tries their orders.
 */
export interface Mechanics<K extends MechanismKind = MechanismKind> {
  /** What it is on a board, whatever its kind. */
  readonly part: MechanismPart;
  /** What a coil does with it; nothing where it has none. */
  readonly coil?: CoilMechanics<K>;
  /** It runs by itself for a set time. */
  readonly runs?: {
    /** Seconds for which it is set. */
    readonly seconds: (spec: SpecOf<K>) => number;
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
  /** Every such word. */
  readonly words: (spec: SpecOf<K>) => readonly string[];
  readonly acts: { readonly [V in Verb]?: ActOn<K> };
  /** A control that a person works: it comes back when the hand leaves it, or stays where it was put. */
  readonly control?: (spec: SpecOf<K>) => 'momentary' | 'maintained';
  /** Its state is a set of bits, each of which comes and goes by itself. */
  readonly isBitSet?: true;
  /** A new one is put where the old one stood; all others are new from the box. */
  readonly staysWhenRenewed?: true;
  /** What a search tries of it; a kind without choices stays as the bench has it. */
  readonly choices?: (spec: SpecOf<K>, tag: string) => readonly MechanismChoice[];
  /** It stays where it stood when the board is wired again: the state to keep, or null. */
  readonly kept: (spec: SpecOf<K>, state: number) => number | null;
}
