/** What several measurements share. */
import { readFileSync } from 'node:fs';

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export const quantile = (list, q) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];

/** Place of the time that a virtual machine wanted and did not get, among the times of `/proc/stat`. */
const STOLEN = 7;

/**
 * Begins to watch how much of the processor's time other machines take; what it returns tells the share in
 * per cent, or null where the system does not say.
 */
export function watchStolen() {
  const times = () => {
    try {
      return readFileSync('/proc/stat', 'utf8').split('\n')[0].trim().split(/\s+/).slice(1, 9).map(Number);
    } catch {
      return null;
    }
  };
  const before = times();
  return () => {
    const after = times();
    if (!before || !after) return null;
    const spent = after.map((time, k) => time - before[k]);
    const all = spent.reduce((sum, one) => sum + one, 0);
    return all > 0 ? (100 * spent[STOLEN]) / all : 0;
  };
}
