import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import { writeCsv } from '@contactum/core/exchange';
import {
  assignRequest,
  classChange,
  classRequest,
  enrolRequest,
  groupRequest,
  instructorRequest,
  invitationAnswer,
  joinRequest,
  memberRequest,
  settingRequest,
} from '@contactum/contract';
import {
  addInstructor,
  addMember,
  changeClass,
  classSummaries,
  foundClass,
  joinClass,
  putGroup,
  removeGroup,
  removeInstructor,
  removeMember,
  requireCode,
  rosterOf,
} from '../domain/classes/classes.js';
import { answerInvitation, dismissNotice, invitationsOf, noticesOf } from '../domain/classes/consent.js';
import { enrol } from '../domain/classes/enrolment.js';
import { markBook, markRows, studentRecord } from '../domain/attempts/mark-book.js';
import { skillsOfClass, skillsOfStudent } from '../domain/attempts/skills.js';
import { checkedCertificate } from '../domain/records/certificates.js';
import { requireOwnClass } from '../domain/people/permissions.js';
import { changeSetting, setExercise, setToClasses } from '../domain/classes/settings.js';
import { troublesOf } from '../domain/attempts/troubles.js';
import type { Throttle } from '../security/throttle.js';
import { bodyOf, idOf, instructorOf, personOf, studentOf } from './request.js';

/** Classes: who is in them, what is set to them, and their mark books. */
export function classRoutes(database: Knex, throttle: Throttle): Router {
  const router = Router();
  people(router, database);
  members(router, database, throttle);
  settings(router, database);
  marks(router, database);
  return router;
}

const classOf = (request: Request): string => idOf(request, 'class');

function people(router: Router, database: Knex): void {
  router.get('/classes', async (request, response) => {
    response.json(await classSummaries(database, instructorOf(request)));
  });
  router.post('/classes', async (request, response) => {
    const instructor = instructorOf(request);
    response.status(201).json(await foundClass(database, bodyOf(request, classRequest), instructor));
  });
  router.get('/classes/:id', async (request, response) => {
    response.json(await rosterOf(database, classOf(request), instructorOf(request)));
  });
  router.patch('/classes/:id', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await changeClass(database, classOf(request), bodyOf(request, classChange), instructor));
  });
  router.post('/classes/:id/instructors', async (request, response) => {
    const instructor = instructorOf(request);
    const { login } = bodyOf(request, instructorRequest);
    response.status(201).json(await addInstructor(database, classOf(request), login, instructor));
  });
  router.delete('/classes/:id/instructors/:person', async (request, response) => {
    const instructor = instructorOf(request);
    const person = idOf(request, 'person', 'person');
    response.json(await removeInstructor(database, classOf(request), person, instructor));
  });
}

function members(router: Router, database: Knex, throttle: Throttle): void {
  router.post('/classes/:id/members', async (request, response) => {
    const instructor = instructorOf(request);
    response
      .status(201)
      .json(await addMember(database, classOf(request), bodyOf(request, memberRequest), instructor));
  });
  router.delete('/classes/:id/members/:person', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(
      await removeMember(database, classOf(request), idOf(request, 'person', 'person'), instructor),
    );
  });
  router.post('/classes/:id/enrol', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await enrol(database, classOf(request), bodyOf(request, enrolRequest), instructor));
  });
  router.post('/classes/:id/groups', async (request, response) => {
    const instructor = instructorOf(request);
    const asked = bodyOf(request, groupRequest);
    response
      .status(201)
      .json(await putGroup(database, classOf(request), { groupId: null, ...asked }, instructor));
  });
  router.put('/classes/:id/groups/:group', async (request, response) => {
    const instructor = instructorOf(request);
    const groupId = idOf(request, 'group', 'group');
    response.json(
      await putGroup(database, classOf(request), { groupId, ...bodyOf(request, groupRequest) }, instructor),
    );
  });
  router.delete('/classes/:id/groups/:group', async (request, response) => {
    const instructor = instructorOf(request);
    response.json(await removeGroup(database, classOf(request), idOf(request, 'group', 'group'), instructor));
  });
  router.get('/invitations', async (request, response) => {
    response.json(await invitationsOf(database, studentOf(request)));
  });
  router.post('/invitations/:id', async (request, response) => {
    const student = studentOf(request);
    const { yes } = bodyOf(request, invitationAnswer);
    await answerInvitation(database, classOf(request), yes, student);
    response.status(204).end();
  });
  router.get('/notices', async (request, response) => {
    response.json(await noticesOf(database, personOf(request)));
  });
  router.delete('/notices/:id', async (request, response) => {
    const person = personOf(request);
    await dismissNotice(database, request.params.id, person);
    response.status(204).end();
  });
  router.post('/join', async (request, response) => {
    const student = studentOf(request);
    const { code } = bodyOf(request, joinRequest);
    await requireCode(database, throttle, code, `person ${student.id}`);
    response.status(201).json(await joinClass(database, code, student));
  });
}

function settings(router: Router, database: Knex): void {
  router.get('/classes/:id/assignments', async (request, response) => {
    const instructor = instructorOf(request);
    const { id: classId } = await requireOwnClass(database, classOf(request), instructor);
    response.json(await setToClasses(database, instructor, { classId, withdrawn: true }));
  });
  router.post('/classes/:id/assignments', async (request, response) => {
    const instructor = instructorOf(request);
    const asked = bodyOf(request, assignRequest);
    response.status(201).json(await setExercise(database, classOf(request), instructor, asked));
  });
  router.patch('/assignments/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const asked = bodyOf(request, settingRequest);
    response.json(await changeSetting(database, idOf(request, 'setting'), instructor, asked));
  });
}

function marks(router: Router, database: Knex): void {
  router.get('/classes/:id/marks', async (request, response) => {
    response.json((await markBook(database, classOf(request), instructorOf(request))).book);
  });
  router.get('/classes/:id/marks.csv', async (request, response) => {
    const form = request.query.form === 'gradebook' ? 'gradebook' : 'attempts';
    const { name, rows } = await markRows(database, classOf(request), instructorOf(request), form);
    const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))];
    const cells = rows.map((row) => columns.map((column) => String(row[column] ?? '')));
    response
      .type('text/csv; charset=utf-8')
      .attachment(`${name.replace(/[^\w -]+/g, '')} marks.csv`)
      .send(`\uFEFF${writeCsv(columns, cells)}`);
  });
  // Whoever holds a certificate asks, signed in or not.
  router.get('/certificates/:id/:code', async (request, response) => {
    response.json(await checkedCertificate(database, idOf(request, 'certificate'), request.params.code));
  });
  router.get('/classes/:id/skills', async (request, response) => {
    response.json(await skillsOfClass(database, classOf(request), instructorOf(request)));
  });
  router.get('/skills', async (request, response) => {
    response.json(await skillsOfStudent(database, studentOf(request)));
  });
  router.get('/classes/:id/students/:person', async (request, response) => {
    const instructor = instructorOf(request);
    const person = idOf(request, 'student', 'person');
    response.json(await studentRecord(database, classOf(request), person, instructor));
  });
  router.get('/troubles', async (request, response) => {
    response.json(await troublesOf(database, instructorOf(request)));
  });
}
