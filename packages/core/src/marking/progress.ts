import { netlistOf } from '../drawing/index.js';
import type { Bench } from '../bench/index.js';
import { referenceBench, type Exercise } from './exercise.js';

/** How many of the reference's potentials a wiring has whole: every terminal that the reference joins, joined. */
export interface Progress {
  readonly complete: number;
  readonly of: number;
}

/** By potential of the reference that joins more than one terminal: whether a wiring has it whole. */
export function potentialsOf(
  reference: Bench,
  bench: Bench,
): { readonly net: number; readonly complete: boolean }[] {
  const wanted = netlistOf(reference);
  const own = netlistOf(bench);
  return wanted.nets.flatMap(({ terminals }, net) => {
    const ends = terminals.filter((ref) => wanted.wired.has(ref));
    if (ends.length < 2) return [];
    const nets = new Set(ends.map((ref) => own.netOf.get(ref)));
    return [{ net, complete: nets.size === 1 }];
  });
}

export function progressOf(exercise: Exercise, bench: Bench): Progress {
  const all = potentialsOf(referenceBench(exercise), bench);
  return { complete: all.filter(({ complete }) => complete).length, of: all.length };
}
