import { Router } from 'express';
import type { Knex } from 'knex';
import { emptyRequest, personChange, personRequest } from '@contactum/contract';
import { auditLines } from '../domain/people/audit.js';
import {
  addPerson,
  changePerson,
  endSessions,
  erasePerson,
  exportPerson,
  listPeople,
  resetPassword,
} from '../domain/people/people.js';
import { administratorOf, bodyOf, idOf, instructorOf, textOf } from './request.js';

/** People and records: administrators keep everybody, instructors the students of their own classes. */
export function peopleRoutes(database: Knex): Router {
  const router = Router();

  router.get('/people', async (request, response) => {
    const keeper = instructorOf(request);
    response.json(
      await listPeople(database, keeper, { text: textOf(request, 'text'), role: textOf(request, 'role') }),
    );
  });
  router.post('/people', async (request, response) => {
    const administrator = administratorOf(request);
    const asked = bodyOf(request, personRequest);
    response.status(201).json(await database.transaction((trx) => addPerson(trx, asked, administrator)));
  });
  router.patch('/people/:id', async (request, response) => {
    const administrator = administratorOf(request);
    response.json(
      await changePerson(database, idOf(request, 'person'), bodyOf(request, personChange), administrator),
    );
  });
  router.post('/people/:id/reset', async (request, response) => {
    const keeper = instructorOf(request);
    bodyOf(request, emptyRequest);
    response.json(await resetPassword(database, idOf(request, 'person'), keeper));
  });
  router.post('/people/:id/end-sessions', async (request, response) => {
    const keeper = instructorOf(request);
    bodyOf(request, emptyRequest);
    response.json({ ended: await endSessions(database, idOf(request, 'person'), keeper) });
  });
  router.get('/people/:id/export', async (request, response) => {
    const administrator = administratorOf(request);
    const data = await exportPerson(database, idOf(request, 'person'), administrator);
    response.attachment('person.json').json(data);
  });
  router.delete('/people/:id', async (request, response) => {
    await erasePerson(database, idOf(request, 'person'), administratorOf(request));
    response.status(204).end();
  });
  router.get('/audit', async (request, response) => {
    const person = instructorOf(request);
    response.json(
      await auditLines(database, person, {
        kind: textOf(request, 'kind'),
        text: textOf(request, 'text'),
        before: textOf(request, 'before'),
      }),
    );
  });

  return router;
}
