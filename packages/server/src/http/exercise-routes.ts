import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import { assignRequest, type ExerciseForInstructor } from '@contactum/contract';
import { ExerciseModel } from '../database/models.js';
import { exerciseSummaries, referenceDrawing, setExercise, settingsOf } from '../domain/assignments.js';
import { forStudent } from '../domain/attempts.js';
import { notFound } from '../domain/refusal.js';
import { bodyOf, idOf, instructorOf, personOf } from './request.js';

/** Exercises, whole for instructors and without their answers for students; and setting them to a class. */
export function exerciseRoutes(database: Knex): Router {
  const router = Router();

  router.get('/exercises', async (request, response) => {
    const person = personOf(request);
    response.json(await exerciseSummaries(database, person));
  });

  router.get('/exercises/:id', async (request, response) => {
    const person = personOf(request);
    const exercise = await exerciseOf(database, request);
    if (person.role === 'student') {
      response.json(forStudent(exercise.document));
      return;
    }
    const whole: ExerciseForInstructor = {
      exercise: exercise.document,
      set: await settingsOf(database, person, exercise.id),
    };
    response.json(whole);
  });

  router.get('/exercises/:id/reference', async (request, response) => {
    instructorOf(request);
    response.json((await exerciseOf(database, request)).document.reference);
  });

  router.get('/exercises/:id/drawing', async (request, response) => {
    const person = personOf(request);
    const { document } = await exerciseOf(database, request);
    const form = request.query.form === 'us' ? 'us' : 'iec';
    response.json(referenceDrawing(document, form, person));
  });

  router.post('/classes/:id/assignments', async (request, response) => {
    const instructor = instructorOf(request);
    const asked = bodyOf(request, assignRequest);
    response.status(201).json(await setExercise(database, idOf(request, 'class'), instructor, asked));
  });

  return router;
}

async function exerciseOf(database: Knex, request: Request): Promise<ExerciseModel> {
  const { id } = request.params;
  const exercise = typeof id === 'string' ? await ExerciseModel.query(database).findById(id) : undefined;
  if (!exercise) throw notFound('exercise');
  return exercise;
}
