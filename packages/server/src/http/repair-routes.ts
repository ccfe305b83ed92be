import { Router } from 'express';
import type { Knex } from 'knex';
import { emptyRequest, type Person } from '@contactum/contract';
import type { Journal } from '../domain/attempts/journal.js';
import { Refusal } from '../runtime/refusal.js';
import { workOf } from '../domain/attempts/slips.js';
import { Desk } from '../domain/attempts/desk.js';
import { Pace } from '../security/pace.js';
import { bodyOf, idOf, personOf } from './request.js';

interface Parts {
  readonly database: Knex;
  readonly journal: Journal;
  readonly desk: Desk;
}

/** Searches for the repair of a marked wiring: asked for, looked at, ended. */
export function repairRoutes({ database, journal, desk }: Parts): Router {
  const router = Router();
  // A search is asked for now and then; how far it is, twice a second.
  const asking = new Pace(4, 0.5);
  const looking = new Pace(10, 4);

  const repairable = async (id: string, person: Person, pace = looking) => {
    if (!pace.admits(person.id)) throw new Refusal('too-many', 'One search at a time: wait for the answer.');
    const work = await workOf(database, journal, id, person);
    if (!work.mayRepair) throw new Refusal('forbidden', 'This exercise does not show its repair.');
    return work;
  };

  router.post('/attempts/:id/repair', async (request, response) => {
    const person = personOf(request);
    const id = idOf(request, 'attempt');
    bodyOf(request, emptyRequest);
    const { exercise, bench } = await repairable(id, person, asking);
    response.status(202).json(await desk.askRepair(id, person.id, exercise, bench));
  });

  router.get('/attempts/:id/repair', async (request, response) => {
    const { exercise, bench } = await repairable(idOf(request, 'attempt'), personOf(request));
    const view = await desk.repair(exercise, bench);
    if (!view) throw new Refusal('not-found', 'No repair was asked for, or its search was ended.');
    response.json(view);
  });

  router.delete('/attempts/:id/repair', async (request, response) => {
    const person = personOf(request);
    const { exercise, bench } = await repairable(idOf(request, 'attempt'), person);
    await desk.cancelRepair(person.id, exercise, bench);
    response.status(204).end();
  });

  return router;
}
