import type { Knex } from 'knex';
import { outcomeOf, type AssessmentOutcome, type TaskMark } from '@contactum/core';
import type { Result, SittingRow } from '@contactum/contract';
import { AttemptModel, type AssessmentModel } from '../../database/models.js';
import { resultOf } from '../attempts/attempts.js';

/** What everybody's marks come to: points of the machine as instructors left them, and examiners' levels. */

/** A level that an examiner named. */
export interface Level {
  readonly studentId: string;
  readonly task: string;
  readonly criterion: string;
  readonly level: number;
  readonly examinerId: string;
  readonly examiner: string;
  readonly note: string;
}

/** A level on which examiners agreed, or that an appeal has set. */
interface AgreedLevel {
  readonly studentId: string;
  readonly task: string;
  readonly criterion: string;
  readonly level: number;
  readonly by: string;
  readonly reason: string;
}

export interface Judgements {
  readonly levels: readonly Level[];
  readonly agreed: readonly AgreedLevel[];
}

export async function judgementsOf(database: Knex, assessmentId: string): Promise<Judgements> {
  const levels = await database('assessment_levels as l')
    .join('people as p', 'p.id', 'l.examiner_id')
    .where('l.assessment_id', assessmentId)
    .orderBy('l.at')
    .select<Level[]>(
      'l.student_id',
      'l.task',
      'l.criterion',
      'l.level',
      'l.examiner_id',
      'l.note',
      'p.name as examiner',
    );
  const agreed = await database('assessment_agreed')
    .where({ assessment_id: assessmentId })
    .select<AgreedLevel[]>('student_id', 'task', 'criterion', 'level', 'by', 'reason');
  return { levels, agreed };
}

interface Where {
  readonly studentId: string;
  readonly task: string;
  readonly criterion: string;
}

const isAt =
  (where: Where) =>
  (one: Where): boolean =>
    one.studentId === where.studentId && one.task === where.task && one.criterion === where.criterion;

/** What examiners agreed on for a criterion, where they have. */
export const agreedAt = ({ agreed }: Judgements, where: Where): AgreedLevel | undefined =>
  agreed.find(isAt(where));

/** The level that counts: the agreed one, else the only one that was named, else none. */
export function standing(judgements: Judgements, where: Where): number | null {
  const known = agreedAt(judgements, where);
  if (known) return known.level;
  const named = [...new Set(judgedAt(judgements.levels, where).map(({ level }) => level))];
  return named.length === 1 ? (named[0] ?? null) : null;
}

/** Everybody's judgements of one criterion. */
export const judgedAt = (levels: readonly Level[], where: Where): Level[] => levels.filter(isAt(where));

/** Of somebody with no mark at all. */
export const NO_WORK: WorkAndOutcome = {
  attempts: [],
  outcome: { percent: 0, passed: false, complete: false, tasks: [], reasons: [] },
};

export interface WorkAndOutcome {
  readonly attempts: SittingRow['attempts'];
  readonly outcome: AssessmentOutcome;
}

interface OwnAttempt extends AttemptModel {
  readonly task: string;
}

/** The outcomes of some students of an assessment, by student. */
export async function outcomesOf(
  database: Knex,
  assessment: AssessmentModel,
  students: readonly string[],
  known?: Judgements,
): Promise<Map<string, WorkAndOutcome>> {
  const judgements = known ?? (await judgementsOf(database, assessment.id));
  const attempts = (await AttemptModel.query(database)
    .join('assignments as s', 's.id', 'attempts.assignmentId')
    .where('s.assessmentId', assessment.id)
    .whereIn('studentId', [...students])
    .orderBy('attempts.number')
    .select('attempts.*', 's.task as task')
    .withGraphFetched('[marking, changes]')) as OwnAttempt[];
  return new Map(
    students.map((studentId) => {
      const own = attempts.filter((one) => one.studentId === studentId);
      return [studentId, outcomeFor(assessment, own, judgements, studentId)];
    }),
  );
}

function outcomeFor(
  { plan }: AssessmentModel,
  own: readonly OwnAttempt[],
  judgements: Judgements,
  studentId: string,
): WorkAndOutcome {
  const marks: Record<string, TaskMark> = {};
  for (const task of plan.tasks) {
    if (task.kind === 'observed') {
      const levels = task.criteria.map(
        ({ id }) => [id, standing(judgements, { studentId, task: task.id, criterion: id })] as const,
      );
      marks[task.id] = { kind: 'observed', levels: Object.fromEntries(levels) };
      continue;
    }
    // A bench sheet that was entered again stands in place of the one before.
    const attempt = own.findLast((one) => one.task === task.id);
    const result = attempt ? resultOf(attempt) : null;
    // A sheet that nobody has entered yet is still to come.
    if (!attempt && task.physical) continue;
    if (!attempt) marks[task.id] = { kind: 'none' };
    else if (result) marks[task.id] = markOf(result);
  }
  return {
    attempts: own.map((attempt) => ({
      task: attempt.task,
      attemptId: attempt.id,
      state: attempt.state,
      result: resultOf(attempt),
      minutes: attempt.handedInAt
        ? Math.round((attempt.handedInAt.getTime() - attempt.startedAt.getTime()) / 6000) / 10
        : null,
    })),
    outcome: outcomeOf(plan, marks),
  };
}

const markOf = ({ recorded, max, passed }: Result): TaskMark => ({
  kind: 'exercise',
  points: recorded,
  max,
  passed,
});
