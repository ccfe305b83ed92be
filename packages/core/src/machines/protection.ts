/**
 * How fast a protective device interrupts a fault current, seconds; Infinity below its reach. Breakers
 * release magnetically from the upper limit of their band (IEC 60898-1, from memory: B 5, C 10, D 20 times
 * the rating) in about 8 ms. Fuses follow a constant melting I²t above ten times their rating, growing
 * with the square of the rating. Common practice, no source.
 */
const MAGNETIC = { B: 5, C: 10, D: 20 } as const;

export function breakerClearing(rating: number, curve: keyof typeof MAGNETIC, amps: number): number {
  return amps >= MAGNETIC[curve] * rating ? 0.008 : amps >= 1.45 * rating ? 1 + (60 * rating) / amps : Number.POSITIVE_INFINITY;
}

/** Melting I²t of a gG fuse link is about 3 A²s for each A² of rating; aM links about 12. */
export function fuseClearing(rating: number, fuseClass: 'gG' | 'aM', amps: number): number {
  const melting = (fuseClass === 'gG' ? 3 : 12) * rating * rating;
  return amps >= 1.6 * rating ? melting / (amps * amps) : Number.POSITIVE_INFINITY;
}
