import { Router } from 'express';
import { candidateBench } from '@contactum/core';
import type { Knex } from 'knex';
import {
  emptyRequest,
  logEntryRequest,
  markAgainRequest,
  pointsRequest,
  remarkRequest,
  type AttemptView,
  type LogEntryRequest,
  type Person,
} from '@contactum/contract';
import {
  forStudent,
  logEntries,
  logOf,
  openAttempt,
  permittedAfter,
  permittedAt,
  slipOf,
  summaryOf,
  workOf,
} from '../attempts.js';
import { isAway } from '../database/database.js';
import { AttemptModel, ExerciseModel, PointChangeModel, RemarkModel } from '../database/models.js';
import type { Journal } from '../journal.js';
import type { Marking } from '../marking/marking.js';
import type { Desk } from '../marking/queue.js';
import { Pace } from '../security/pace.js';
import { Refusal, notFound } from './errors.js';
import { bodyOf, idOf, instructorOf, personOf, studentOf } from './request.js';

interface Parts {
  readonly database: Knex;
  readonly journal: Journal;
  readonly desk: Desk;
  readonly marking: Marking;
}

/** A student's attempts: open, wire, hand in; and the slips of them. */
export function attemptRoutes({ database, journal, desk, marking }: Parts): Router {
  const router = Router();
  const slip = (id: string, person: Person) => slipOf(database, journal, id, person);

  router.post('/assignments/:id/attempts', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const { attempt, created } = await openAttempt(database, idOf(request, 'assignment'), student);
    response.status(created ? 201 : 200).json(summaryOf(attempt));
  });

  router.get('/attempts/:id', async (request, response) => {
    const student = studentOf(request);
    const id = idOf(request, 'attempt');
    const attempt = await ownAttempt(database, id, student);
    if (!attempt?.assignment) throw notFound('attempt');
    const view: AttemptView = {
      attempt: summaryOf(attempt),
      className: attempt.assignment.class?.name ?? '',
      exercise: forStudent(attempt.assignment.document),
      log: logEntries(await logOf(database, id)),
      permittedAt: permittedAt(attempt),
      permittedAfter: permittedAfter(attempt),
    };
    response.json(view);
  });

  router.post('/attempts/:id/log', async (request, response) => {
    const student = studentOf(request);
    const id = idOf(request, 'attempt');
    const entry = bodyOf<LogEntryRequest>(request, logEntryRequest);
    response.status(201).json(await journal.append(id, student.id, entry));
  });

  router.post('/attempts/:id/hand-in', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const id = idOf(request, 'attempt');
    await desk.handIn(id, student.id);
    const attempt = await ownAttempt(database, id, student);
    if (!attempt) throw notFound('attempt');
    response.status(202).json(summaryOf(attempt));
  });

  router.get('/attempts/:id/slip', async (request, response) => {
    response.json(await slip(idOf(request, 'attempt'), personOf(request)));
  });

  router.post('/attempts/:id/permission', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    bodyOf(request, emptyRequest);
    const { attempt } = await slip(id, instructor);
    if (attempt.state !== 'open')
      throw new Refusal('conflict', 'This attempt has been handed in; there is nothing to energise.');
    await database.raw(
      'insert into permissions (attempt_id, author_id, after_seq) select id, ?, last_seq from attempts where id = ?',
      [instructor.id, id],
    );
    response.status(201).json(await slip(id, instructor));
  });

  router.post('/attempts/:id/mark-again', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { exercise: which } = bodyOf(request, markAgainRequest);
    const { exercise: set, bench, state } = await workOf(database, journal, id, instructor);
    if (state !== 'marked' && state !== 'failed')
      throw new Refusal('conflict', 'This attempt is not marked yet.');
    const now =
      which === 'now' ? (await ExerciseModel.query(database).findById(set.id))?.document : undefined;
    const exercise = now ?? set;
    // The board of the exercise may have changed since; a wiring of another board cannot be marked by it.
    const fitted = candidateBench(exercise, bench);
    const problem = 'problems' in fitted ? fitted.problems[0] : undefined;
    if (problem)
      throw new Refusal(
        'conflict',
        `The board has changed since this attempt: ${problem.path}: ${problem.message}. Mark it by the exercise as it was set.`,
      );
    try {
      await marking.markAgain(id, exercise);
    } catch (error) {
      if (isAway(error)) throw error;
      throw new Refusal('conflict', `It could not be marked: ${(error as Error).message}`);
    }
    response.status(201).json(await slip(id, instructor));
  });

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

  router.post('/attempts/:id/remarks', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { text } = bodyOf(request, remarkRequest);
    await slip(id, instructor);
    await RemarkModel.query(database).insert({ attemptId: id, text, authorId: instructor.id });
    response.status(201).json(await slip(id, instructor));
  });

  router.post('/attempts/:id/points', async (request, response) => {
    const instructor = instructorOf(request);
    const id = idOf(request, 'attempt');
    const { part, criterion, points, reason } = bodyOf(request, pointsRequest);
    const { report, changes } = await slip(id, instructor);
    const row = report?.criteria.find((c) => c.part === part && c.id === criterion);
    if (!row)
      throw new Refusal('invalid', `criterion: "${criterion}" is not a criterion of this slip`, {
        problems: [{ path: 'criterion', message: 'is not a criterion of this slip' }],
      });
    const after = Math.round(points * 10) / 10;
    if (after > row.max)
      throw new Refusal('invalid', `points: must be at most ${row.max}, is ${points}`, {
        problems: [{ path: 'points', message: `must be at most ${row.max}` }],
      });
    const before =
      changes.findLast((change) => change.part === part && change.criterion === criterion)?.to ?? row.points;
    await PointChangeModel.query(database).insert({
      attemptId: id,
      part,
      criterion,
      before,
      after,
      reason,
      authorId: instructor.id,
    });
    response.status(201).json(await slip(id, instructor));
  });

  return router;
}

/** A student's own attempt in a class that the student belongs to; anybody else's does not exist for them. */
function ownAttempt(database: Knex, id: string, student: Person): Promise<AttemptModel | undefined> {
  return AttemptModel.query(database)
    .findById(id)
    .where({ studentId: student.id })
    .whereExists(
      database('assignments')
        .join('class_members', 'class_members.class_id', 'assignments.class_id')
        .where('assignments.id', database.ref('attempts.assignment_id'))
        .where('class_members.student_id', student.id),
    )
    .withGraphFetched('[assignment.class, marking, changes, permissions]')
    .then((attempt) => attempt);
}
