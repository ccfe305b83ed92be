/** The one generator of random numbers: what hangs on chance is the same for the same seed, in every release. */

/** Numbers from 0 to below 1, the same for the same seed (Mulberry32, from memory). */
export function seededNumbers(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** A list in another order (Fisher and Yates); the one that is given stays as it is. */
export function shuffled<T>(items: readonly T[], random: () => number): T[] {
  const list = [...items];
  for (let k = list.length - 1; k > 0; k -= 1) {
    const j = Math.floor(random() * (k + 1));
    [list[k], list[j]] = [list[j] as T, list[k] as T];
  }
  return list;
}
