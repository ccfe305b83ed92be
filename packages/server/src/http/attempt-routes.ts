import { Router } from 'express';
import { candidateBench } from '@contactum/core';
import type { Knex } from 'knex';
import { emptyRequest, logEntryRequest, markAgainRequest, pointsRequest, remarkRequest, type AttemptView, type LogEntryRequest, type RepairView } from '@contactum/contract';
import { appendEntry, forStudent, handIn, logEntries, logOf, openAttempt, permittedAt, slipOf, summaryOf, workOf } from '../attempts.js';
import { AttemptModel, ExerciseModel, PermissionModel, PointChangeModel, RemarkModel } from '../database/models.js';
import type { Marker } from '../marking/queue.js';
import { Refusal, notFound } from './errors.js';
import { bodyOf, idOf, instructorOf, personOf, studentOf } from './request.js';

/** A student's attempts: open, wire, hand in; and the slips of them. */
export function attemptRoutes(database: Knex, marker: Marker): Router {
  const router = Router();

  router.post('/assignments/:id/attempts', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const { attempt, created } = await openAttempt(database, idOf(request, 'assignment'), student);
    response.status(created ? 201 : 200).json(summaryOf(attempt));
  });

  router.get('/attempts/:id', async (request, response) => {
    const student = studentOf(request);
    const id = idOf(request, 'attempt');
    const attempt = await AttemptModel.query(database).findById(id).where({ studentId: student.id }).withGraphFetched('[assignment.class, marking, changes, permissions]');
    if (!attempt?.assignment) throw notFound('attempt');
    const view: AttemptView = {
      attempt: summaryOf(attempt),
      className: attempt.assignment.class?.name ?? '',
      exercise: forStudent(attempt.assignment.document),
      log: logEntries(await logOf(database, id)),
      permittedAt: permittedAt(attempt),
    };
    response.json(view);
  });

  router.post('/attempts/:id/log', async (request, response) => {
    const student = studentOf(request);
    const id = idOf(request, 'attempt');
    const entry = bodyOf<LogEntryRequest>(request, logEntryRequest);
    response.status(201).json(await appendEntry(database, id, student, entry));
  });

  router.post('/attempts/:id/hand-in', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const attempt = await handIn(database, idOf(request, 'attempt'), student);
    if (attempt.state === 'handed-in') await marker.enqueue(attempt.id);
    response.status(202).json({ ...summaryOf(attempt) });
  });

  router.get('/attempts/:id/slip', async (request, response) => {
    response.json(await slipOf(database, idOf(request, 'attempt'), personOf(request)));
  });

  router.post('/attempts/:id/permission', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    bodyOf(request, emptyRequest);
    const slip = await slipOf(database, id, instructor);
    if (slip.attempt.state !== 'open') throw new Refusal('conflict', 'This attempt has been handed in; there is nothing to energise.');
    await PermissionModel.query(database).insert({ attemptId: id, authorId: instructor.id });
    response.status(201).json(await slipOf(database, id, instructor));
  });

  router.post('/attempts/:id/mark-again', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { exercise: which } = bodyOf(request, markAgainRequest);
    const { exercise: set, bench, isMarked } = await workOf(database, id, instructor);
    if (!isMarked) throw new Refusal('conflict', 'This attempt is not marked yet.');
    const now = which === 'now' ? (await ExerciseModel.query(database).findById(set.id))?.document : undefined;
    const exercise = now ?? set;
    // The board of the exercise may have changed since; a wiring of another board cannot be marked by it.
    const fitted = candidateBench(exercise, bench);
    const problem = 'problems' in fitted ? fitted.problems[0] : undefined;
    if (problem) throw new Refusal('conflict', `The board has changed since this attempt: ${problem.path}: ${problem.message}. Mark it by the exercise as it was set.`);
    await marker.markAgain(id, exercise);
    response.status(201).json(await slipOf(database, id, instructor));
  });

  router.get('/attempts/:id/repair', async (request, response) => {
    const id = idOf(request, 'attempt');
    const { exercise, bench, mayRepair } = await workOf(database, id, personOf(request));
    if (!mayRepair) throw new Refusal('forbidden', 'This exercise does not show its repair.');
    const waiting = new AbortController();
    response.on('close', () => waiting.abort());
    try {
      const view: RepairView = await marker.repair(exercise, bench, waiting.signal);
      response.json(view);
    } catch (error) {
      if (!waiting.signal.aborted) throw error;
    }
  });

  router.post('/attempts/:id/remarks', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { text } = bodyOf(request, remarkRequest);
    await slipOf(database, id, instructor);
    await RemarkModel.query(database).insert({ attemptId: id, text, authorId: instructor.id });
    response.status(201).json(await slipOf(database, id, instructor));
  });

  router.post('/attempts/:id/points', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { part, criterion, points, reason } = bodyOf(request, pointsRequest);
    const slip = await slipOf(database, id, instructor);
    const row = slip.report?.criteria.find((c) => c.part === part && c.id === criterion);
    if (!row)
      throw new Refusal('invalid', `criterion: "${criterion}" is not a criterion of this slip`, { problems: [{ path: 'criterion', message: 'is not a criterion of this slip' }] });
    const after = Math.round(points * 10) / 10;
    if (after > row.max)
      throw new Refusal('invalid', `points: must be at most ${row.max}, is ${points}`, { problems: [{ path: 'points', message: `must be at most ${row.max}` }] });
    const before = slip.changes.findLast((change) => change.part === part && change.criterion === criterion)?.to ?? row.points;
    await PointChangeModel.query(database).insert({ attemptId: id, part, criterion, before, after, reason, authorId: instructor.id });
    response.status(201).json(await slipOf(database, id, instructor));
  });

  return router;
}
