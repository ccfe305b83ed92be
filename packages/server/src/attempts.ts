import { isDeepStrictEqual } from 'node:util';
import type { Knex } from 'knex';
import { applyEdit, compile, foldEdits, referenceBench, resultWith, type Bench, type Edit, type Exercise, type WorkEvent } from '@contactum/core';
import type { AttemptSummary, ExerciseForStudent, LogEntry, LogEntryRequest, Person, PointChange, Result, Slip } from '@contactum/contract';
import { AssignmentModel, AttemptModel, LogModel, type ClassModel, type LogBody, type PersonModel } from './database/models.js';
import { Refusal, notFound } from './http/errors.js';

/** An exercise with its answer taken out. */
export function forStudent(exercise: Exercise): ExerciseForStudent {
  const { id, title, family, brief, bench, behaviours, rules, practice, marks } = exercise;
  return { id, title, family, brief, bench, rules, practice: practice ?? null, marks, behaviours: behaviours.map((b) => ({ id: b.id, title: b.title, points: b.points })) };
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

const isEditBody = (body: LogBody): body is Extract<LogBody, { edit: Edit }> => 'edit' in body;

/** The bench that an attempt's log has led to. */
export function wiredBench(exercise: Exercise, log: readonly LogModel[]): Bench {
  const edits = log.flatMap(({ body }) => (isEditBody(body) ? [body.edit] : []));
  return foldEdits(exercise.bench, edits, exercise.bench.wires.length);
}

function supplyIsOn(log: readonly LogModel[]): boolean {
  const last = log.findLast(({ kind }) => kind === 'supply');
  return last !== undefined && 'on' in last.body && last.body.on;
}

export async function logOf(database: Knex, attemptId: string): Promise<LogModel[]> {
  return LogModel.query(database).where({ attemptId }).orderBy('seq');
}

export function logEntries(log: readonly LogModel[]): LogEntry[] {
  return log.map(({ seq, at, body }) => {
    const when = { seq, at: at.toISOString() };
    if (isEditBody(body)) return { ...when, kind: 'edit', edit: body.edit };
    if ('on' in body) return { ...when, kind: 'supply', on: body.on };
    return 'incident' in body ? { ...when, kind: 'incident', incident: body.incident } : { ...when, kind: 'dead-test', ...body };
  });
}

/** Opens the student's attempt at an assignment: the one under way, or a new one after the last was marked. */
export async function openAttempt(database: Knex, assignmentId: string, student: Person): Promise<{ attempt: AttemptModel; created: boolean }> {
  return database.transaction(async (trx) => {
    const assignment = await AssignmentModel.query(trx)
      .findById(assignmentId)
      .whereExists(trx('class_members').where('class_members.class_id', trx.ref('assignments.class_id')).where('class_members.student_id', student.id));
    if (!assignment) throw notFound('assignment');
    // One attempt at a time, also when two browsers ask at the same moment.
    await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [`${assignmentId} ${student.id}`]);
    const last = await AttemptModel.query(trx).where({ assignmentId, studentId: student.id }).orderBy('number', 'desc').first();
    if (last && last.state !== 'marked') return { attempt: last, created: false };
    const attempt = await AttemptModel.query(trx)
      .insert({ assignmentId, studentId: student.id, number: (last?.number ?? 0) + 1, state: 'open' })
      .returning('*');
    return { attempt, created: true };
  });
}

/** The student's own attempt, locked for change; anybody else's does not exist for them. */
async function lockOwnAttempt(trx: Knex, id: string, student: Person): Promise<AttemptModel> {
  const attempt = await AttemptModel.query(trx).findById(id).where({ studentId: student.id }).forUpdate().withGraphFetched('assignment');
  if (!attempt) throw notFound('attempt');
  return attempt;
}

function bodyOf(entry: LogEntryRequest['entry']): LogBody {
  switch (entry.kind) {
    case 'edit':
      return { edit: entry.edit as Edit };
    case 'supply':
      return { on: entry.on };
    case 'dead-test':
      return { from: entry.from, to: entry.to };
    case 'incident':
      return { incident: entry.incident };
  }
}

function noTerminal(key: string, ref: string): Refusal {
  const message = `"${ref}" is not a terminal of this board`;
  return new Refusal('invalid', `entry.${key}: ${message}`, { problems: [{ path: `entry.${key}`, message }] });
}

/** What was done at the bench in an attempt, with the instructor's permissions among it by their time. */
export function workEvents(attempt: AttemptModel, log: readonly LogModel[]): WorkEvent[] {
  const begun = attempt.startedAt.getTime();
  const seconds = (at: Date) => (at.getTime() - begun) / 1000;
  const events: WorkEvent[] = [
    ...logEntries(log).map((entry): WorkEvent => {
      const t = seconds(new Date(entry.at));
      if (entry.kind === 'edit') return { t, kind: 'edit', edit: entry.edit };
      if (entry.kind === 'supply') return { t, kind: 'supply', on: entry.on };
      return entry.kind === 'incident' ? { t, kind: 'incident', incident: entry.incident } : { t, kind: 'dead-test', from: entry.from, to: entry.to };
    }),
    ...(attempt.permissions ?? []).map(({ at }): WorkEvent => ({ t: seconds(at), kind: 'permission' })),
  ];
  events.sort((a, b) => a.t - b.t);
  return attempt.handedInAt ? [...events, { t: seconds(attempt.handedInAt), kind: 'hand-in' }] : events;
}

/** When the instructor last gave permission. */
export function permittedAt(attempt: AttemptModel): string | null {
  const times = (attempt.permissions ?? []).map(({ at }) => at.getTime());
  return times.length > 0 ? new Date(Math.max(...times)).toISOString() : null;
}

/** Appends one entry to the log before it is acknowledged. The same entry sent twice is taken once. */
export async function appendEntry(database: Knex, id: string, student: Person, { seq, entry }: LogEntryRequest): Promise<{ seq: number }> {
  return database.transaction(async (trx) => {
    const attempt = await lockOwnAttempt(trx, id, student);
    const exercise = attempt.assignment?.document;
    if (!exercise) throw notFound('attempt');
    const log = await logOf(trx, id);
    const body = bodyOf(entry);
    const present = log[seq - 1];
    if (present) {
      if (present.kind === entry.kind && isDeepStrictEqual(present.body, body)) return { seq };
      throw new Refusal('conflict', `Entry ${seq} is already something else; another window has changed this board.`, { lastSeq: log.length });
    }
    if (attempt.state !== 'open') throw new Refusal('conflict', 'This attempt has been handed in.', { lastSeq: log.length });
    if (seq !== log.length + 1) throw new Refusal('conflict', `The next entry is ${log.length + 1}, not ${seq}.`, { lastSeq: log.length });
    if (entry.kind === 'edit') {
      if (supplyIsOn(log)) throw new Refusal('conflict', 'The supply is on. Switch it off before you change the wiring.', { lastSeq: log.length });
      const applied = applyEdit(wiredBench(exercise, log), entry.edit, exercise.bench.wires.length);
      if (!applied.ok) throw new Refusal('invalid', `entry.edit: ${applied.reason}`, { problems: [{ path: 'entry.edit', message: applied.reason }], lastSeq: log.length });
    }
    if (entry.kind === 'dead-test') {
      if (supplyIsOn(log)) throw new Refusal('conflict', 'The supply is on. A dead test is made with it off.', { lastSeq: log.length });
      const { indexOf } = compile(exercise.bench);
      for (const key of ['from', 'to'] as const) if (!indexOf.has(entry[key])) throw noTerminal(key, entry[key]);
    }
    await LogModel.query(trx).insert({ attemptId: id, seq, kind: entry.kind, body });
    return { seq };
  });
}

/** Closes an attempt for marking; a second call changes nothing. */
export async function handIn(database: Knex, id: string, student: Person): Promise<AttemptModel> {
  return database.transaction(async (trx) => {
    const attempt = await lockOwnAttempt(trx, id, student);
    if (attempt.state !== 'open') return attempt;
    const patched = await AttemptModel.query(trx).patchAndFetchById(id, { state: 'handed-in', handedInAt: trx.fn.now() });
    return patched;
  });
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

/** An attempt with what belongs to it, for its student or for the instructor of its class; for anybody else there is none. */
async function readable(database: Knex, id: string, person: Person): Promise<Readable> {
  const attempt = await AttemptModel.query(database).findById(id).withGraphFetched('[assignment.class, student, marking, former, permissions, changes.author, remarks.author]');
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
export async function workOf(database: Knex, id: string, person: Person): Promise<{ exercise: Exercise; bench: Bench; isMarked: boolean; mayRepair: boolean }> {
  const { attempt, exercise } = await readable(database, id, person);
  return { exercise, bench: wiredBench(exercise, await logOf(database, id)), isMarked: attempt.state === 'marked', mayRepair: mayRepair(attempt, exercise, person) };
}

/** A slip with everything on it, for its student or for the instructor of its class. */
export async function slipOf(database: Knex, id: string, person: Person): Promise<Slip> {
  const { attempt, student, group, exercise } = await readable(database, id, person);
  const byTime = <T extends { at: Date }>(rows: readonly T[] | undefined) => [...(rows ?? [])].sort((a, b) => a.at.getTime() - b.at.getTime());
  return {
    attempt: summaryOf(attempt),
    student: { id: student.id, name: student.name },
    className: group.name,
    classId: group.id,
    exercise: { id: exercise.id, title: exercise.title },
    bench: wiredBench(exercise, await logOf(database, id)),
    report: attempt.marking?.report ?? null,
    result: resultOf(attempt),
    changes: byTime(attempt.changes).map(({ id: change, part, criterion, before, after, reason, author, at }): PointChange => ({
      id: change,
      part,
      criterion,
      from: before,
      to: after,
      reason,
      by: author?.name ?? '',
      at: at.toISOString(),
    })),
    remarks: byTime(attempt.remarks).map(({ id: remark, text, author, at }) => ({ id: remark, text, by: author?.name ?? '', at: at.toISOString() })),
    markedAt: attempt.marking?.markedAt.toISOString() ?? null,
    former: formerOf(attempt),
    permittedAt: permittedAt(attempt),
    mayRepair: mayRepair(attempt, exercise, person),
    reference: person.role === 'instructor' ? referenceBench(exercise) : null,
  };
}
