import type { Complex } from '../machines/index.js';

/** The field that a motor's winding voltages make, rotor at rest. */
export type Driven = 'none' | 'forward' | 'reverse' | 'single-phase';
export type MotorConnection = 'open' | 'star' | 'delta' | 'single' | 'other';

export type ShortKind = 'phase-to-phase' | 'phase-to-neutral' | 'phase-to-earth' | 'dc-short';

/** Two conductors of different potential in one node; indices into the solver's conductors. */
export interface Short {
  readonly a: number;
  readonly b: number;
}

/** Node potentials at one frequency, RMS volts to the reference of their island. */
export interface Potentials {
  readonly frequency: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** The electrical solution of one contact state. */
export interface Electrical {
  /** Node of each base node of the solver. */
  readonly node: Int32Array;
  readonly nodes: number;
  readonly shorts: readonly Short[];
  /** Transformers whose secondary terminals are joined while the primary has voltage. */
  readonly shortedTransformers: readonly number[];
  readonly potentials: readonly Potentials[];
  /** Island of each node; nodes of different islands have no defined voltage between them. */
  readonly island: Int32Array;
  /** By island: joined to earth or to a live source. */
  readonly defined: readonly boolean[];
  /** RMS volts across each coil and lamp, all frequencies together, in circuit order. */
  readonly coilVolts: Float64Array;
  readonly lampVolts: Float64Array;
  /** The DC part of each coil's volts. */
  readonly coilDcVolts: Float64Array;
  readonly motors: readonly MotorField[];
}

/** Sequence components of a motor's winding voltages. */
export interface MotorField {
  readonly positive: number;
  readonly negative: number;
  readonly driven: Driven;
  /** RMS amperes into each of the motor's line terminals, and the largest of them. */
  readonly windingVolts: readonly Complex[];
}
