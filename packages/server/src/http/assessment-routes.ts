import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import {
  agreedRequest,
  appealAnswer,
  appealRequest,
  assessmentChange,
  assessmentRequest,
  emptyRequest,
  hereRequest,
  invigilation,
  levelRequest,
  reviewRequest,
  startRequest,
} from '@contactum/contract';
import { invigilate } from '../domain/assessments/invigilate.js';
import {
  agree,
  answerAppeal,
  assessmentView,
  correct,
  judge,
  release,
  review,
  signOff,
} from '../domain/assessments/examine.js';
import { likenessOf, type AlikeIn } from '../domain/assessments/likeness.js';
import { lookBack } from '../domain/assessments/look-back.js';
import { assessmentsOf, setAssessment, withdraw } from '../domain/assessments/set.js';
import {
  appeal,
  handInSitting,
  openTask,
  pulse,
  sittingView,
  sittingsOf,
  startOwn,
} from '../domain/assessments/sit.js';
import type { VariantIn } from '../domain/attempts/attempts.js';
import type { HandIn } from '../domain/attempts/desk.js';
import type { Journal } from '../domain/attempts/journal.js';
import type { Packs } from '../domain/records/packs.js';
import { addressOf, bodyOf, idOf, instructorOf, studentOf } from './request.js';

interface Parts {
  readonly database: Knex;
  readonly journal: Journal;
  readonly handIn: HandIn;
  readonly packs: Packs;
  readonly variantIn: VariantIn;
  readonly alikeIn: AlikeIn;
}

/** Assessments: set and invigilated by instructors, sat by students. */
export function assessmentRoutes(parts: Parts): Router {
  const router = Router();
  setting(router, parts);
  examining(router, parts);
  telling(router, parts);
  sitting(router, parts);
  return router;
}

const assessmentOf = (request: Request): string => idOf(request, 'assessment');

function setting(router: Router, { database, handIn }: Parts): void {
  router.get('/classes/:id/assessments', async (request, response) => {
    response.json(await assessmentsOf(database, idOf(request, 'class'), instructorOf(request)));
  });
  router.post('/classes/:id/assessments', async (request, response) => {
    const instructor = instructorOf(request);
    const wanted = bodyOf(request, assessmentRequest);
    const id = await setAssessment(database, idOf(request, 'class'), wanted, instructor);
    response.status(201).json(await assessmentView(database, id, instructor));
  });
  router.get('/assessments/:id', async (request, response) => {
    response.json(await assessmentView(database, assessmentOf(request), instructorOf(request)));
  });
  router.patch('/assessments/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const { withdrawn } = bodyOf(request, assessmentChange);
    await withdraw(database, assessmentOf(request), withdrawn, instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.post('/assessments/:id/invigilation', async (request, response) => {
    const instructor = instructorOf(request);
    await invigilate(database, handIn, assessmentOf(request), bodyOf(request, invigilation), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
}

function examining(router: Router, { database }: Parts): void {
  router.put('/assessments/:id/levels', async (request, response) => {
    const instructor = instructorOf(request);
    await judge(database, assessmentOf(request), bodyOf(request, levelRequest), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.put('/assessments/:id/agreed', async (request, response) => {
    const instructor = instructorOf(request);
    await agree(database, assessmentOf(request), bodyOf(request, agreedRequest), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.put('/assessments/:id/reviews', async (request, response) => {
    const instructor = instructorOf(request);
    await review(database, assessmentOf(request), bodyOf(request, reviewRequest), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.post('/assessments/:id/sign-off', async (request, response) => {
    const instructor = instructorOf(request);
    bodyOf(request, emptyRequest);
    await signOff(database, assessmentOf(request), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.post('/assessments/:id/release', async (request, response) => {
    const instructor = instructorOf(request);
    bodyOf(request, emptyRequest);
    await release(database, assessmentOf(request), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.put('/assessments/:id/corrections', async (request, response) => {
    const instructor = instructorOf(request);
    await correct(database, assessmentOf(request), bodyOf(request, agreedRequest), instructor);
    response.json(await assessmentView(database, assessmentOf(request), instructor));
  });
  router.post('/appeals/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const answer = bodyOf(request, appealAnswer);
    const id = await answerAppeal(database, idOf(request, 'appeal'), answer, instructor);
    response.json(await assessmentView(database, id, instructor));
  });
}

function telling(router: Router, { database, journal, packs, alikeIn }: Parts): void {
  router.get('/assessments/:id/look-back', async (request, response) => {
    response.json(await lookBack(database, assessmentOf(request), instructorOf(request)));
  });
  router.get('/assessments/:id/likeness', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await likenessOf(database, { id: assessmentOf(request), journal, alikeIn, instructor }));
  });
  router.get('/assessments/:id/packs.zip', async (request, response) => {
    const instructor = instructorOf(request);
    const { name, zip } = await packs.ofAssessment(assessmentOf(request), instructor);
    response.type('application/zip').attachment(`${name}.zip`).send(zip);
  });
}

function sitting(router: Router, { database, handIn, variantIn }: Parts): void {
  router.get('/sittings', async (request, response) => {
    response.json(await sittingsOf(database, studentOf(request)));
  });
  router.get('/sittings/:id', async (request, response) => {
    response.json(await sittingView(database, assessmentOf(request), studentOf(request)));
  });
  router.post('/sittings/:id/start', async (request, response) => {
    const student = studentOf(request);
    const { code } = bodyOf(request, startRequest);
    const address = addressOf(request);
    response.json(await startOwn(database, assessmentOf(request), { code, address }, student));
  });
  router.post('/sittings/:id/here', async (request, response) => {
    const student = studentOf(request);
    const { window, takes } = bodyOf(request, hereRequest);
    const address = addressOf(request);
    response.json(await pulse(database, { id: assessmentOf(request), window, takes, student, address }));
  });
  router.post('/sittings/:id/tasks/:task', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    const { task } = request.params;
    const asked = { id: assessmentOf(request), task, student, address: addressOf(request) };
    response.json(await openTask(database, { ...asked, variantIn }));
  });
  router.post('/sittings/:id/hand-in', async (request, response) => {
    const student = studentOf(request);
    bodyOf(request, emptyRequest);
    response.json(await handInSitting(database, handIn, assessmentOf(request), student));
  });
  router.post('/sittings/:id/appeals', async (request, response) => {
    const student = studentOf(request);
    const wanted = bodyOf(request, appealRequest);
    response.status(201).json(await appeal(database, assessmentOf(request), wanted, student));
  });
}
