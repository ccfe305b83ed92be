import { LRUCache } from 'lru-cache';
import { isMainThread } from 'node:worker_threads';
import {
  benchSheet,
  exerciseKey,
  exerciseVariant,
  grade,
  gradeAnswers,
  hintFor,
  isAsked,
  likenesses,
  markSheet,
  openingBoard,
  permitCheck,
  readinessOf,
  referenceBench,
  repair,
  repairTask,
  wireOf,
  workWiring,
  type Answers,
  type Bench,
  type BenchSheet,
  type Exercise,
  type Hint,
  type HintDegree,
  type How,
  type BoardReading,
  type Likenesses,
  type PermitCheck,
  type Readiness,
  type Repair,
  type Report,
  type SheetEntries,
  type Work,
  type WorkEvent,
  type WorkedWiring,
} from '@contactum/core';
import { stepBack } from '../runtime/niceness.js';

if (!isMainThread) stepBack();

export interface WiringTask {
  readonly exercise: Exercise;
  readonly bench: Bench;
  readonly how: How;
}

export interface MarkingTask extends Omit<WiringTask, 'how'> {
  readonly log: readonly WorkEvent[];
  readonly hints: readonly HintDegree[];
  /** What the wiring was found to do. */
  readonly worked: WorkedWiring;
}

export interface AnswersTask {
  readonly exercise: Exercise;
  readonly answers: Answers['answers'];
}

export interface HintTask {
  readonly exercise: Exercise;
  readonly bench: Bench;
  readonly degree: HintDegree;
}

export interface SearchTask {
  readonly exercise: Exercise;
  readonly bench: Bench;
  /** Shared with who waits: edits up to which it looks, wirings looked at, and whether to stop. */
  readonly progress: Int32Array;
}

export const [EDITS, TRIED, STOP] = [0, 1, 2] as const;

/** Runs in a worker thread: marking is pure computation and must not hold up requests. */
export default function mark({ exercise, bench, ...work }: MarkingTask): Report {
  return grade(exercise, bench, work);
}

/** What a wiring does, worked in every way that its marks ask for. */
export const workOn = ({ exercise, bench, how }: WiringTask): WorkedWiring =>
  workWiring(exercise, bench, how);

/** Marks the answers to the questions of an exercise. */
export const markAnswers = ({ exercise, answers }: AnswersTask): Report =>
  gradeAnswers(exercise, { answers });

/** Seconds that marking a right wiring of an exercise, or answers to its questions, takes here. */
export function cost({ exercise }: { readonly exercise: Exercise }): number {
  const begun = performance.now();
  if (isAsked(exercise)) gradeAnswers(exercise, { answers: {} });
  else grade(exercise, referenceBench(exercise));
  return (performance.now() - begun) / 1000;
}

/** Exercises of which a thread remembers what it made: a day at the benches is of few. */
const MADE = 50;

/** Exercises that variants were made of: what their faults do is worked out once. */
const varied = new LRUCache<string, Exercise>({ max: MADE });

/** A variant of an exercise; it keeps the id, by which what belongs to the exercise is found. */
export function vary({ exercise, seed }: { readonly exercise: Exercise; readonly seed: number }): Exercise {
  const key = exerciseKey(exercise);
  const known = varied.get(key) ?? exercise;
  varied.set(key, known);
  return { ...exerciseVariant(known, seed).exercise, id: exercise.id };
}

/** A photograph written anew: smaller where it is large, upright, and without anything but the picture. */
export { cleanPhoto } from './photo.js';
export { readLibrary } from './library.js';
export { printSlip } from './pdf.js';

/** The sheet of an exercise for a physical board. */
export function sheet({ exercise }: { readonly exercise: Exercise }): BenchSheet {
  return sheetOf(exercise);
}

/** Sheets that this thread has made. */
const made = new LRUCache<string, BenchSheet>({ max: MADE });

function sheetOf(exercise: Exercise): BenchSheet {
  const key = exerciseKey(exercise);
  const known = made.get(key);
  if (known) return known;
  const own = benchSheet(exercise);
  made.set(key, own);
  return own;
}

/** Marks a physical board by what was entered at it. */
export function markPhysical({
  exercise,
  entries,
}: {
  readonly exercise: Exercise;
  readonly entries: SheetEntries;
}): Report {
  return markSheet(exercise, sheetOf(exercise), entries);
}

/** The hint of a degree for a wiring; null where nothing is wrong with it. */
export function hint({ exercise, bench, degree }: HintTask): Hint | null {
  return hintFor(exercise, bench, degree);
}

/** Whose work is more alike than chance lets one expect. */
export const alike = ({ works }: { readonly works: readonly Work[] }): Likenesses => likenesses(works);

/** Whether an exercise's physical board may be energised as it was read; its own leads are part of it. */
export function mayEnergise({
  exercise,
  bench,
  readings,
}: {
  readonly exercise: Exercise;
  readonly bench: Bench;
  readonly readings: readonly BoardReading[];
}): PermitCheck {
  const own = openingBoard(exercise).wires.filter(({ fitted }) => fitted);
  return permitCheck({ ...bench, wires: own.map(wireOf) }, readings, own.length);
}

/** What stands against setting an exercise. */
export function ready({ exercise }: { readonly exercise: Exercise }): Readiness {
  return readinessOf(exercise);
}

/** The fewest edits that make a wiring pass. */
export function search({ exercise, bench, progress }: SearchTask): Repair {
  return repair(repairTask(exercise, bench), {
    stop: () => Atomics.load(progress, STOP) === 1,
    watch: ({ edits, tried }) => {
      Atomics.store(progress, EDITS, edits);
      Atomics.store(progress, TRIED, tried);
    },
  });
}

export { follow } from './following.js';
export { answerSearch } from './searches.js';
