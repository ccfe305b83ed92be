import { perObject } from '../../per-object.js';
import type { Circuit, MechanicalState, MechanismIndex, Stimulus } from '../../circuit/index.js';
import type { Outcome } from '../exploration.js';
import type { Judging, Met, Settled } from '../judging.js';

/** Where one stimulus led, when more happens on the way than that it comes to rest in one situation. */
export interface Lead {
  readonly outcome: Outcome;
  /** The state in which the stimulus has begun. */
  readonly started: MechanicalState;
  /** Place of the situation before it, and the stimulus; none as the supply comes on. */
  readonly from: number;
  /** Place of the stimulus among what can be done; negative as the supply comes on. */
  readonly choice: number;
  readonly by: Stimulus | null;
}

/** What is wrong with a wiring itself, and the steps that show it; none where it shows without any. */
export interface WiringFault {
  readonly found: string;
  readonly trace?: readonly Stimulus[];
}

/** What is known of a safety property, once. */
export interface PropertyRule {
  readonly title: string;
  /** What it is worth beside the others where a board is marked. */
  readonly weight: number;
  /** It has something to judge on this bench. */
  readonly applies: (circuit: Circuit) => boolean;
  /** What was met gave it something to judge on this wiring. */
  readonly tested: (met: Met) => boolean;
  /** True where the outcome of a stimulus may break it: then `lead` judges where it led. */
  readonly suspects?: (search: Judging, lead: Lead) => boolean;
  readonly lead?: (search: Judging, lead: Lead) => void;
  /** Judges a settled situation in which something runs. */
  readonly running?: (search: Judging, settled: Settled) => void;
  /** Judges every settled situation. */
  readonly settled?: (search: Judging, settled: Settled) => void;
  /** Judging it needs the whole board, whatever parts this has. */
  readonly needsWhole?: (circuit: Circuit) => boolean;
  /** Nothing may run while one of these mechanisms is operated. */
  readonly operated?: (circuit: Circuit) => readonly MechanismIndex[];
  /** Judges the wiring itself: what is wrong with it, or null. */
  readonly wiring?: (circuit: Circuit) => WiringFault | null;
}

/**
 * Weights of safety properties (common practice, no source): what may hurt somebody who works the board or
 * opens it, what destroys it or lets it run on when it should not, and what is a nuisance.
 */
export const DANGER = 4;
export const DAMAGE = 3;
export const NUISANCE = 2;

/** Motors, or where there are none coils: what may run. */
export const hasSubjects = ({ motors, coils }: Circuit): boolean => motors.length + coils.length > 0;

/** What a property keeps for the search that is going on. */
export const perSearch = <T>(make: (search: Judging) => T): ((search: Judging) => T) => perObject(make);

/** What it keeps for all searches of one circuit. */
export const perCircuit = <T>(make: (circuit: Circuit) => T): ((circuit: Circuit) => T) => perObject(make);
