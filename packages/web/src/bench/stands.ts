import type { PropertySoFar, SoFar } from '@contactum/core';

/** How a safety property of a wiring that is being made stands. */
export type Stand = 'broken' | 'untested' | 'holds';

/**
 * Nothing is tested by a board on which nothing runs; and a frame that has no lead yet is not called wrong
 * before its motor can run.
 */
export function standOf(
  { id, holds, tested }: PropertySoFar,
  { properties }: Pick<SoFar, 'properties'>,
): Stand {
  const hasRun = properties.some((one) => one.id === 'no-self-start' && one.tested);
  if (id === 'earth-bonded' && !holds && !hasRun) return 'untested';
  return !holds ? 'broken' : tested ? 'holds' : 'untested';
}
