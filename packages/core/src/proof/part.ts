/**
 * A part of a board that is worked by itself: nothing in it depends on what lies outside, where everything stays
 * as the bench has it.
 */
export interface Part {
  /** By mechanism: 1 where it belongs to the part. */
  readonly inside: Uint8Array;
  /** By region in which two potentials could meet: 1 where it belongs to the part. */
  readonly regions: Uint8Array;
  /** Places in `Circuit.motors` of those that are driven in it. */
  readonly motors: readonly number[];
}
