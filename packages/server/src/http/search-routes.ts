import { Router } from 'express';
import {
  clearRequest,
  diagnoseRequest,
  emptyRequest,
  injectRequest,
  practiceRequest,
  searchExerciseRequest,
  type DiagnoseRequest,
  type InjectRequest,
  type PracticeRequest,
  type SearchExerciseRequest,
} from '@contactum/contract';
import type { Searches } from '../domain/searches/searches.js';
import { Pace } from '../security/pace.js';
import { bodyOf, idOf, instructorOf, personOf, requirePace } from './request.js';

/** Searches for faults: the student's work, the instructor's desk, and diagnosis of a physical board. */
export function searchRoutes(searches: Searches): Router {
  const router = Router();
  // A hand that works at it asks for far less.
  const practising = new Pace(12, 0.2);
  const diagnosing = new Pace(20, 1);

  router.post('/practice', async (request, response) => {
    const person = personOf(request);
    const asked = bodyOf<PracticeRequest>(request, practiceRequest);
    await requirePace(practising, person);
    response.status(201).json(await searches.practice(person, asked));
  });

  router.get('/searches/:id', async (request, response) => {
    response.json(await searches.view(idOf(request, 'search'), personOf(request)));
  });

  router.get('/searches/:id/causes', async (request, response) => {
    const person = personOf(request);
    await requirePace(diagnosing, person);
    response.json(await searches.causes(idOf(request, 'search'), person));
  });

  router.post('/searches/:id/end', async (request, response) => {
    const person = personOf(request);
    bodyOf(request, emptyRequest);
    response.status(201).json(await searches.endPractice(idOf(request, 'search'), person));
  });

  router.get('/searches/:id/watch', async (request, response) => {
    response.json(await searches.watch(idOf(request, 'search'), instructorOf(request)));
  });

  router.get('/classes/:id/searches', async (request, response) => {
    response.json(await searches.ofClass(idOf(request, 'class'), instructorOf(request)));
  });

  router.post('/searches/inject', async (request, response) => {
    const instructor = instructorOf(request);
    response
      .status(201)
      .json(await searches.inject(instructor, bodyOf<InjectRequest>(request, injectRequest)));
  });

  router.post('/searches/clear', async (request, response) => {
    const instructor = instructorOf(request);
    const { searches: ids } = bodyOf(request, clearRequest);
    response.status(201).json(await searches.clear(instructor, ids));
  });

  router.post('/searches/exercises', async (request, response) => {
    const instructor = instructorOf(request);
    const asked = bodyOf<SearchExerciseRequest>(request, searchExerciseRequest);
    response.status(201).json(await searches.makeExercise(instructor, asked));
  });

  router.post('/exercises/:id/diagnose', async (request, response) => {
    const person = personOf(request);
    const { id } = request.params;
    const asked = bodyOf<DiagnoseRequest>(request, diagnoseRequest);
    await requirePace(diagnosing, person);
    response.json(await searches.diagnose(id, person, asked));
  });

  return router;
}
