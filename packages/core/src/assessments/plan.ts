/** What a person may use in an assessment; what is not named is not on the screen. */
export const AIDS = ['reference', 'proof', 'tests', 'drawing', 'meter', 'explain'] as const;
export type Aid = (typeof AIDS)[number];

/** An exercise that is worked at a board and marked by the machine. */
export interface ExerciseTask {
  readonly kind: 'exercise';
  readonly id: string;
  readonly title: string;
  /** Part of the whole, in any unit: only its relation to the others counts. */
  readonly weight: number;
  /** Minutes for this task alone; null where only those of the whole count. */
  readonly minutes: number | null;
  /** Not passed, the whole assessment is not passed. */
  readonly mustPass: boolean;
}

/** One thing that an examiner watches at the bench. */
export interface ObservedCriterion {
  readonly id: string;
  readonly title: string;
  /** From the lowest to the highest. */
  readonly levels: readonly { readonly title: string; readonly points: number }[];
  /** At its lowest level the whole assessment is not passed: working on a live board, say. */
  readonly critical: boolean;
}

/** What examiners watch and judge by levels. */
export interface ObservedTask extends Omit<ExerciseTask, 'kind'> {
  readonly kind: 'observed';
  readonly criteria: readonly ObservedCriterion[];
}

export type AssessmentTask = ExerciseTask | ObservedTask;

export interface PassRule {
  /** Least per cent of the whole; null where the sum decides nothing. */
  readonly sum: number | null;
  /** Every task must be passed. */
  readonly each: boolean;
}

/** Several tasks and what passes them. */
export interface AssessmentPlan {
  readonly tasks: readonly AssessmentTask[];
  readonly pass: PassRule;
}

/** Points of a level; null where no level is named. */
export const levelPoints = ({ levels }: ObservedCriterion, level: number | null): number | null =>
  level === null ? null : (levels[level]?.points ?? null);

/** Most points of a task that is observed. */
export const mostObserved = ({ criteria }: ObservedTask): number =>
  criteria.reduce((sum, { levels }) => sum + Math.max(0, ...levels.map(({ points }) => points)), 0);
