import express, { Router } from 'express';
import type { Knex } from 'knex';
import { draftChange, draftRequest, emptyRequest, publishRequest } from '@contactum/contract';
import {
  beginDraft,
  discardDraft,
  draftCost,
  draftView,
  draftsOf,
  keepDraft,
  publishDraft,
} from '../domain/authoring/drafts.js';
import { exportLibrary, importLibrary, type ReadLibraryIn } from '../domain/authoring/library.js';
import type { CostIn, Judge } from '../runtime/lane.js';
import { bodyOf, idOf, instructorOf, refuseLater, textOf } from './request.js';

/** What is worked out in threads. */
export interface DraftParts {
  readonly judge: Judge;
  readonly readIn: ReadLibraryIn;
  readonly costIn: CostIn;
}

/** Largest library that is taken. */
const LIBRARY_LIMIT = '20mb';

/** Exercises in the making, and whole libraries in and out. */
export function draftRoutes(database: Knex, parts: DraftParts): Router {
  const router = Router();
  drafts(router, database, parts);
  library(router, database, parts);
  return router;
}

function drafts(router: Router, database: Knex, { judge, costIn }: DraftParts): void {
  router.get('/drafts', async (request, response) => {
    response.json(await draftsOf(database, instructorOf(request)));
  });
  router.post('/drafts', async (request, response) => {
    const instructor = instructorOf(request);
    response.status(201).json(await beginDraft(database, bodyOf(request, draftRequest), instructor));
  });
  router.get('/drafts/:id', async (request, response) => {
    response.json(await draftView(database, idOf(request, 'draft'), instructorOf(request)));
  });
  router.put('/drafts/:id', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(
      await keepDraft(database, idOf(request, 'draft'), bodyOf(request, draftChange), instructor),
    );
  });
  router.delete('/drafts/:id', async (request, response) => {
    await discardDraft(database, idOf(request, 'draft'), instructorOf(request));
    response.status(204).end();
  });
  router.post('/drafts/:id/publish', async (request, response) => {
    const instructor = instructorOf(request);
    const { note } = bodyOf(request, publishRequest);
    const published = await publishDraft(database, idOf(request, 'draft'), note, instructor, judge);
    response.status(published.ok ? 201 : 200).json(published);
  });

  /** What marking one attempt at it takes, before it is published. */
  router.post('/drafts/:id/cost', async (request, response) => {
    const instructor = instructorOf(request);
    bodyOf(request, emptyRequest);
    response.json(await draftCost(database, idOf(request, 'draft'), instructor, costIn));
  });
}

function library(router: Router, database: Knex, { judge, readIn }: DraftParts): void {
  router.get('/library.zip', async (request, response) => {
    instructorOf(request);
    const ids = (textOf(request, 'ids') ?? '').split(',').filter(Boolean);
    response
      .type('application/zip')
      .attachment('exercises.zip')
      .send(await exportLibrary(database, ids));
  });
  router.post(
    '/library',
    // Before its body is read.
    (request, _response, next) => {
      try {
        instructorOf(request);
        next();
      } catch (error) {
        refuseLater(next, error);
      }
    },
    express.raw({ type: ['application/zip', 'application/octet-stream'], limit: LIBRARY_LIMIT }),
    async (request, response) => {
      const instructor = instructorOf(request);
      const body = Buffer.isBuffer(request.body)
        ? request.body
        : Buffer.from(JSON.stringify(request.body ?? ''));
      const name = (textOf(request, 'name') ?? 'library').slice(0, 120);
      const commit = request.query.commit === 'yes';
      response.json(await importLibrary(database, { body, name, commit }, instructor, { judge, readIn }));
    },
  );
}
