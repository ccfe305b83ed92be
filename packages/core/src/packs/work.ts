import type { Bench } from '../bench/index.js';
import {
  grade,
  gradeAnswers,
  gradeSearch,
  type Exercise,
  type HintDegree,
  type Report,
  type SearchWork,
  type WorkEvent,
} from '../marking/index.js';
import { benchSheet, markSheet, type SheetEntries } from '../planning/index.js';
import type { Answers } from '../questions/index.js';

/** All that a mark rests on beside the exercise. */
export type PackWork =
  | {
      readonly kind: 'wiring';
      readonly bench: Bench;
      readonly log: readonly WorkEvent[];
      readonly hints: readonly HintDegree[];
    }
  | { readonly kind: 'answers'; readonly answers: Answers['answers'] }
  | { readonly kind: 'search'; readonly work: SearchWork }
  | { readonly kind: 'sheet'; readonly entries: SheetEntries };

/** Marks what was done once more, by the exercise as it was then. */
export function markWork(exercise: Exercise, work: PackWork): Report {
  switch (work.kind) {
    case 'wiring':
      return grade(exercise, work.bench, { log: work.log, hints: work.hints });
    case 'answers':
      return gradeAnswers(exercise, { answers: work.answers });
    case 'search':
      return gradeSearch(exercise, work.work);
    case 'sheet':
      return markSheet(exercise, benchSheet(exercise), work.entries);
  }
}
