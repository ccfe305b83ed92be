import { Router } from 'express';
import { connectRequest, scannerRequest, workedRequest } from '@contactum/contract';
import type { Scanners } from '../domain/scanners/scanners.js';
import { bodyOf, idOf, instructorOf, personOf, studentOf } from './request.js';

/** Scanners of physical boards: which there are, and what somebody who works at a board does with one. */
export function scannerRoutes(scanners: Scanners): Router {
  const router = Router();

  router.get('/scanners', async (request, response) => {
    response.json(await scanners.list(personOf(request)));
  });

  router.post('/scanners', async (request, response) => {
    const instructor = instructorOf(request);
    response.status(201).json(await scanners.add(bodyOf(request, scannerRequest).name, instructor));
  });

  router.delete('/scanners/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'scanner');
    await scanners.requireTaught(id, instructor);
    await scanners.remove(id, instructor);
    response.status(204).end();
  });

  router.post('/scanners/:id/connect', async (request, response) => {
    const student = studentOf(request);
    const { attemptId } = bodyOf(request, connectRequest);
    response.json(await scanners.connect(idOf(request, 'scanner'), attemptId, student));
  });

  router.post('/scanners/:id/leave', async (request, response) => {
    const person = personOf(request);
    const id = idOf(request, 'scanner');
    if (person.role !== 'student') await scanners.requireTaught(id, person);
    await scanners.leave(id, person);
    response.status(204).end();
  });

  router.post('/scanners/:id/worked', async (request, response) => {
    const student = studentOf(request);
    const { steps } = bodyOf(request, workedRequest);
    response.status(201).json(await scanners.takeWorked(idOf(request, 'scanner'), steps, student));
  });

  router.post('/scanners/:id/open', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'scanner');
    await scanners.requireTaught(id, instructor);
    await scanners.open(id, instructor);
    response.status(204).end();
  });

  return router;
}
