import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import { z } from 'zod';
import { drawingOf, referenceBench } from '@contactum/core';
import type { ExerciseForInstructor } from '@contactum/contract';
import { ExerciseVersionModel, type ExerciseModel } from '../database/models.js';
import { exerciseSummaries } from '../domain/classes/assignments.js';
import { forStudent } from '../domain/attempts/attempts.js';
import { retireExercise, versionsOf } from '../domain/authoring/exercises.js';
import { notFound } from '../runtime/refusal.js';
import { requireExercise, type Sight } from '../domain/people/sight.js';
import { setToClasses } from '../domain/classes/settings.js';
import { bodyOf, instructorOf, personOf } from './request.js';

const retireRequest = z.strictObject({ retired: z.boolean() });

/** Exercises, whole for instructors and without their answers for students. */
export function exerciseRoutes(database: Knex): Router {
  const router = Router();

  router.get('/exercises', async (request, response) => {
    const person = personOf(request);
    response.json(await exerciseSummaries(database, person));
  });

  router.get('/exercises/:id', async (request, response) => {
    const person = personOf(request);
    const { document, id, origin, version, retiredAt } = await exerciseOf(database, request, 'board');
    if (person.role === 'student') {
      response.json(forStudent(document));
      return;
    }
    const whole: ExerciseForInstructor = {
      exercise: document,
      origin,
      version,
      retired: retiredAt !== null,
      set: await setToClasses(database, person, { exerciseId: id }),
    };
    response.json(whole);
  });

  router.patch('/exercises/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const { retired } = bodyOf(request, retireRequest);
    await retireExercise(database, (await exerciseOf(database, request)).id, retired, instructor);
    response.status(204).end();
  });

  router.get('/exercises/:id/document', async (request, response) => {
    instructorOf(request);
    const { id, document } = await exerciseOf(database, request);
    response
      .attachment(`${id}.exercise.json`)
      .type('application/json')
      .send(`${JSON.stringify(document, null, 2)}\n`);
  });

  versions(router, database);
  return router;
}

function versions(router: Router, database: Knex): void {
  router.get('/exercises/:id/versions', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await versionsOf(database, (await exerciseOf(database, request)).id, instructor));
  });

  router.get('/exercises/:id/versions/:version', async (request, response) => {
    instructorOf(request);
    const version = Number(request.params.version);
    const { id } = await exerciseOf(database, request);
    const row = Number.isSafeInteger(version)
      ? await ExerciseVersionModel.query(database).findById([id, version])
      : undefined;
    if (!row) throw notFound('version');
    response.json(row.document);
  });

  router.get('/exercises/:id/reference', async (request, response) => {
    instructorOf(request);
    response.json((await exerciseOf(database, request)).document.reference);
  });

  router.get('/exercises/:id/drawing', async (request, response) => {
    const { document } = await exerciseOf(database, request, 'drawing');
    const form = request.query.form === 'us' ? 'us' : 'iec';
    response.json(drawingOf(referenceBench(document), form));
  });
}

/** The exercise of a request, of which whoever asks may see so much. */
async function exerciseOf(
  database: Knex,
  request: Request,
  sight: Sight = 'answers',
): Promise<ExerciseModel> {
  const { id } = request.params;
  if (typeof id !== 'string') throw notFound('exercise');
  return requireExercise(database, id, personOf(request), sight);
}
