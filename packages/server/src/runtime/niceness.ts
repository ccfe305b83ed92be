import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/**
 * How far a computation steps back behind whoever waits for an answer: a tenth of what they have while they
 * are busy. As far as there is (19) leaves it a hundredth, and on a busy machine its turn ends before it began.
 */
const NICENESS = 10;

/**
 * Lets a thread of computation step back behind the threads that answer requests: on Linux each thread has
 * a priority of its own, by its number. Elsewhere, and where the number is not told, it runs as the others
 * do.
 */
export function stepBack(): void {
  try {
    const tid = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
    if (Number.isInteger(tid) && tid > 0) setPriority(tid, NICENESS);
  } catch {
    // Only quicker answers are lost by it.
  }
}
