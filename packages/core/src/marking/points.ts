/** Points are shared in tenths, so that they add up exactly. */
const TENTHS = 10;

/**
 * Shares a total among weights in whole tenths by the largest-remainder method: the shares add up to the
 * total exactly. Equal shares where every weight is zero.
 */
export function sharePoints(total: number, weights: readonly number[]): number[] {
  if (weights.length === 0) return [];
  const sum = weights.reduce((a, b) => a + b, 0);
  const parts = sum > 0 ? weights.map((w) => w / sum) : weights.map(() => 1 / weights.length);
  const units = Math.round(total * TENTHS);
  const exact = parts.map((part) => part * units);
  const floors = exact.map(Math.floor);
  let left = units - floors.reduce((a, b) => a + b, 0);
  const order = exact
    .map((value, k) => ({ k, rest: value - floors[k]! }))
    .sort((a, b) => b.rest - a.rest || a.k - b.k);
  for (const { k } of order) {
    if (left <= 0) break;
    floors[k]! += 1;
    left -= 1;
  }
  return floors.map((tenths) => tenths / TENTHS);
}

/** Adds points that are whole tenths without rounding error. */
export function addPoints(points: readonly number[]): number {
  return points.reduce((sum, p) => sum + Math.round(p * TENTHS), 0) / TENTHS;
}

/** A part of some points, rounded down to whole tenths. */
export const partOf = (points: number, part: number): number =>
  Math.floor(points * part * TENTHS + 1e-9) / TENTHS;
