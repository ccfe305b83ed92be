import type { Stimulus } from '../circuit/index.js';

/** Inclusive bounds; a missing one is no bound. */
export interface Range {
  readonly min?: number | undefined;
  readonly max?: number | undefined;
}

export type Expected = string | number | Range;
export type Expectation = { readonly expect: Readonly<Record<string, Expected>> };
export type Step = Stimulus | Expectation;

/** Stimuli in time, and what is expected after them. */
export interface Script {
  readonly contactum: 'script/1';
  readonly steps: readonly Step[];
}

export const isExpectation = (step: Step): step is Expectation => 'expect' in step;

/** A value that is expected, in words. */
export function describeExpected(value: Expected): string {
  if (typeof value !== 'object') return String(value);
  const { min, max } = value;
  if (min === undefined) return `at most ${String(max)}`;
  return max === undefined ? `at least ${min}` : `${min} to ${max}`;
}
