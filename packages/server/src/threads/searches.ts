import {
  Search,
  describeFaults,
  describeTest,
  diagnosing,
  exerciseKey,
  faultEffects,
  finished,
  gradeSearch,
  hiddenFaults,
  pickFaults,
  possibleAt,
  eliminate,
  readFault,
  referenceCircuitOf,
  tabulate,
  writeFault,
  type Degree,
  type Exercise,
  type FaultEffect,
  type FaultSet,
  type Report,
  type SearchEvent,
  type SearchWork,
  type WrittenFault,
} from '@contactum/core';
import { LRUCache } from 'lru-cache';
import type { Causes, DiagnoseAnswer, DiagnoseRequest } from '@contactum/contract';
import type { Lane } from '../runtime/lane.js';

/** What a thread is asked about searches. */
export type SearchQuestion =
  | { readonly kind: 'grade'; readonly exercise: Exercise; readonly work: SearchWork }
  | {
      readonly kind: 'causes';
      readonly exercise: Exercise;
      readonly faults: readonly WrittenFault[];
      readonly log: readonly SearchEvent[];
    }
  | {
      readonly kind: 'pick';
      readonly exercise: Exercise;
      readonly degree: Degree;
      readonly seed: number;
    }
  | { readonly kind: 'diagnose'; readonly exercise: Exercise; readonly request: DiagnoseRequest };

type PickedSet = Omit<FaultSet, 'id' | 'title'>;

/** Most causes that are named one by one. */
const NAMED = 192;

/** Answers in a worker thread. */
export function answerSearch(question: SearchQuestion): unknown {
  switch (question.kind) {
    case 'grade':
      return gradeSearch(question.exercise, question.work);
    case 'causes':
      return causesOf(question.exercise, question.faults, question.log);
    case 'pick': {
      const picked = pickFaults(effectsOf(question.exercise), question.degree, question.seed);
      return picked && { ...picked, faults: picked.faults.map(writeFault) };
    }
    case 'diagnose':
      return diagnosed(question.exercise, question.request);
  }
}

/** Of the exercises from which faults were picked last. */
const effects = new LRUCache<string, FaultEffect[]>({ max: 40 });

/** What each fault of a board does; a thread works it out once. */
function effectsOf(exercise: Exercise): FaultEffect[] {
  const key = exerciseKey(exercise);
  const known = effects.get(key) ?? finished(faultEffects(referenceCircuitOf(exercise)));
  effects.set(key, known);
  return known;
}

function causesOf(exercise: Exercise, written: readonly WrittenFault[], log: readonly SearchEvent[]): Causes {
  const referenceCircuit = referenceCircuitOf(exercise);
  const faults = written.map(readFault);
  const elimination = finished(eliminate(referenceCircuit.bench, faults, log));
  const left = possibleAt(elimination, log.length).map((k) => (elimination.candidates[k] ?? []).slice(-1));
  const distinct = [...new Map(left.map((one) => [describeFaults(one), one])).values()];
  const table = finished(
    tabulate(
      referenceCircuit,
      distinct.map((one) => one.map((fault) => ({ ...fault, when: undefined }))),
    ),
  );
  const next = new Search(table).next(distinct.map((_, k) => k));
  // Of several at once each is one of the candidates; how many there are is not told.
  const all = new Set(elimination.candidates.map((one) => describeFaults(one.slice(-1))));
  return {
    of: all.size,
    left: distinct.map(describeFaults).sort().slice(0, NAMED),
    next: next && hiddenFaults(faults, log).length > 0 ? describeTest(next.test) : null,
  };
}

function diagnosed(exercise: Exercise, { observations, pairs }: DiagnoseRequest): DiagnoseAnswer {
  const referenceCircuit = referenceCircuitOf(exercise);
  const { candidates, ...rest } = finished(diagnosing(referenceCircuit, observations, { pairs }));
  return {
    ...rest,
    candidates: candidates.map(({ title, places }) => ({ title, alike: places.map(describeFaults) })),
  };
}

/** Asks threads about searches. */
export class SearchThreads {
  constructor(private readonly lane: Lane<unknown, unknown>) {}

  grade(exercise: Exercise, work: SearchWork): Promise<Report> {
    return this.ask({ kind: 'grade', exercise, work });
  }

  causes(
    exercise: Exercise,
    faults: readonly WrittenFault[],
    log: readonly SearchEvent[],
    who: string,
  ): Promise<Causes> {
    return this.ask({ kind: 'causes', exercise, faults, log }, who);
  }

  /** Faults of a degree by a seed; null where the board has none. */
  pick(exercise: Exercise, degree: Degree, seed: number, who: string): Promise<PickedSet | null> {
    return this.ask({ kind: 'pick', exercise, degree, seed }, who);
  }

  diagnose(exercise: Exercise, request: DiagnoseRequest, who: string): Promise<DiagnoseAnswer> {
    return this.ask({ kind: 'diagnose', exercise, request }, who);
  }

  private ask<T>(question: SearchQuestion, who = ''): Promise<T> {
    return this.lane.run<T>(question, 'answerSearch', who);
  }
}
