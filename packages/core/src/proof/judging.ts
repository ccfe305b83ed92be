import type { Circuit, MechanicalState, Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import type { Directed, Segment, Shows } from './directed.js';
import type { Decisions } from './decisions.js';
import type { Exploration } from './exploration.js';
import type { Property, ProofOptions } from './proof.js';
import type { PropertyId } from './properties/ids.js';

/** What was found against a property. */
export type Violation = Pick<Property, 'trace' | 'found' | 'otherwise' | 'unshown'>;

/** A step that a violation shows after; without a stimulus it shows as the supply comes on. */
export type LastSegment = Omit<Segment, 'stimulus'> & { readonly stimulus: Stimulus | null };

/** A settled situation, and how it was reached. */
export interface Settled {
  readonly state: MechanicalState;
  readonly from: number;
  readonly choice: number;
}

/** What a search has met. */
export interface Met {
  readonly circuit: Circuit;
  /** Something ran in some situation; a three-phase motor was driven; some coil was energised. */
  readonly hasRun: boolean;
  readonly hasDriven: boolean;
  readonly hasEnergised: boolean;
}

/** What a safety property asks of the search that goes on, and tells it. */
export interface Judging extends Met {
  readonly solver: Solver;
  readonly exploration: Exploration;
  /** Answers about this board; the exploration's may be those of a board that shares its situations. */
  readonly decisions: Decisions;
  /** Places in `Circuit.motors` of those that are judged. */
  readonly motors: readonly number[];
  readonly isCleared: ProofOptions['isCleared'];
  hasDriven: boolean;
  /** True while a property is judged and nothing was found against it whose steps show it. */
  isOpen(id: PropertyId): boolean;
  /** Start controls that are held. */
  startsHeld(state: MechanicalState): number;
  /** True while a button is held whose duty nobody has said. */
  unnamedHeld(state: MechanicalState): boolean;
  /** What runs in a state, in words. */
  drivenIn(state: MechanicalState): string;
  /** Keeps what was found; where its steps do not show it in time, only as long as no others do. */
  note(id: PropertyId, violation: Violation, shown: Pick<Directed, 'shown' | 'burns'>): void;
  /** A violation in a settled situation: something runs, or what `shows` tells. */
  violateSettled(
    id: PropertyId,
    settled: Settled,
    found: string,
    shows?: Shows,
    then?: readonly Stimulus[],
  ): void;
  /** Notes what was found, with the script that shows it. */
  violate(
    id: PropertyId,
    from: number,
    last: LastSegment,
    found: string,
    shows: Shows,
    then?: readonly Stimulus[],
  ): void;
  /** The situation in which the bench came on, and the steps by which a later one was reached from it. */
  segments(place: number): { readonly root: MechanicalState; readonly segments: Segment[] };
}
