import type { Knex } from 'knex';
import {
  deadTestsOf,
  referenceBench,
  resultWith,
  type Bench,
  type Exercise,
  type WorkEvent,
} from '@contactum/core';
import type {
  AttemptState,
  AttemptSummary,
  ExerciseForStudent,
  LogEntry,
  Person,
  PointChange,
  Result,
  Slip,
} from '@contactum/contract';
import {
  AssignmentModel,
  AttemptModel,
  LogModel,
  type ClassModel,
  type PersonModel,
} from './database/models.js';
import { notFound } from './http/errors.js';
import type { Journal } from './journal.js';

/** An exercise with its answer taken out. */
export function forStudent(exercise: Exercise): ExerciseForStudent {
  const { id, title, family, brief, bench, behaviours, rules, practice, marks } = exercise;
  // What is to be read at a dead test is for the student to know.
  const deadTests = practice
    ? deadTestsOf(practice, referenceBench(exercise)).map(({ between, hold }) => ({ between, hold }))
    : [];
  const asked = practice
    ? { ...practice, ...(practice.deadTest === undefined ? {} : { deadTest: deadTests.length > 0 }) }
    : null;
  return {
    id,
    title,
    family,
    brief,
    bench,
    rules,
    practice: asked,
    deadTests,
    marks,
    behaviours: behaviours.map((b) => ({ id: b.id, title: b.title, points: b.points })),
  };
}

export function resultOf(attempt: AttemptModel): Result | null {
  if (!attempt.marking) return null;
  return resultWith(
    attempt.marking.report,
    (attempt.changes ?? []).map(({ part, criterion, after }) => ({ part, criterion, to: after })),
  );
}

export function summaryOf(attempt: AttemptModel): AttemptSummary {
  return {
    id: attempt.id,
    number: attempt.number,
    state: attempt.state,
    startedAt: attempt.startedAt.toISOString(),
    handedInAt: attempt.handedInAt?.toISOString() ?? null,
    result: resultOf(attempt),
  };
}

export async function logOf(database: Knex, attemptId: string): Promise<LogModel[]> {
  return LogModel.query(database).where({ attemptId }).orderBy('seq');
}

export function logEntries(log: readonly LogModel[]): LogEntry[] {
  return log.flatMap(({ seq, at, body }): LogEntry[] => {
    const when = { seq, at: at.toISOString() };
    if ('edit' in body) return [{ ...when, kind: 'edit', edit: body.edit }];
    if ('on' in body) return [{ ...when, kind: 'supply', on: body.on }];
    if ('stimulus' in body) return [{ ...when, kind: 'act', stimulus: body.stimulus }];
    return 'from' in body ? [{ ...when, kind: 'reading', from: body.from, to: body.to }] : [];
  });
}

/** Opens the student's attempt at an assignment: the one under way, or a new one after the last was marked. */
export async function openAttempt(
  database: Knex,
  assignmentId: string,
  student: Person,
): Promise<{ attempt: AttemptModel; created: boolean }> {
  return database.transaction(async (trx) => {
    const assignment = await AssignmentModel.query(trx)
      .findById(assignmentId)
      .whereExists(
        trx('class_members')
          .where('class_members.class_id', trx.ref('assignments.class_id'))
          .where('class_members.student_id', student.id),
      );
    if (!assignment) throw notFound('assignment');
    // One attempt at a time, also when two browsers ask at the same moment.
    await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [`${assignmentId} ${student.id}`]);
    const last = await AttemptModel.query(trx)
      .where({ assignmentId, studentId: student.id })
      .orderBy('number', 'desc')
      .first();
    if (last && (last.state === 'open' || last.state === 'handed-in'))
      return { attempt: last, created: false };
    const attempt = await AttemptModel.query(trx)
      .insert({ assignmentId, studentId: student.id, number: (last?.number ?? 0) + 1, state: 'open' })
      .returning('*');
    return { attempt, created: true };
  });
}

/** What was done at the bench in an attempt in the order of its log, with the instructor's permissions where they were given; times are the server's, and never run back. */
export function workEvents(attempt: AttemptModel, log: readonly LogModel[]): WorkEvent[] {
  const begun = attempt.startedAt.getTime();
  let latest = 0;
  const seconds = (at: Date | string) => (latest = Math.max(latest, (new Date(at).getTime() - begun) / 1000));
  const permissions = [...(attempt.permissions ?? [])].sort(
    (a, b) => a.afterSeq - b.afterSeq || a.at.getTime() - b.at.getTime(),
  );
  const events: WorkEvent[] = [];
  const permit = (before: number): void => {
    for (let next = permissions[0]; next && next.afterSeq < before; next = permissions[0]) {
      events.push({ t: seconds(next.at), kind: 'permission' });
      permissions.shift();
    }
  };
  for (const { seq, at, ...entry } of logEntries(log)) {
    permit(seq);
    events.push({ t: seconds(at), ...entry });
  }
  permit(Number.POSITIVE_INFINITY);
  return attempt.handedInAt ? [...events, { t: seconds(attempt.handedInAt), kind: 'hand-in' }] : events;
}

/** Entries of the log that were there when permission was last given; −1 where it never was. */
export const permittedAfter = (attempt: AttemptModel): number =>
  Math.max(-1, ...(attempt.permissions ?? []).map(({ afterSeq }) => afterSeq));

/** When the instructor last gave permission. */
export function permittedAt(attempt: AttemptModel): string | null {
  const times = (attempt.permissions ?? []).map(({ at }) => at.getTime());
  return times.length > 0 ? new Date(Math.max(...times)).toISOString() : null;
}

function formerOf({ former }: AttemptModel): Slip['former'] {
  const last = [...(former ?? [])].sort((a, b) => b.markedAt.getTime() - a.markedAt.getTime())[0];
  return last ? { markedAt: last.markedAt.toISOString(), report: last.report } : null;
}

interface Readable {
  readonly attempt: AttemptModel;
  readonly student: PersonModel;
  readonly group: ClassModel;
  readonly exercise: Exercise;
}

/** What tells whose an attempt is, and all that is on its slip. */
const WHOSE = 'assignment.class, student';
const SLIP = `${WHOSE}, marking, former, permissions, changes.author, remarks.author`;

/** An attempt with what belongs to it, for its student or for the instructor of its class; for anybody else there is none. */
async function readable(database: Knex, id: string, person: Person, graph = WHOSE): Promise<Readable> {
  const attempt = await AttemptModel.query(database).findById(id).withGraphFetched(`[${graph}]`);
  const assignment = attempt?.assignment;
  const group = assignment?.class;
  const student = attempt?.student;
  if (!attempt || !assignment || !group || !student) throw notFound('attempt');
  const own = person.role === 'student' ? attempt.studentId === person.id : group.instructorId === person.id;
  if (!own) throw notFound('attempt');
  return { attempt, student, group, exercise: assignment.document };
}

const mayRepair = (attempt: AttemptModel, exercise: Exercise, person: Person): boolean =>
  attempt.state === 'marked' && (person.role === 'instructor' || exercise.repair === 'marked');

/** An attempt's exercise as it was set and the wiring so far, without what else is on its slip. */
export async function workOf(
  database: Knex,
  journal: Journal,
  id: string,
  person: Person,
): Promise<{ exercise: Exercise; bench: Bench; state: AttemptState; mayRepair: boolean }> {
  const { attempt, exercise } = await readable(database, id, person);
  return {
    exercise,
    bench: (await journal.boardOf(id)).bench,
    state: attempt.state,
    mayRepair: mayRepair(attempt, exercise, person),
  };
}

/** A slip with everything on it, for its student or for the instructor of its class. */
export async function slipOf(database: Knex, journal: Journal, id: string, person: Person): Promise<Slip> {
  const { attempt, student, group, exercise } = await readable(database, id, person, SLIP);
  const byTime = <T extends { at: Date }>(rows: readonly T[] | undefined) =>
    [...(rows ?? [])].sort((a, b) => a.at.getTime() - b.at.getTime());
  return {
    attempt: summaryOf(attempt),
    student: { id: student.id, name: student.name },
    className: group.name,
    classId: group.id,
    exercise: { id: exercise.id, title: exercise.title },
    bench: (await journal.boardOf(id)).bench,
    failure: attempt.state === 'failed' ? (attempt.failure ?? 'it could not be marked') : null,
    report: attempt.marking?.report ?? null,
    result: resultOf(attempt),
    changes: byTime(attempt.changes).map(
      ({ id: change, part, criterion, before, after, reason, author, at }): PointChange => ({
        id: change,
        part,
        criterion,
        from: before,
        to: after,
        reason,
        by: author?.name ?? '',
        at: at.toISOString(),
      }),
    ),
    remarks: byTime(attempt.remarks).map(({ id: remark, text, author, at }) => ({
      id: remark,
      text,
      by: author?.name ?? '',
      at: at.toISOString(),
    })),
    markedAt: attempt.marking?.markedAt.toISOString() ?? null,
    former: formerOf(attempt),
    permittedAt: permittedAt(attempt),
    mayRepair: mayRepair(attempt, exercise, person),
    reference: person.role === 'instructor' ? referenceBench(exercise) : null,
  };
}
