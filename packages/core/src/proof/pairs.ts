import type { Stimulus } from '../circuit/index.js';
import { closest, type Outcomes, type Side } from './compared-side.js';
import { SearchBound } from './exploration.js';

/**
 * Pairs after which a comparison claims nothing; a board of twenty selectors gets there in under twenty
 * seconds (measured).
 */
export const MAX_PAIRS = 120_000;

/** Sets of situations in which the two benches can be after one sequence, and which show the same. */
export interface Pair {
  readonly reference: readonly number[];
  readonly candidate: readonly number[];
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
  /** Stimuli by which it is reached. */
  readonly length: number;
}

/** What one of the two can show after a sequence and the other cannot. */
export interface Difference {
  readonly number: number;
  readonly isOfReference: boolean;
  /** Something that the other can show instead. */
  readonly elsewhere: number;
  readonly parent: Pair | null;
  readonly by: Stimulus | null;
}

interface SearchOptions {
  readonly maxPairs: number;
  /** The only sequence that is followed. */
  readonly along?: readonly Stimulus[];
  /** Stimuli from which on a difference is no longer looked for. */
  readonly shorterThan?: number;
}

interface Searched {
  readonly difference: Difference | null;
  readonly complete: boolean;
  readonly pairs: number;
}

/** The stimuli after which a difference shows. */
export function stimuliTo({ parent, by }: Difference): Stimulus[] {
  const stimuli = by ? [by] : [];
  for (let pair = parent; pair?.by; pair = pair.parent) stimuli.unshift(pair.by);
  return stimuli;
}

/** Works both sides alike, breadth first, until they show something different. */
export function search(
  left: Side,
  right: Side,
  { maxPairs, along, shorterThan = Number.POSITIVE_INFINITY }: SearchOptions,
): Searched {
  const pairs = new Pairs();
  const result = (difference: Difference | null, complete: boolean): Searched => ({
    difference,
    complete,
    pairs: Math.max(1, pairs.queue.length),
  });
  const all = [...new Map([...left.stimuli, ...right.stimuli])];
  const steps = along?.map((stimulus): (typeof all)[number] => [JSON.stringify(stimulus), stimulus]);
  try {
    const atOnce = pairs.meet(left.start(), right.start(), null, null);
    if (atOnce) return result(atOnce, true);
    for (const here of pairs.queue) {
      if (here.length + 1 >= shorterThan) break;
      for (const [key, stimulus] of steps ? steps.slice(here.length, here.length + 1) : all) {
        if (!left.admits(here.reference, key) && !right.admits(here.candidate, key)) continue;
        const ends = [left.after(here.reference, key), right.after(here.candidate, key)] as const;
        const difference = pairs.meet(...ends, here, stimulus);
        if (difference) return result(difference, true);
      }
      if (pairs.queue.length > maxPairs) return result(null, false);
    }
    return result(null, true);
  } catch (error) {
    if (!(error instanceof SearchBound)) throw error;
    return result(null, false);
  }
}

/** Pairs of situation sets that show the same, each once, in order of discovery. */
class Pairs {
  readonly queue: Pair[] = [];
  private readonly seen = new Set<number | string>();

  private put(pair: Pair): void {
    const { reference, candidate } = pair;
    const [a, b] = [reference[0]!, candidate[0]!];
    const single = reference.length === 1 && candidate.length === 1 && a < LARGE && b < LARGE;
    const key = single ? a * LARGE + b : `${reference.join('|')}#${candidate.join('|')}`;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    this.queue.push(pair);
  }

  /**
   * Compares two sets of outcomes by what they show; queues the pairs that show the same, or tells what
   * only one of them shows.
   */
  meet(a: Outcomes, b: Outcomes, parent: Pair | null, by: Stimulus | null): Difference | null {
    const length = parent ? parent.length + 1 : 0;
    for (const number of new Set([...a.keys(), ...b.keys()])) {
      const [reference, candidate] = [a.get(number), b.get(number)];
      if (!reference || !candidate) {
        const elsewhere = closest(reference ? b : a);
        return { number, isOfReference: reference !== undefined, elsewhere, parent, by };
      }
      if (reference.length > 0 && candidate.length > 0)
        this.put({ reference, candidate, parent, by, length });
    }
    return null;
  }
}

/** Situation numbers under this make one number of a pair. */
const LARGE = 2 ** 26;
