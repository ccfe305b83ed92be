import type { Circuit, MechanicalState, Stimulus } from '../../circuit/index.js';
import type { Outcome } from '../exploration.js';
import type { Search } from '../search.js';

/** Where one stimulus led, when more happens on the way than that it comes to rest in one situation. */
export interface Lead {
  readonly outcome: Outcome;
  /** The state in which the stimulus has begun. */
  readonly started: MechanicalState;
  /** Place of the situation before it, and the stimulus; none as the supply comes on. */
  readonly from: number;
  readonly by: Stimulus | null;
}

/** A settled situation in which something runs, and how it was reached. */
export interface Running {
  readonly state: MechanicalState;
  readonly from: number;
  readonly choice: number;
}

/** What is known of a safety property, once. */
export interface PropertyRule {
  readonly title: string;
  /** It has something to judge on this bench. */
  readonly applies: (circuit: Circuit) => boolean;
  /** What the search has met gave it something to judge on this wiring. */
  readonly tested: (search: Search) => boolean;
  /** Judges where a stimulus led. */
  readonly lead?: (search: Search, lead: Lead) => void;
  /** Judges a settled situation in which something runs. */
  readonly running?: (search: Search, running: Running) => void;
  /** Judges the wiring itself: what is wrong with it, or null. */
  readonly wiring?: (circuit: Circuit) => string | null;
}

/** Motors, or where there are none coils: what may run. */
export const hasSubjects = ({ motors, coils }: Circuit): boolean => motors.length + coils.length > 0;
