import { Router } from 'express';
import type { Knex } from 'knex';
import ical from 'ical-generator';
import { confirmRequest, sheetRequest, type SheetRequest } from '@contactum/contract';
import { writeCsv } from '@contactum/core/exchange';
import { dueDates } from '../domain/classes/calendar.js';
import { LOGBOOK_COLUMNS, logbookOf, logbookRows } from '../domain/attempts/logbook.js';
import type { Sheets } from '../domain/attempts/sheets.js';
import { bodyOf, idOf, instructorOf, personOf, studentOf } from './request.js';

/** Paper and records: bench sheets out and back, the logbook, the calendar of due dates. */
export function sheetRoutes(database: Knex, sheets: Sheets): Router {
  const router = Router();

  router.get('/assignments/:id/sheet', async (request, response) => {
    response.json(await sheets.toTake(idOf(request, 'setting'), personOf(request)));
  });

  router.post('/assignments/:id/sheets', async (request, response) => {
    const person = personOf(request);
    const given = bodyOf<SheetRequest>(request, sheetRequest);
    response.status(201).json(await sheets.take(idOf(request, 'setting'), given, person));
  });

  router.get('/assignments/:id/wiring/:student', async (request, response) => {
    const student = idOf(request, 'student', 'student');
    response.json(await sheets.wiringOf(idOf(request, 'setting'), student, personOf(request)));
  });

  router.get('/attempts/:id/sheet', async (request, response) => {
    response.json(await sheets.of(idOf(request, 'attempt'), personOf(request)));
  });

  router.get('/sheets/waiting', async (request, response) => {
    response.json(await sheets.waiting(instructorOf(request)));
  });

  router.post('/attempts/:id/sheet/confirm', async (request, response) => {
    const instructor = instructorOf(request);
    await sheets.confirm(idOf(request, 'attempt'), bodyOf(request, confirmRequest), instructor);
    response.status(204).end();
  });

  router.get('/attempts/:id/sheet/photo', async (request, response) => {
    const { type, data } = await sheets.photoOf(idOf(request, 'attempt'), personOf(request));
    response.type(type).send(data);
  });

  router.get('/logbook', async (request, response) => {
    response.json(await logbookOf(database, studentOf(request)));
  });

  router.get('/logbook.csv', async (request, response) => {
    const book = await logbookOf(database, studentOf(request));
    response
      .type('text/csv; charset=utf-8')
      .attachment('logbook.csv')
      .send(`\uFEFF${writeCsv(LOGBOOK_COLUMNS, logbookRows(book))}`);
  });

  router.get('/calendar.ics', async (request, response) => {
    const calendar = ical({
      name: 'Contactum: due dates',
      prodId: { company: 'Contactum', product: 'due dates' },
    });
    for (const { id, title, className, at, what } of await dueDates(database, personOf(request)))
      calendar.createEvent({
        id: `${id}-${what}@contactum`,
        start: at,
        end: at,
        summary: `${title}: ${what}`,
        description: className,
      });
    response.type('text/calendar; charset=utf-8').attachment('due-dates.ics').send(calendar.toString());
  });

  return router;
}
