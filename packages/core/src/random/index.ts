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
