import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import {
  deadTestsOf,
  isAsked,
  isSearch,
  referenceBench,
  resultWith,
  type Exercise,
  type AttemptEntry,
  type WorkEntry,
  type WorkEvent,
} from '@contactum/core';
import type {
  AttemptSummary,
  AttemptView,
  ExerciseForStudent,
  LogEntry,
  Person,
  Result,
} from '@contactum/contract';
import { AssignmentModel, AttemptModel, LogModel } from '../../database/models.js';
import { requireOwnAttempt } from '../people/permissions.js';
import { Refusal, notFound } from '../../runtime/refusal.js';
import { shutFor, studentTimes } from '../classes/settings.js';
import { heldFor, type Held } from '../people/sight.js';

/** An exercise with its answer taken out. */
export function forStudent(exercise: Exercise): ExerciseForStudent {
  const { id, title, family, brief, bench, behaviours, rules, practice, marks } = exercise;
  // What is to be read at a dead test is for the student to know.
  const asks = practice?.deadTest === undefined || practice.deadTest === false ? null : practice;
  const table = asks ? deadTestsOf(asks, referenceBench(exercise)) : (exercise.deadTest ?? []);
  const deadTests = table.map(({ between, hold }) => ({ between, hold }));
  const asked = practice
    ? { ...practice, ...(practice.deadTest === undefined ? {} : { deadTest: deadTests.length > 0 }) }
    : null;
  return {
    id,
    title,
    family,
    brief,
    // The board of a search is seen by who searches on it; what is asked about is seen with its leads.
    bench: isSearch(exercise)
      ? { ...bench, wires: [] }
      : isAsked(exercise)
        ? referenceBench(exercise)
        : bench,
    ...(exercise.questions ? { questions: exercise.questions } : {}),
    ...(exercise.laid ? { laid: exercise.laid } : {}),
    rules,
    practice: asked,
    deadTests,
    marks,
    leads: exercise.leads ?? 'ducts',
    drawn: exercise.shows?.includes('reference') ?? false,
    tellsProgress: exercise.shows?.includes('progress') ?? false,
    ...(exercise.task ? { task: exercise.task } : {}),
    tellsProof: exercise.shows?.includes('proof') ?? false,
    hints: exercise.hints ?? null,
    behaviours: behaviours.map(({ id: behaviour, title: heading, points, steps }) => ({
      id: behaviour,
      title: heading,
      points,
      ...(exercise.shows?.includes('tests') ? { steps } : {}),
    })),
  };
}

export function resultOf(attempt: AttemptModel): Result | null {
  if (!attempt.marking) return null;
  return resultWith(
    attempt.marking.report,
    (attempt.changes ?? []).map(({ part, criterion, after }) => ({ part, criterion, to: after })),
  );
}

/** An attempt in short; its marks are held where somebody may not see them yet. */
export function summaryOf(attempt: AttemptModel, held: Held): AttemptSummary {
  return {
    id: attempt.id,
    number: attempt.number,
    state: attempt.state,
    startedAt: attempt.startedAt.toISOString(),
    handedInAt: attempt.handedInAt?.toISOString() ?? null,
    result: held ? null : resultOf(attempt),
    ...(held ? { heldUntil: held.until?.toISOString() ?? null } : {}),
    ...(attempt.confirmed ? {} : { unconfirmed: true }),
  };
}

/** The same of an own attempt, as it stands now. */
export async function ownSummary(database: Knex, id: string, student: Person): Promise<AttemptSummary> {
  const attempt = await AttemptModel.query(database)
    .findById(id)
    .where({ studentId: student.id })
    .withGraphFetched('[assignment(times).people, marking, changes]')
    .modifiers({ times: (query) => void query.select('id', 'mode', 'closesAt') });
  if (!attempt?.assignment) throw notFound('attempt');
  return summaryOf(attempt, heldFor(attempt.assignment, student));
}

/** Hours; a board that was left open overnight was not worked at all the while. */
const LONGEST_HOURS = 8;

/** Hours from beginning an attempt to handing it in; none of one that is not handed in. */
export const hoursAt = ({ startedAt, handedInAt }: AttemptModel): number =>
  handedInAt ? Math.min(LONGEST_HOURS, (handedInAt.getTime() - startedAt.getTime()) / 3_600_000) : 0;

export async function logOf(database: Knex, attemptId: string): Promise<LogModel[]> {
  return LogModel.query(database).where({ attemptId }).orderBy('seq');
}

/** Kinds of entries that something rests on. */
const isEntry = (body: LogModel['body']): body is AttemptEntry =>
  body.kind !== 'dead-test' && body.kind !== 'incident';

/** What was done at a board. */
export const isWork = (body: LogModel['body']): body is WorkEntry => isEntry(body) && body.kind !== 'answer';

const logEntries = (log: readonly LogModel[]): LogEntry[] =>
  log.flatMap(({ seq, at, body }) => (isEntry(body) ? [{ seq, at: at.toISOString(), entry: body }] : []));

/** Makes a variant of an exercise, in a thread. */
export type VariantIn = (exercise: Exercise, seed: number) => Promise<Exercise>;

/** Another variant for each student and each attempt, which nobody can choose. */
export const seedOf = (assignmentId: string, studentId: string, number: number): number =>
  createHash('sha256').update(`${assignmentId} ${studentId} ${number}`).digest().readUInt32BE(0) >>> 1;

/**
 * Opens the student's attempt at an assignment: the one under way, or a new one after the last was marked.
 */
export async function openAttempt(
  database: Knex,
  assignmentId: string,
  student: Person,
  variantIn: VariantIn,
): Promise<{ attempt: AttemptModel; created: boolean }> {
  return database.transaction(async (trx) => {
    const assignment = await AssignmentModel.query(trx).findById(assignmentId);
    const times = (await studentTimes(trx, student.id, assignmentId)).get(assignmentId);
    if (!assignment || !times) throw notFound('assignment');
    // One attempt at a time, also when two browsers ask at the same moment.
    await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [`${assignmentId} ${student.id}`]);
    const all = await AttemptModel.query(trx)
      .where({ assignmentId, studentId: student.id })
      .orderBy('number');
    const last = all.at(-1);
    // One that is open comes first: a bench sheet may have been entered after it was begun.
    const under = all.findLast(({ state }) => state === 'open') ?? last;
    if (under && (under.state === 'open' || under.state === 'handed-in'))
      return { attempt: under, created: false };
    const shut = shutFor(assignment, times, last?.number ?? 0);
    if (shut !== null) throw new Refusal('conflict', shut);
    const number = (last?.number ?? 0) + 1;
    const document = assignment.variants
      ? await variantIn(assignment.document, seedOf(assignmentId, student.id, number))
      : null;
    const attempt = await AttemptModel.query(trx)
      .insert({ assignmentId, studentId: student.id, number, state: 'open', document })
      .returning('*');
    return { attempt, created: true };
  });
}

/**
 * What was done at the bench in an attempt in the order of its log, with the instructor's permissions where
 * they were given; times are the server's, and never run back.
 */
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
  for (const { seq, at, entry } of logEntries(log)) {
    permit(seq);
    if (entry.kind !== 'answer') events.push({ t: seconds(at), ...entry });
  }
  permit(Number.POSITIVE_INFINITY);
  return attempt.handedInAt ? [...events, { t: seconds(attempt.handedInAt), kind: 'hand-in' }] : events;
}

/** Entries of the log that were there when permission was last given; −1 where it never was. */
const permittedAfter = (attempt: AttemptModel): number =>
  Math.max(-1, ...(attempt.permissions ?? []).map(({ afterSeq }) => afterSeq));

/** When the instructor last gave permission. */
export function permittedAt(attempt: AttemptModel): string | null {
  const times = (attempt.permissions ?? []).map(({ at }) => at.getTime());
  return times.length > 0 ? new Date(Math.max(...times)).toISOString() : null;
}

/** A student's own attempt as it is worked at. */
export async function attemptView(database: Knex, id: string, student: Person): Promise<AttemptView> {
  const attempt = await requireOwnAttempt(database, id, student);
  const { assignment } = attempt;
  if (!assignment) throw notFound('attempt');
  const closesAt =
    (await studentTimes(database, student.id, assignment.id)).get(assignment.id)?.closesAt ?? null;
  return {
    attempt: summaryOf(attempt, heldFor(assignment, student)),
    className: assignment.class?.name ?? '',
    sitting: assignment.assessmentId
      ? { assessmentId: assignment.assessmentId, aids: assignment.assessment?.plan.aids ?? [] }
      : null,
    closesAt: closesAt?.toISOString() ?? null,
    mode: assignment.mode,
    exercise: forStudent(attempt.exercise ?? assignment.document),
    log: logEntries(await logOf(database, id)),
    permittedAt: permittedAt(attempt),
    permittedAfter: permittedAfter(attempt),
  };
}
