import type { Knex } from 'knex';
import type { MarkBook, MarkCell, Person } from '@contactum/contract';
import { AssignmentModel, AttemptModel } from '../database/models.js';
import { resultOf } from './attempts.js';
import { requireOwnClass } from './permissions.js';

/** The mark book of a class of an instructor's own, and the attempts in it. */
export async function markBook(
  database: Knex,
  classId: string,
  instructor: Person,
): Promise<{ book: MarkBook; attempts: AttemptModel[] }> {
  const group = await requireOwnClass(database, classId, instructor);
  await group
    .$fetchGraph('members(byName)', { transaction: database as never })
    .modifiers({ byName: (query) => void query.orderBy('name') });
  const assignments = await AssignmentModel.query(database).where({ classId }).orderBy('setAt');
  const attempts = await AttemptModel.query(database)
    .whereIn(
      'assignmentId',
      assignments.map(({ id }) => id),
    )
    .withGraphFetched('[assignment, student, marking, changes, remarks]')
    .orderBy('handedInAt');
  const book: MarkBook = {
    id: group.id,
    name: group.name,
    assignments: assignments.map(({ id, exerciseId, document, dueAt }) => ({
      id,
      exerciseId,
      title: document.title,
      dueAt: dueAt?.toISOString() ?? null,
    })),
    students: (group.members ?? []).map(({ id, name }) => ({
      id,
      name,
      cells: assignments.map((assignment) =>
        cellOf(
          attempts.filter((attempt) => attempt.studentId === id && attempt.assignmentId === assignment.id),
        ),
      ),
    })),
    losses: assignments.map(({ id }) => lossesOf(attempts.filter(({ assignmentId }) => assignmentId === id))),
  };
  return { book, attempts };
}

/** The best marked attempt counts; before there is one, the attempt under way. */
function cellOf(attempts: readonly AttemptModel[]): MarkCell | null {
  const marked = attempts
    .map((attempt) => ({ attempt, result: resultOf(attempt) }))
    .filter(({ result }) => result !== null);
  const rank = ({ result }: { result: ReturnType<typeof resultOf> }) =>
    (result?.passed ? 1e6 : 0) + (result?.score ?? 0);
  const best = marked.reduce<(typeof marked)[number] | null>(
    (top, one) => (top === null || rank(one) > rank(top) ? one : top),
    null,
  );
  const shown = best?.attempt ?? attempts.at(-1);
  if (!shown) return null;
  return { attemptId: shown.id, attempts: attempts.length, state: shown.state, result: best?.result ?? null };
}

function lossesOf(attempts: readonly AttemptModel[]): MarkBook['losses'][number] {
  const count = new Map<string, MarkBook['losses'][number][number]>();
  for (const { marking } of attempts) {
    for (const { part, id, title, evidence } of marking?.report.criteria ?? []) {
      if (!evidence) continue;
      const key = `${part} ${id}`;
      count.set(key, { part, title, attempts: (count.get(key)?.attempts ?? 0) + 1 });
    }
  }
  return [...count.values()]
    .sort((a, b) => b.attempts - a.attempts || a.title.localeCompare(b.title))
    .slice(0, 6);
}

/** One attempt as a row of a table. */
export function markRow(
  book: Pick<MarkBook, 'name'>,
  attempt: AttemptModel,
): Record<string, string | number> {
  const result = resultOf(attempt);
  return {
    Class: book.name,
    Student: attempt.student?.name ?? '',
    Login: attempt.student?.login ?? '',
    Exercise: attempt.assignment?.document.title ?? '',
    Attempt: attempt.number,
    State: attempt.state,
    'Handed in': attempt.handedInAt?.toISOString() ?? '',
    Points: result?.score ?? '',
    'Of points': result?.max ?? '',
    Passed: result ? (result.passed ? 'yes' : 'no') : '',
    'Changed by instructor': result?.changed ? 'yes' : 'no',
    Remarks: (attempt.remarks ?? []).map(({ text }) => text).join(' / '),
    'Why not passed': result?.reason ?? attempt.failure ?? '',
  };
}
