import { LRUCache } from 'lru-cache';
/**
 * The marking of a search for faults: from its log worked again, each point with what was known at that
 * moment.
 */
import {
  Search,
  hiddenFaults,
  eliminate,
  tabulate,
  finished,
  type ReferenceCircuit,
} from '../../diagnosis/index.js';
import { compile } from '../../circuit/index.js';
import { faultKey, possibleFaults, readFault, type Fault, type WrittenFault } from '../../faults/index.js';
import type { SearchEvent } from '../../live/index.js';
import { exerciseKey, referenceBench, type Exercise } from '../exercise.js';
import type { Report } from '../report.js';
import { criteriaOf, markedBy, type Judgements } from '../share.js';
import { findIn, singleKey, type Alike } from './findings.js';
import { judgeSearch } from './judge.js';

export {
  describeEntry,
  describeReading,
  describeRequest,
  judgeVerdict,
  type HandNote,
  type Note,
  type ReadingNote,
  type SearchFindings,
  type VerdictNote,
} from './findings.js';

/** A search that was handed in. */
export interface SearchWork {
  /** In the board from the beginning. */
  readonly faults: readonly WrittenFault[];
  readonly log: readonly SearchEvent[];
  /** Minutes that were given. */
  readonly minutes: number;
}

/** Two faults are alike where they are the same, or nothing tells them apart on this board. */
export function likeness(referenceCircuit: ReferenceCircuit): Alike {
  const known = new Map<string, boolean>();
  return (one, other) => {
    // How far a dial stands wrong need not be said.
    const [a, b] = [one, other].map(({ kind, place }) => faultKey({ kind, place })) as [string, string];
    if (a === b) return true;
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    let isLike = known.get(key);
    if (isLike === undefined) {
      const pair = [one, other].map((fault): Fault[] => [{ ...fault, when: undefined }]);
      isLike = finished(tabulate(referenceCircuit, pair)).columns.length === 0;
      known.set(key, isLike);
    }
    return isLike;
  };
}

/** The board of an exercise as it should be, and what it should do. */
export const referenceCircuitOf = (exercise: Exercise): ReferenceCircuit => ({
  bench: referenceBench(exercise),
  behaviours: exercise.behaviours,
});

/** The single faults of a board under every test. */
interface Known {
  readonly search: Search;
  /** Readings that a search by the best next one needs, by place in the table. */
  readonly needed: Int32Array;
  /** Their places in the table. */
  readonly places: ReadonlyMap<string, number>;
}

/** Of the exercises that were marked last: a class hands in searches on one board. */
const known = new LRUCache<string, Known>({ max: 8 });

function knownOf(exercise: Exercise, referenceCircuit: ReferenceCircuit): Known {
  const key = exerciseKey(exercise);
  const before = known.get(key);
  if (before) return before;
  const singles = possibleFaults(compile(referenceCircuit.bench));
  const table = finished(
    tabulate(
      referenceCircuit,
      singles.map((fault) => [fault]),
    ),
  );
  const search = new Search(table);
  const made: Known = {
    search,
    needed: search.readings(),
    places: new Map(singles.map((fault, k) => [singleKey(fault), k])),
  };
  known.set(key, made);
  return made;
}

/** Marks a search for faults. */
export function gradeSearch(exercise: Exercise, work: SearchWork): Report {
  const referenceCircuit = referenceCircuitOf(exercise);
  const { bench } = referenceCircuit;
  const faults = work.faults.map(readFault);
  const hidden = hiddenFaults(faults, work.log);
  const { search, needed, places } = knownOf(exercise, referenceCircuit);
  const findings = findIn({
    bench,
    behaviours: exercise.behaviours,
    faults,
    hidden,
    log: work.log,
    elimination: finished(eliminate(bench, faults, work.log)),
    search,
    places,
    expert: expertOf(needed, hidden, places),
    isAlike: likeness(referenceCircuit),
  });
  const judged: Judgements = judgeSearch(findings, work.minutes, bench);
  return {
    ...markedBy(exercise, criteriaOf(exercise, judged), []),
    proof: { complete: true, states: 0, situations: 0 },
    equivalence: { equivalent: findings.left.length === 0, complete: true, pairs: 0, counterexample: null },
    incidents: [],
    tolerance: null,
    search: findings,
  };
}

/** Readings that a search by the best next one needs for some faults, one after the other. */
function expertOf(needed: Int32Array, hidden: readonly Fault[], places: ReadonlyMap<string, number>): number {
  const mean = needed.length === 0 ? 0 : needed.reduce((a, b) => a + b, 0) / needed.length;
  return hidden.reduce((sum, fault) => {
    const k = places.get(singleKey(fault));
    return sum + (k === undefined ? Math.ceil(mean) : needed[k]!);
  }, 0);
}
