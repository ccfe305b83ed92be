import { Router } from 'express';
import type { Knex } from 'knex';
import { emptyRequest, logEntryRequest, pointsRequest, remarkRequest, type AttemptView, type LogEntryRequest } from '@contactum/contract';
import { appendEntry, forStudent, handIn, logEntries, logOf, openAttempt, slipOf, summaryOf } from '../attempts.js';
import { AttemptModel, PointChangeModel, RemarkModel } from '../database/models.js';
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
    const attempt = await AttemptModel.query(database).findById(id).where({ studentId: student.id }).withGraphFetched('[assignment.class, marking, changes]');
    if (!attempt?.assignment) throw notFound('attempt');
    const view: AttemptView = {
      attempt: summaryOf(attempt),
      className: attempt.assignment.class?.name ?? '',
      exercise: forStudent(attempt.assignment.document),
      log: logEntries(await logOf(database, id)),
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
