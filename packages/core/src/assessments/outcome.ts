import { levelPoints, mostObserved, type AssessmentPlan, type AssessmentTask } from './plan.js';

/** What is known of somebody's work at one task. */
export type TaskMark =
  /** Marked by the machine: recorded points of how many, and whether they pass. */
  | { readonly kind: 'exercise'; readonly points: number; readonly max: number; readonly passed: boolean }
  /** By criterion: the level that stands; null where examiners have not agreed, or none has judged it. */
  | { readonly kind: 'observed'; readonly levels: Readonly<Record<string, number | null>> }
  /** Never begun. */
  | { readonly kind: 'none' };

export interface TaskOutcome {
  readonly id: string;
  readonly title: string;
  readonly points: number;
  readonly max: number;
  /** Of the whole, per cent: earned, and at most. */
  readonly share: number;
  readonly mostShare: number;
  readonly passed: boolean;
  /** False while it waits for marks. */
  readonly complete: boolean;
}

export interface AssessmentOutcome {
  /** Of the whole, per cent, to one decimal. */
  readonly percent: number;
  readonly passed: boolean;
  /** Every task is marked. */
  readonly complete: boolean;
  readonly tasks: readonly TaskOutcome[];
  /** Why it is not passed, each in one line. */
  readonly reasons: readonly string[];
}

/** What somebody's marks come to; a task without a mark counts nothing and leaves the outcome incomplete. */
export function outcomeOf(
  plan: AssessmentPlan,
  marks: Readonly<Record<string, TaskMark>>,
): AssessmentOutcome {
  const whole = plan.tasks.reduce((sum, { weight }) => sum + weight, 0);
  const tasks = plan.tasks.map((task) => taskOutcome(task, marks[task.id], whole));
  const percent = round(tasks.reduce((sum, { share }) => sum + share, 0));
  const critical = plan.tasks.flatMap((task) => failedCriteria(task, marks[task.id]));
  const reasons = [
    ...critical.map((title) => `“${title}” is critical and was not met`),
    ...plan.tasks.flatMap(({ title, mustPass }, k): string[] =>
      (mustPass || plan.pass.each) && !tasks[k]!.passed ? [`“${title}” is not passed`] : [],
    ),
    ...(plan.pass.sum !== null && percent < plan.pass.sum
      ? [`${percent} %; the pass mark is ${plan.pass.sum} %`]
      : []),
  ];
  return {
    percent,
    passed: reasons.length === 0,
    complete: tasks.every(({ complete }) => complete),
    tasks: tasks.map((task) => ({ ...task, share: round(task.share) })),
    reasons,
  };
}

const round = (value: number): number => Math.round(value * 10) / 10;

function taskOutcome(task: AssessmentTask, mark: TaskMark | undefined, whole: number): TaskOutcome {
  const { id, title, weight } = task;
  const mostShare = whole > 0 ? (100 * weight) / whole : 0;
  const made = pointsOf(task, mark);
  return {
    id,
    title,
    ...made,
    share: made.max > 0 ? (mostShare * made.points) / made.max : 0,
    mostShare: round(mostShare),
  };
}

function pointsOf(
  task: AssessmentTask,
  mark: TaskMark | undefined,
): Pick<TaskOutcome, 'points' | 'max' | 'passed' | 'complete'> {
  if (task.kind === 'observed') {
    const levels = mark?.kind === 'observed' ? mark.levels : {};
    const points = task.criteria.map((one) => levelPoints(one, levels[one.id] ?? null));
    const sum = points.reduce<number>((all, one) => all + (one ?? 0), 0);
    const max = mostObserved(task);
    const isDone = points.every((one) => one !== null);
    // Half of the points pass what is only observed, as long as nothing critical was missed.
    const passed = isDone && 2 * sum >= max && failedCriteria(task, mark).length === 0;
    return { points: sum, max, passed, complete: isDone };
  }
  if (mark?.kind !== 'exercise') return { points: 0, max: 0, passed: false, complete: mark?.kind === 'none' };
  return { points: mark.points, max: mark.max, passed: mark.passed, complete: true };
}

/** Titles of critical criteria that stand at their lowest level. */
function failedCriteria(task: AssessmentTask, mark: TaskMark | undefined): string[] {
  if (task.kind !== 'observed' || mark?.kind !== 'observed') return [];
  return task.criteria.flatMap(({ id, title, critical }) =>
    critical && mark.levels[id] === 0 ? [title] : [],
  );
}
