/**
 * Time–current curves of breakers and fuses. Breakers release magnetically from the upper limit of their
 * band (IEC 60898-1, from memory: B 5, C 10, D 20 times the rating) in about 8 ms. Their bimetal is one
 * heat store that tends to (I / (1.28 rating))²: between the 1.13 times that never trip and the 1.45 times
 * that trip within 1 h. Fuses follow a constant melting I²t at high currents and a steep slope below, to
 * 1.6 times their rating for gG links and 6.3 times for aM links, which give no overload protection. The
 * slopes are common practice, no source.
 */
const MAGNETIC = { B: 5, C: 10, D: 20 } as const;
const MAGNETIC_SECONDS = 0.008;
const BIMETAL_ULTIMATE = 1.28;
/** Time constant of a breaker's bimetal, seconds. */
export const BIMETAL_SECONDS = 69;

export type BreakerCurve = keyof typeof MAGNETIC;

const bimetalTarget = (amps: number, rating: number) => (amps / (BIMETAL_ULTIMATE * rating)) ** 2;

/**
 * Seconds until a breaker pole releases at a steady current, from its present heat; Infinity where it never
 * does.
 */
export function breakerClearing(rating: number, curve: BreakerCurve, amps: number, heat = 0): number {
  if (amps >= MAGNETIC[curve] * rating) return MAGNETIC_SECONDS;
  const target = bimetalTarget(amps, rating);
  if (target <= 1) return Number.POSITIVE_INFINITY;
  return heat >= 1 ? 0 : BIMETAL_SECONDS * Math.log((target - heat) / (target - 1));
}

/** Heat of a bimetal, per unit of release, after some seconds at a steady current. */
export function breakerHeatAfter(heat: number, rating: number, amps: number, seconds: number): number {
  const target = bimetalTarget(amps, rating);
  return target + (heat - target) * Math.exp(-seconds / BIMETAL_SECONDS);
}

const FUSES = {
  gG: { least: 1.6, melting: 3, slope: 4000, power: 5.8 },
  aM: { least: 6.3, melting: 12, slope: 4e6, power: 7 },
} as const;
/** Time in which a fuse link that has not melted cools, seconds. */
export const FUSE_COOLS = 30;

export type FuseClass = keyof typeof FUSES;

/** Seconds in which a cold fuse link melts at a steady current; Infinity where it carries it for ever. */
export function fuseClearing(rating: number, fuseClass: FuseClass, amps: number): number {
  const { least, melting, slope, power } = FUSES[fuseClass];
  const x = amps / rating;
  return x >= least ? melting / (x * x) + slope / x ** power : Number.POSITIVE_INFINITY;
}

/** How far a fuse link has come towards melting, per unit, after some seconds at a steady current. */
export function fuseWearAfter(
  wear: number,
  rating: number,
  fuseClass: FuseClass,
  amps: number,
  seconds: number,
): number {
  const melts = fuseClearing(rating, fuseClass, amps);
  return Number.isFinite(melts) ? wear + seconds / melts : wear * Math.exp(-seconds / FUSE_COOLS);
}
