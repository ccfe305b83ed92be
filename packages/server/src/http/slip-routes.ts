import { Router } from 'express';
import { emptyRequest, markAgainRequest, pointsRequest, remarkRequest } from '@contactum/contract';
import type { Slips } from '../domain/attempts/slips.js';
import type { Packs } from '../domain/records/packs.js';
import { bodyOf, idOf, instructorOf, personOf } from './request.js';

/** Slips: read by the student and the instructor, changed by the instructor. */
export function slipRoutes(slips: Slips, packs: Packs): Router {
  const router = Router();

  router.get('/attempts/:id/slip', async (request, response) => {
    response.json(await slips.of(idOf(request, 'attempt'), personOf(request)));
  });

  router.get('/attempts/:id/pack.zip', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    response
      .type('application/zip')
      .attachment(`pack-${id}.zip`)
      .send(await packs.of(id, instructor));
  });

  router.get('/attempts/:id/board', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await slips.boardOf(idOf(request, 'attempt'), instructor));
  });

  router.post('/attempts/:id/permission', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    bodyOf(request, emptyRequest);
    response.status(201).json(await slips.permit(id, instructor));
  });

  router.post('/attempts/:id/mark-again', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { exercise } = bodyOf(request, markAgainRequest);
    response.status(201).json(await slips.markAgain(id, instructor, exercise));
  });

  router.post('/attempts/:id/remarks', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { text } = bodyOf(request, remarkRequest);
    response.status(201).json(await slips.remark(id, instructor, text));
  });

  router.post('/attempts/:id/points', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const change = bodyOf(request, pointsRequest);
    response.status(201).json(await slips.changePoints(id, instructor, change));
  });

  return router;
}
