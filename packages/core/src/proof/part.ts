import type { Circuit } from '../circuit/index.js';

/**
 * A part of a board that is worked by itself: nothing in it depends on what lies outside, where everything
 * stays as the bench has it.
 */
export interface Part {
  /** By mechanism: 1 where it belongs to the part. */
  readonly inside: Uint8Array;
  /** By region in which two potentials could meet: 1 where it belongs to the part. */
  readonly regions: Uint8Array;
  /** Places in `Circuit.motors` of those that are driven in it. */
  readonly motors: readonly number[];
}

/** What belongs to a part, and what is judged in it, as lists. */
export interface Members {
  readonly inside: ReadonlySet<number>;
  readonly regions: readonly number[];
  readonly motors: readonly number[];
}

/** A part of a board in which potentials could meet in so many regions. */
export function partOf(
  { mechanisms }: Circuit,
  { regions: all }: { readonly regions: number },
  { inside, regions, motors }: Members,
): Part {
  return {
    inside: Uint8Array.from(mechanisms, ({ index }) => (inside.has(index) ? 1 : 0)),
    regions: Uint8Array.from({ length: all }, (_, k) => (regions.includes(k) ? 1 : 0)),
    motors,
  };
}
