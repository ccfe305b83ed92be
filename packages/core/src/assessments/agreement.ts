/** How far two examiners who did not know of each other's marks agree. */
export interface Agreement {
  /** Judgements that both made. */
  readonly both: number;
  /** Of these the part in which they named the same level. */
  readonly same: number;
  /** Cohen's κ; null where it says nothing: with no judgements, or with one level for all of them. */
  readonly kappa: number | null;
  /** Mean of the second less the first, levels. */
  readonly difference: number;
}

/**
 * Cohen's κ of pairs of judgements by numbered levels: agreement beyond what their own frequencies make
 * likely. Linear weights count a level's distance. Null where chance alone explains everything.
 * Source: J. Cohen, A coefficient of agreement for nominal scales, Educational and Psychological
 * Measurement 20 (1960); weights: J. Cohen, Psychological Bulletin 70 (1968).
 */
export function cohensKappa(
  pairs: readonly (readonly [number, number])[],
  weights: 'none' | 'linear' = 'none',
): number | null {
  const count = pairs.length;
  if (count === 0) return null;
  const levels = 1 + Math.max(...pairs.flat());
  const apart = (a: number, b: number): number => (weights === 'linear' ? Math.abs(a - b) : a === b ? 0 : 1);
  const shares = (place: 0 | 1) =>
    Array.from({ length: levels }, (_, k) => pairs.filter((pair) => pair[place] === k).length / count);
  const [first, second] = [shares(0), shares(1)];
  const observed = pairs.reduce((sum, [a, b]) => sum + apart(a, b), 0) / count;
  let expected = 0;
  for (let a = 0; a < levels; a += 1)
    for (let b = 0; b < levels; b += 1) expected += first[a]! * second[b]! * apart(a, b);
  return expected === 0 ? null : 1 - observed / expected;
}

/** What two examiners' judgements have in common. */
export function agreementOf(pairs: readonly (readonly [number, number])[]): Agreement {
  const both = pairs.length;
  return {
    both,
    same: both === 0 ? 0 : pairs.filter(([a, b]) => a === b).length / both,
    kappa: cohensKappa(pairs),
    difference: both === 0 ? 0 : pairs.reduce((sum, [a, b]) => sum + b - a, 0) / both,
  };
}

/** Words for κ: J. R. Landis and G. G. Koch, Biometrics 33 (1977), from memory. */
export function kappaWords(kappa: number): string {
  if (kappa < 0) return 'worse than chance';
  if (kappa <= 0.2) return 'slight';
  if (kappa <= 0.4) return 'fair';
  if (kappa <= 0.6) return 'moderate';
  return kappa <= 0.8 ? 'substantial' : 'almost perfect';
}
