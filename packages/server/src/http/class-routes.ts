import { Router } from 'express';
import type { Knex } from 'knex';
import papa from 'papaparse';
import type { ClassSummary, MarkBook, MarkCell, Person } from '@contactum/contract';
import { resultOf } from '../attempts.js';
import { AssignmentModel, AttemptModel, ClassModel } from '../database/models.js';
import { notFound } from './errors.js';
import { idOf, instructorOf } from './request.js';

/** The instructor's classes and their mark books. */
export function classRoutes(database: Knex): Router {
  const router = Router();

  router.get('/classes', async (request, response) => {
    const instructor = instructorOf(request);
    const rows = await database('classes')
      .where('instructor_id', instructor.id)
      .orderBy('name')
      .select<{ id: string; name: string; students: number; assignments: number }[]>(
        'id',
        'name',
        database.raw('(select count(*)::int from class_members m where m.class_id = classes.id) as students'),
        database.raw(
          '(select count(*)::int from assignments a where a.class_id = classes.id) as assignments',
        ),
      );
    const classes: ClassSummary[] = rows;
    response.json(classes);
  });

  router.get('/classes/:id/marks', async (request, response) => {
    response.json((await markBook(database, idOf(request, 'class'), instructorOf(request))).book);
  });

  router.get('/classes/:id/marks.csv', async (request, response) => {
    const { book, attempts } = await markBook(database, idOf(request, 'class'), instructorOf(request));
    const rows = attempts.map((attempt) => {
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
    });
    // A spreadsheet must not run what a cell begins with.
    const csv = papa.unparse(rows, { escapeFormulae: true, newline: '\r\n' });
    response
      .type('text/csv; charset=utf-8')
      .attachment(`${book.name.replace(/[^\w -]+/g, '')} marks.csv`)
      .send(`\uFEFF${csv}\r\n`);
  });

  return router;
}

async function markBook(
  database: Knex,
  classId: string,
  instructor: Person,
): Promise<{ book: MarkBook; attempts: AttemptModel[] }> {
  const group = await ClassModel.query(database)
    .findById(classId)
    .where({ instructorId: instructor.id })
    .withGraphFetched('members(byName)')
    .modifiers({ byName: (query) => void query.orderBy('name') });
  if (!group) throw notFound('class');
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
