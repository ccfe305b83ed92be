import { quantileSorted } from 'd3-array';
import type { Knex } from 'knex';
import { resultWith, type Part, type Report } from '@contactum/core';
import type {
  AttemptState,
  AttemptSummary,
  Counts,
  Loss,
  MarkBook,
  MarkCell,
  Person,
  PointChange,
  Result,
  Spread,
  StudentRecord,
} from '@contactum/contract';
import {
  AssignmentModel,
  AttemptModel,
  PersonModel,
  type ClassModel,
  type LostCriterion,
} from '../../database/models.js';
import { hoursAt, resultOf, summaryOf } from './attempts.js';
import { requireOwnClass } from '../people/permissions.js';
import { coder } from '../records/certificates.js';
import { notFound } from '../../runtime/refusal.js';

/** An attempt as a mark book needs it: without its report, which is long. */
export interface BookAttempt {
  readonly id: string;
  readonly assignmentId: string;
  readonly studentId: string;
  readonly number: number;
  readonly state: AttemptState;
  readonly handedInAt: Date | null;
  readonly failure: string | null;
  readonly result: Result | null;
  readonly lost: readonly LostCriterion[];
  /** False of a sheet of a student's own that no instructor has confirmed. */
  readonly confirmed: boolean;
}

interface BookRow extends Omit<BookAttempt, 'result' | 'lost'> {
  readonly score: number | null;
  readonly recorded: number | null;
  readonly max: number | null;
  readonly passed: boolean | null;
  readonly reason: string | null;
  readonly lost: readonly LostCriterion[] | null;
  readonly changes:
    readonly { readonly part: Part; readonly criterion: string; readonly after: number }[] | null;
}

/**
 * The attempts at some assignments, without their reports; of those whose points were changed the report is
 * worked out.
 */
export async function bookAttempts(database: Knex, assignmentIds: readonly string[]): Promise<BookAttempt[]> {
  const rows = await database('attempts as t')
    .leftJoin('markings as m', 'm.attempt_id', 't.id')
    .whereIn('t.assignment_id', [...assignmentIds])
    .orderBy(['t.handed_in_at', 't.number'])
    .select<BookRow[]>(
      't.id',
      't.assignment_id',
      't.student_id',
      't.number',
      't.state',
      't.handed_in_at',
      't.failure',
      't.confirmed',
      'm.score',
      'm.recorded',
      'm.max',
      'm.passed',
      'm.reason',
      'm.lost',
      database.raw(
        `(select json_agg(json_build_object('part', c.part, 'criterion', c.criterion, 'after', c.after) order by c.at) from point_changes c where c.attempt_id = t.id) as changes`,
      ),
    );
  const changed = rows.filter(({ changes }) => changes !== null).map(({ id }) => id);
  const reports = await database('markings')
    .whereIn('attempt_id', changed)
    .select<{ attemptId: string; report: Report }[]>('attempt_id', 'report');
  const reportOf = new Map(reports.map(({ attemptId, report }) => [attemptId, report]));
  return rows.map(({ score, recorded, max, passed, reason, lost, changes, ...row }): BookAttempt => {
    const report = reportOf.get(row.id);
    const plain =
      score === null || recorded === null || max === null
        ? null
        : { score, recorded, max, passed: passed ?? false, reason, changed: false };
    const result =
      report && changes
        ? resultWith(
            report,
            changes.map(({ part, criterion, after }) => ({ part, criterion, to: after })),
          )
        : plain;
    return { ...row, result, lost: lost ?? [] };
  });
}

export const byKey = <T>(rows: readonly T[], key: (row: T) => string): ReadonlyMap<string, T[]> => {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const own = groups.get(key(row));
    if (own) own.push(row);
    else groups.set(key(row), [row]);
  }
  return groups;
};

const isConfirmed = ({ confirmed }: BookAttempt): boolean => confirmed;

/** The mark book of a class of an instructor's own, and the attempts in it. */
export async function markBook(
  database: Knex,
  classId: string,
  instructor: Person,
): Promise<{ book: MarkBook; attempts: BookAttempt[]; group: ClassModel }> {
  const group = await requireOwnClass(database, classId, instructor);
  await group.$fetchGraph('members(byName)', { transaction: database as never }).modifiers({
    byName: (query) => void query.orderBy('name').select('people.id', 'people.name', 'people.login'),
  });
  const assignments = (await AssignmentModel.query(database)
    .where({ classId })
    .where((query) =>
      query
        .whereNull('withdrawnAt')
        .orWhereExists(database('attempts').where('assignment_id', database.ref('assignments.id'))),
    )
    .orderBy('setAt')
    .select(
      'id',
      'exerciseId',
      'dueAt',
      'counts',
      'mode',
      database.raw("document->>'title' as title"),
    )) as (AssignmentModel & { title: string })[];
  const attempts = await bookAttempts(
    database,
    assignments.map(({ id }) => id),
  );
  const cells = byKey(attempts, ({ assignmentId, studentId }) => `${assignmentId} ${studentId}`);
  const members = group.members ?? [];
  const students = members.map(({ id, name }) => ({
    id,
    name,
    cells: assignments.map(({ id: assignmentId, counts, dueAt }) =>
      cellOf(cells.get(`${assignmentId} ${id}`) ?? [], counts, dueAt),
    ),
  }));
  const byAssignment = byKey(attempts, ({ assignmentId }) => assignmentId);
  const book: MarkBook = {
    id: group.id,
    name: group.name,
    term: group.term,
    assignments: assignments.map(({ id, exerciseId, title, dueAt, counts, mode }, k) => ({
      id,
      exerciseId,
      title,
      dueAt: dueAt?.toISOString() ?? null,
      counts,
      mode,
      spread: spreadOf(students.flatMap(({ cells: own }) => own[k]?.result ?? [])),
    })),
    students,
    losses: assignments.map(({ id }) => lossesOf((byAssignment.get(id) ?? []).filter(isConfirmed), 6)),
  };
  return { book, attempts, group };
}

/** The marked attempt that counts, the best or the last; none that is not confirmed. */
export function counting<T extends { readonly result: Result | null; readonly confirmed: boolean }>(
  attempts: readonly T[],
  counts: Counts,
): T | undefined {
  const marked = attempts.filter(({ result, confirmed }) => result !== null && confirmed);
  if (counts === 'last') return marked.at(-1);
  const rank = ({ result }: T) => (result?.passed ? 1e6 : 0) + (result?.recorded ?? 0);
  return marked.reduce<T | undefined>(
    (top, one) => (top === undefined || rank(one) > rank(top) ? one : top),
    undefined,
  );
}

function cellOf(attempts: readonly BookAttempt[], counts: Counts, dueAt: Date | null): MarkCell | null {
  const inOrder = attempts.toSorted((a, b) => a.number - b.number);
  const best = counting(inOrder, counts);
  const shown = best ?? inOrder.at(-1);
  if (!shown) return null;
  const late = dueAt !== null && shown.handedInAt !== null && shown.handedInAt > dueAt;
  return {
    attemptId: shown.id,
    attempts: attempts.length,
    state: shown.state,
    late,
    result: best?.result ?? null,
    unconfirmed: best || shown.confirmed ? null : shown.result,
  };
}

/**
 * Least, quarters, median and most, per cent; quartiles by linear interpolation (Hyndman and Fan’s seventh
 * definition, from memory).
 */
export function spreadOf(results: readonly Pick<Result, 'recorded' | 'max' | 'passed'>[]): Spread | null {
  const marks = results
    .map(({ recorded, max }) => (max > 0 ? (100 * recorded) / max : 0))
    .toSorted((a, b) => a - b);
  if (marks.length === 0) return null;
  const at = (part: number): number => quantileSorted(marks, part) ?? 0;
  const round = (value: number) => Math.round(value * 10) / 10;
  return {
    least: round(at(0)),
    low: round(at(0.25)),
    median: round(at(0.5)),
    high: round(at(0.75)),
    most: round(at(1)),
    marks: marks.map(round),
    passed: results.filter(({ passed }) => passed).length,
  };
}

/** What points were lost by, most frequent first. */
export function lossesOf(attempts: readonly Pick<BookAttempt, 'lost'>[], most: number): Loss[] {
  const count = new Map<string, Loss>();
  for (const { lost } of attempts)
    for (const { part, id, title } of lost) {
      const key = `${part} ${id}`;
      count.set(key, { part, id, title, attempts: (count.get(key)?.attempts ?? 0) + 1 });
    }
  return [...count.values()]
    .sort((a, b) => b.attempts - a.attempts || a.title.localeCompare(b.title))
    .slice(0, most);
}

/** One attempt as a row of a table. */
function markRow(
  {
    book,
    logins,
    remarks,
  }: {
    readonly book: MarkBook;
    readonly logins: ReadonlyMap<string, string>;
    readonly remarks: ReadonlyMap<string, string>;
  },
  attempt: BookAttempt,
): Record<string, string | number> {
  const { result } = attempt;
  // An unconfirmed sheet has earned points, and none are recorded.
  const counted = attempt.confirmed ? result : null;
  const column = book.assignments.findIndex(({ id }) => id === attempt.assignmentId);
  return {
    Class: book.name,
    Student: book.students.find(({ id }) => id === attempt.studentId)?.name ?? '',
    Login: logins.get(attempt.studentId) ?? '',
    Exercise: book.assignments[column]?.title ?? '',
    Attempt: attempt.number,
    State: attempt.confirmed ? attempt.state : 'unconfirmed',
    'Handed in': attempt.handedInAt?.toISOString() ?? '',
    Points: counted?.recorded ?? '',
    'Of points': result?.max ?? '',
    Earned: result?.score ?? '',
    Passed: counted ? (counted.passed ? 'yes' : 'no') : '',
    'Changed by instructor': result?.changed ? 'yes' : 'no',
    Remarks: remarks.get(attempt.id) ?? '',
    'Why not passed': result?.reason ?? attempt.failure ?? '',
  };
}

/**
 * The mark book as rows: an attempt a row; or a student a row with a column for each exercise, as grade
 * books take it.
 */
export async function markRows(
  database: Knex,
  classId: string,
  instructor: Person,
  form: 'attempts' | 'gradebook',
): Promise<{ readonly name: string; readonly rows: Record<string, string | number>[] }> {
  const { book, attempts, group } = await markBook(database, classId, instructor);
  const logins = new Map((group.members ?? []).map(({ id, login }) => [id, login]));
  if (form === 'gradebook')
    return { name: book.name, rows: book.students.map((row) => gradebookRow(book, row, logins)) };
  const said = await database('remarks')
    .whereIn(
      'attempt_id',
      attempts.map(({ id }) => id),
    )
    .orderBy('at')
    .select<{ attemptId: string; text: string }[]>('attempt_id', 'text');
  const remarks = new Map(
    [...byKey(said, ({ attemptId }) => attemptId)].map(([id, list]) => [
      id,
      list.map(({ text }) => text).join(' / '),
    ]),
  );
  return { name: book.name, rows: attempts.map((attempt) => markRow({ book, logins, remarks }, attempt)) };
}

/**
 * Family name and given names, as columns that grade books have; the last word of a name is taken for the
 * family name (common practice, no source).
 */
function gradebookRow(
  book: MarkBook,
  { id, name, cells }: MarkBook['students'][number],
  logins: ReadonlyMap<string, string>,
): Record<string, string | number> {
  const words = name.split(/\s+/);
  const titles = book.assignments.map(({ title }, k) => {
    const same = book.assignments.filter((one) => one.title === title);
    return same.length > 1
      ? `${title} (${same.indexOf(book.assignments[k] as (typeof same)[number]) + 1})`
      : title;
  });
  return {
    'Last name': words.at(-1) ?? '',
    'First name': words.slice(0, -1).join(' '),
    Username: logins.get(id) ?? '',
    ...Object.fromEntries(
      cells.map((cell, k) => [
        `${titles[k] ?? ''} [Total points: ${cell?.result?.max ?? 100}]`,
        cell?.result?.recorded ?? '',
      ]),
    ),
  };
}

/**
 * One student of a class of an instructor's own, with every criterion of what counts and every change of
 * points.
 */
export async function studentRecord(
  database: Knex,
  classId: string,
  studentId: string,
  instructor: Person,
): Promise<StudentRecord> {
  const group = await requireOwnClass(database, classId, instructor);
  const student = await PersonModel.query(database).findById(studentId);
  const assignments = await AssignmentModel.query(database)
    .where({ classId })
    .orderBy('setAt')
    .withGraphFetched('attempts(own).[marking, changes.author]')
    .modifiers({ own: (query) => void query.where({ studentId }).orderBy('number') });
  const codeOf = await coder(database);
  const tried = assignments.filter(({ attempts }) => (attempts ?? []).length > 0);
  const member = await database('class_members')
    .where({ class_id: classId, student_id: studentId })
    .select<{ studentId: string }[]>('student_id');
  if (!student || (member.length === 0 && tried.length === 0)) throw notFound('student');
  return {
    student: { id: student.id, name: student.name, login: student.login },
    className: group.name,
    term: group.term,
    exercises: tried.map((assignment) => exerciseRecord(assignment, codeOf)),
  };
}

function exerciseRecord(
  { id, document, counts, attempts = [] }: AssignmentModel,
  codeOf: Awaited<ReturnType<typeof coder>>,
): StudentRecord['exercises'][number] {
  const best = counting(
    attempts.map((attempt) => ({
      attempt,
      result: resultOf(attempt),
      confirmed: attempt.confirmed,
    })),
    counts,
  )?.attempt;
  const result = best ? resultOf(best) : null;
  const changes = best?.changes ?? [];
  const pointsOf = (part: Part, criterion: string, points: number): number =>
    changes.findLast((one) => one.part === part && one.criterion === criterion)?.after ?? points;
  return {
    assignmentId: id,
    title: document.title,
    attempts: attempts.map((attempt): AttemptSummary & { counts: boolean } => ({
      ...summaryOf(attempt, null),
      counts: attempt === best,
    })),
    criteria: (best?.marking?.report.criteria ?? []).map(({ part, id: criterion, title, points, max }) => ({
      part,
      id: criterion,
      title,
      points: pointsOf(part, criterion, points),
      max,
    })),
    changes: attempts.flatMap((attempt) => (attempt.changes ?? []).map(changeView)),
    hours: attempts.reduce((sum, attempt) => sum + (attempt.confirmed ? hoursAt(attempt) : 0), 0),
    code: result && best ? codeOf({ number: best.id, recorded: result.recorded, max: result.max }) : null,
  };
}

export const changeView = ({
  id,
  part,
  criterion,
  before,
  after,
  reason,
  author,
  at,
}: NonNullable<AttemptModel['changes']>[number]): PointChange => ({
  id,
  part,
  criterion,
  from: before,
  to: after,
  reason,
  by: author?.name ?? '',
  at: at.toISOString(),
});
