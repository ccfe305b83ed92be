import { Router } from 'express';
import type { Knex } from 'knex';
import { isSearch } from '@contactum/core';
import {
  emptyRequest,
  hintRequest,
  logEntryRequest,
  type HintRequest,
  type LogEntryRequest,
} from '@contactum/contract';
import {
  attemptView,
  openAttempt,
  ownSummary,
  summaryOf,
  type VariantIn,
} from '../domain/attempts/attempts.js';
import { attemptProgress } from '../domain/attempts/slips.js';
import type { Journal } from '../domain/attempts/journal.js';
import { requireOwnAttempt } from '../domain/people/permissions.js';
import { Refusal, notFound } from '../runtime/refusal.js';
import { Pace } from '../security/pace.js';
import type { Searches } from '../domain/searches/searches.js';
import type { Hints } from '../domain/attempts/hints.js';
import type { Places } from '../domain/assessments/place.js';
import type { HandIn } from '../domain/attempts/desk.js';
import { addressOf, bodyOf, idOf, studentOf } from './request.js';

interface Parts {
  readonly database: Knex;
  readonly journal: Journal;
  readonly handIn: HandIn;
  readonly hints: Hints;
  readonly searches: Searches;
  readonly places: Places;
  readonly variantIn: VariantIn;
}

/** A student's attempts: open, wire, hand in. */
export function attemptRoutes(parts: Parts): Router {
  const { database, journal, handIn, hints, searches, places, variantIn } = parts;
  const router = Router();

  router.post('/assignments/:id/attempts', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const { attempt, created } = await openAttempt(database, idOf(request, 'assignment'), student, variantIn);
    response.status(created ? 201 : 200).json(summaryOf(attempt, null));
  });

  router.get('/attempts/:id', async (request, response) => {
    const student = studentOf(request);
    response.json(await attemptView(database, idOf(request, 'attempt'), student));
  });

  router.get('/attempts/:id/search', async (request, response) => {
    const student = studentOf(request);
    const attempt = await requireOwnAttempt(database, idOf(request, 'attempt'), student);
    const { exercise } = attempt;
    if (!exercise || !isSearch(exercise)) throw notFound('search');
    response.json({ id: (await searches.ofAttempt(attempt, exercise)).id });
  });

  router.get('/attempts/:id/progress', async (request, response) => {
    const student = studentOf(request);
    response.json(await attemptProgress(database, journal, idOf(request, 'attempt'), student));
  });

  // Each is worked out anew: somebody who asks again and again waits.
  const asking = new Pace(10, 1);
  router.get('/attempts/:id/hints', async (request, response) => {
    response.json(await hints.of(idOf(request, 'attempt'), studentOf(request)));
  });

  router.post('/attempts/:id/hints', async (request, response) => {
    const student = studentOf(request);
    const { degree } = bodyOf<HintRequest>(request, hintRequest);
    if (!asking.admits(student.id)) throw new Refusal('too-many', 'One hint at a time: wait a moment.');
    response.status(201).json(await hints.take(idOf(request, 'attempt'), degree, student));
  });

  router.post('/attempts/:id/log', async (request, response) => {
    const student = studentOf(request);
    const id = idOf(request, 'attempt');
    const entry = bodyOf<LogEntryRequest>(request, logEntryRequest);
    await places.require(id, addressOf(request));
    response.status(201).json(await journal.append(id, student.id, entry));
  });

  router.post('/attempts/:id/hand-in', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const id = idOf(request, 'attempt');
    await handIn(id, student.id);
    response.status(202).json(await ownSummary(database, id, student));
  });

  return router;
}
