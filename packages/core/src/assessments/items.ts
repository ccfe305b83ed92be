import { mean, sum, variance } from './statistics.js';

/** What one task or criterion told of a class. */
export interface Item {
  /** Mean of the points over the most there are: 1 where everybody has all. */
  readonly facility: number;
  /**
   * Correlation of the points with those of all other items, −1 to 1; null where either is the same for
   * everybody.
   */
  readonly discrimination: number | null;
  /** Standard deviation of the points over the most there are. */
  readonly spread: number;
  /** Why it tells little of who is able; null where it does tell. */
  readonly weakness: string | null;
}

export interface ItemAnalysis {
  readonly people: number;
  readonly items: readonly Item[];
  /** Cronbach's α; null with fewer than two items or people, or where everybody has the same sum. */
  readonly alpha: number | null;
  /** Standard error of one person's sum, in points: what α leaves open. */
  readonly error: number | null;
}

/** Fewer people tell nothing of a task. */
const FEWEST = 5;
/** Everybody or nobody does it (common practice, no source). */
const EASY = 0.95;
const HARD = 0.05;
/** Least discrimination of an item that is kept (R. L. Ebel's rule of thumb, from memory). */
const LEAST_DISCRIMINATION = 0.2;

function correlation(one: readonly number[], other: readonly number[]): number | null {
  const [a, b] = [mean(one), mean(other)];
  let [both, first, second] = [0, 0, 0];
  one.forEach((value, k) => {
    both += (value - a) * (other[k]! - b);
    first += (value - a) ** 2;
    second += (other[k]! - b) ** 2;
  });
  return first < 1e-12 || second < 1e-12 ? null : both / Math.sqrt(first * second);
}

/**
 * Cronbach's α of points by person and item: how much of the spread of the sums the items have in common.
 * Source: L. J. Cronbach, Coefficient alpha and the internal structure of tests, Psychometrika 16 (1951).
 */
export function cronbachsAlpha(points: readonly (readonly number[])[]): number | null {
  const count = points[0]?.length ?? 0;
  if (points.length < 2 || count < 2) return null;
  const whole = variance(points.map(sum));
  if (whole < 1e-12) return null;
  const own = Array.from({ length: count }, (_, k) => variance(points.map((row) => row[k]!)));
  return (count / (count - 1)) * (1 - sum(own) / whole);
}

/**
 * Facility, discrimination and reliability of points by person and item, `most` by item. Items that
 * everybody or nobody does, or that able and weak people do alike, are named.
 */
export function itemAnalysis(points: readonly (readonly number[])[], most: readonly number[]): ItemAnalysis {
  const sums = points.map(sum);
  const items = most.map((max, k): Item => {
    const own = points.map((row) => row[k]!);
    const facility = points.length > 0 && max > 0 ? mean(own) / max : 0;
    const rest = sums.map((whole, person) => whole - own[person]!);
    const discrimination = points.length > 1 && most.length > 1 ? correlation(own, rest) : null;
    const spread = points.length > 1 && max > 0 ? Math.sqrt(variance(own)) / max : 0;
    const weakness =
      points.length < FEWEST ? null : weaknessOf({ facility, discrimination, spread, many: most.length > 1 });
    return { facility, discrimination, spread, weakness };
  });
  const alpha = cronbachsAlpha(points);
  const error =
    alpha === null ? null : Math.sqrt(variance(sums)) * Math.sqrt(1 - Math.min(1, Math.max(0, alpha)));
  return { people: points.length, items, alpha, error };
}

function weaknessOf({
  facility,
  discrimination,
  spread,
  many,
}: Pick<Item, 'facility' | 'discrimination' | 'spread'> & { readonly many: boolean }): string | null {
  if (facility >= EASY) return 'nearly everybody has full marks';
  if (facility <= HARD) return 'nearly everybody has none of the marks';
  if (spread < 1e-9) return 'everybody has the same mark';
  if (!many) return null;
  if (discrimination !== null && discrimination < 0) return 'those who do well otherwise do worse here';
  if (discrimination === null || discrimination < LEAST_DISCRIMINATION)
    return 'it hardly separates strong from weak';
  return null;
}

/** What an α is good for (common practice, after J. C. Nunnally, from memory). */
export function alphaWords(alpha: number): string {
  if (alpha < 0.5) return 'too low to rest a decision on';
  if (alpha < 0.7) return 'low';
  if (alpha < 0.8) return 'acceptable';
  return alpha < 0.9 ? 'good' : 'very good';
}
