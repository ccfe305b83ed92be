import {
  FollowedBench,
  deadTestsOf,
  openingBoard,
  readFault,
  referenceBench,
  type Exercise,
  type Standing,
  type WorkEntry,
  type WrittenFault,
} from '@contactum/core';
import { LRUCache } from 'lru-cache';
import type { WireFrame } from '@contactum/contract';
import { wireFrame } from './wire-frame.js';

/** Runs in a thread: benches that are worked in browsers are followed here by their logs. */

export interface FollowTask {
  readonly attemptId: string;
  /** The last entry that this thread knows, as whoever asks believes; 0 with the exercise to begin anew. */
  readonly after: number;
  readonly exercise?: Exercise;
  readonly entries: readonly { readonly t: number; readonly entry: WorkEntry }[];
  /** The last entry of the log that was looked at. */
  readonly seq: number;
  /** Now, seconds from the beginning of the attempt. */
  readonly t: number;
  readonly faults: readonly WrittenFault[];
  /** Whether somebody looks at it. */
  readonly isWatched: boolean;
}

/** How a bench stands, and after how many edits of its wiring. */
export type FollowedStanding = Standing & { readonly edits: number };

export interface FollowAnswer {
  readonly seq: number;
  readonly standing: FollowedStanding;
  /** Something changes by itself: it is to be asked again. */
  readonly isRunning: boolean;
  readonly frame: WireFrame | null;
}

interface Known {
  readonly bench: FollowedBench;
  readonly faults: string;
  seq: number;
  edits: number;
}

/** Locking off and taking leads off is for searches. */
const NOT_TOUCHED = { locked: false, lifted: [] };

/** Benches that a thread follows at once. */
const MOST = 300;
const known = new LRUCache<string, Known>({ max: MOST });

/** Why a bench cannot be followed. */
export interface FollowFailure {
  readonly failed: string;
}

/** How benches stand now; null of one of which this thread does not know what it is thought to. */
export function follow({
  tasks,
}: {
  readonly tasks: readonly FollowTask[];
}): (FollowAnswer | FollowFailure | null)[] {
  return tasks.map((task) => {
    try {
      return followOne(task);
    } catch (error) {
      // One that cannot be worked again holds up no other.
      known.delete(task.attemptId);
      return { failed: (error as Error).message };
    }
  });
}

function followOne({
  attemptId,
  after,
  exercise,
  entries,
  seq,
  t,
  faults,
  isWatched,
}: FollowTask): FollowAnswer | null {
  const own = exercise ? begun(exercise) : known.get(attemptId);
  if (own?.seq !== after) return null;
  for (const { t: at, entry } of entries) own.bench.take(at, entry);
  own.seq = seq;
  own.edits += entries.filter(({ entry }) => entry.kind === 'edit').length;
  const written = JSON.stringify(faults);
  if (written !== own.faults) own.bench.setFaults(faults.map(readFault));
  own.bench.advanceTo(t);
  known.set(attemptId, { ...own, faults: written });
  const { standing, frame } = own.bench;
  return {
    seq,
    standing: { ...standing, edits: own.edits },
    isRunning: frame?.running ?? false,
    frame: isWatched && frame ? wireFrame(frame, NOT_TOUCHED) : null,
  };
}

function begun(exercise: Exercise): Known {
  const tests = deadTestsOf(exercise.practice ?? {}, referenceBench(exercise));
  return {
    bench: new FollowedBench({
      opening: openingBoard(exercise),
      behaviours: exercise.behaviours,
      testsDead: tests.length > 0,
    }),
    faults: '[]',
    seq: 0,
    edits: 0,
  };
}
