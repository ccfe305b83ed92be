import type { Hands, MechanicalState, Stimulus } from '../circuit/index.js';
import type { PropertyId } from './properties/ids.js';

export interface Property {
  readonly id: PropertyId;
  readonly holds: boolean;
  /** Something on this wiring put it to the test: nothing stops that never ran. */
  readonly tested: boolean;
  /** The shortest sequence that shows the violation, as a script; empty where it holds or shows at once. */
  readonly trace: readonly Stimulus[];
  /**
   * The same sequence with the other order of arrival, where the violation is that the two end differently.
   */
  readonly otherwise?: readonly Stimulus[];
  /**
   * No steps show it: it takes an order of arrival that these devices do not take at the speeds of the format.
   * The trace leads to where it may happen.
   */
  readonly unshown?: true;
  /** What was found, in words. */
  readonly found: string;
}

/** The property that is told as the first that does not hold: of those that steps show, before any other. */
export const firstLostOf = (properties: readonly Property[]): Property | undefined =>
  properties.find(({ holds, unshown }) => !holds && !unshown) ?? properties.find(({ holds }) => !holds);

export interface Proof {
  readonly complete: boolean;
  /** Settled situations that were reached. */
  readonly states: number;
  /** All situations that were tried, those on the way between two settled ones included. */
  readonly situations: number;
  readonly properties: readonly Property[];
  /**
   * Settled states in which a motor is driven, one for each way in which contacts feed the motors; of a
   * board without motors none.
   */
  readonly running: readonly MechanicalState[];
  /**
   * The parts that were worked one by one, where the board has several; states and situations are their
   * sums.
   */
  readonly parts?: readonly ProvedPart[];
  /**
   * Coils, motors and lamps whose voltage rests on all that is on, so that what would be parts were worked
   * together.
   */
  readonly meet?: readonly string[];
}

/** A part of a board that was worked by itself, because nothing in it depends on the rest. */
export interface ProvedPart {
  /** Designations of the devices that it depends on. */
  readonly devices: readonly string[];
  readonly states: number;
  readonly situations: number;
  /** Another part is the same but for which devices it consists of: its search stood for this one. */
  readonly isLikeAnother?: true;
}

export interface ProofOptions {
  /** Most situations to try before the search stops and says so. */
  readonly maxSituations?: number;
  /** Properties to decide; all that have something to judge by default. */
  readonly properties?: readonly PropertyId[];
  /** Whether breakers and disconnectors are worked as well; they are by default. */
  readonly hands?: Hands;
  /**
   * Only the first property, in their order, is asked for that does not hold as steps show: what comes behind
   * it is not judged, and not told.
   */
  readonly untilLost?: boolean;
  /** A violation counts although heat comes before it, whichever steps are tried. */
  readonly heatless?: boolean;
  /** Works the whole board at once, although parts of it do not depend on each other. */
  readonly asOne?: boolean;
  /** A short circuit that protection clears (an earth fault's) ends a way without being a violation. */
  readonly isCleared?: ((state: MechanicalState) => boolean) | undefined;
}
