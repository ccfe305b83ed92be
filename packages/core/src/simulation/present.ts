import type { MechanicalState } from '../circuit/index.js';
import type { Electrical, Solver } from '../electrics/index.js';

/** Where a run has come to; what its parts share. */
export interface Present {
  /** Of the circuit as it is now, with the faults that are there. */
  solver: Solver;
  /** Seconds. */
  t: number;
  readonly state: MechanicalState;
  /** The solution of the contact state, rotors at rest: what coils decide by. */
  electrical: Electrical;
  /** A short circuit has happened since the last stimulus began. */
  shorted: boolean;
  /** What is still to arrive in the order that the present stimulus names: mechanisms. */
  order: number[];
}

export const NEVER = Number.POSITIVE_INFINITY;
