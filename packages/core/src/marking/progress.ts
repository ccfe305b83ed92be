import { netlistOf, type Net } from '../drawing/index.js';
import type { Bench } from '../bench/index.js';
import { referenceBench, type Exercise } from './exercise.js';

/**
 * How many of the reference's potentials a wiring has whole: every terminal that the reference joins,
 * joined.
 */
export interface Progress {
  readonly complete: number;
  readonly of: number;
}

/** By net that joins more than one terminal: whether a wiring has it whole. */
export function completeNets(
  nets: readonly Net[],
  bench: Bench,
): { readonly net: number; readonly complete: boolean }[] {
  const { netOf } = netlistOf(bench);
  return nets.flatMap(({ terminals }, net) =>
    terminals.length < 2
      ? []
      : [{ net, complete: new Set(terminals.map((ref) => netOf.get(ref))).size === 1 }],
  );
}

export function progressOf(exercise: Exercise, bench: Bench): Progress {
  const all = completeNets(netlistOf(referenceBench(exercise)).nets, bench);
  return { complete: all.filter(({ complete }) => complete).length, of: all.length };
}
