import { spellRef, type Bench } from '../bench/index.js';
import { netlistOf } from '../drawing/index.js';
import { referenceBench, type Exercise } from './exercise.js';

/** A joint that a wiring lacks, or has and should not have, against the reference. */
export interface JointDifference {
  readonly kind: 'lacking' | 'extra';
  readonly what: string;
}

/** Most differences that are told of one wiring: a board hardly begun lacks everything. */
const MOST = 12;

/**
 * Which of the reference's joints a wiring lacks, and which it has too many of. It says where wirings go
 * wrong, not what is wrong: a right wiring may have other joints.
 */
export function jointDifferences(exercise: Exercise, bench: Bench): JointDifference[] {
  const reference = netlistOf(referenceBench(exercise));
  const wired = netlistOf(bench);
  const lacking = reference.nets.flatMap(({ terminals }): JointDifference[] => {
    if (terminals.length < 2) return [];
    const pieces = new Map<number, string[]>();
    for (const ref of terminals) {
      const piece = wired.netOf.get(ref) ?? -1;
      pieces.set(piece, [...(pieces.get(piece) ?? []), ref]);
    }
    const inOrder = [...pieces.values()].toSorted((a, b) => b.length - a.length);
    const [whole = [], ...others] = inOrder;
    return others.map((piece) => ({
      kind: 'lacking',
      what: `${spellRef(piece[0] ?? '')} not joined to ${spellRef(whole[0] ?? '')}`,
    }));
  });
  const extra = wired.nets.flatMap(({ terminals }): JointDifference[] => {
    const first = new Map<number, string>();
    for (const ref of terminals) {
      const net = reference.netOf.get(ref) ?? -1;
      if (!first.has(net)) first.set(net, ref);
    }
    const [one, ...others] = [...first.values()];
    return others.map((other) => ({
      kind: 'extra',
      what: `${spellRef(one ?? '')} joined to ${spellRef(other)}`,
    }));
  });
  return [...lacking, ...extra].slice(0, MOST);
}
