import { Router } from 'express';
import type { Knex } from 'knex';
import papa from 'papaparse';
import type { ClassSummary } from '@contactum/contract';
import { markBook, markRow } from '../domain/mark-book.js';
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
    const rows = attempts.map((attempt) => markRow(book, attempt));
    // A spreadsheet must not run what a cell begins with.
    const csv = papa.unparse(rows, { escapeFormulae: true, newline: '\r\n' });
    response
      .type('text/csv; charset=utf-8')
      .attachment(`${book.name.replace(/[^\w -]+/g, '')} marks.csv`)
      .send(`\uFEFF${csv}\r\n`);
  });

  return router;
}
