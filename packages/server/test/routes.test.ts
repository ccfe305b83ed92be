import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { WebSocket } from 'ws';
import { exercise } from '../../core/test/help.js';
import { openDatabase } from '../src/database/database.js';
import { PersonModel } from '../src/database/models.js';
import { hashPassword } from '../src/security/passwords.js';
import {
  Client,
  PASSWORD,
  connect,
  freshDatabase,
  marked,
  people,
  startProcess,
  wire,
  type Server,
} from './help.js';

const pump = exercise('brine-pump-three-wire');

/**
 * Who asks: nobody, the student whose attempt it is, a classmate, the class's instructor, another
 * instructor, an administrator; and three in whose browsers everything is still open: an instructor and a
 * student who were taken out of the class, and a student of another class who is being assessed on the
 * board that it is about.
 */
const WHO = [
  'nobody',
  'own',
  'classmate',
  'instructor',
  'stranger',
  'administrator',
  'gone instructor',
  'gone student',
  'assessed',
] as const;

/** Whom somebody is no more than: what is said of that one in the table holds for them too. */
const LIKE: Readonly<Record<string, number>> = { 'gone instructor': 4, 'gone student': 2, assessed: 2 };

/** An assessment that everybody begins when they are ready. */
const PLAN = {
  title: 'Practical test',
  start: 'own',
  minutes: 30,
  tasks: [
    { kind: 'exercise', exerciseId: 'rinse-pump-single-phase', weight: 80 },
    {
      kind: 'observed',
      title: 'At the bench',
      weight: 20,
      criteria: [
        {
          title: 'Proves dead',
          levels: [
            { title: 'no', points: 0 },
            { title: 'yes', points: 2 },
          ],
        },
      ],
    },
  ],
};
const PLATFORM = {
  name: 'Platform',
  issuer: 'https://platform.example',
  clientId: 'board',
  authUrl: 'https://platform.example/auth',
  tokenUrl: 'https://platform.example/token',
  keysUrl: 'https://platform.example/keys',
  deployments: ['1'],
};
const JUDGED = { student: 'PUPIL', task: 'task-2', criterion: 'criterion-1', level: 1 };
const NO_SITTING = [
  'GET /sittings/TEST',
  'POST /sittings/TEST/start',
  'POST /sittings/TEST/here',
  'POST /sittings/TEST/tasks/task-1',
  'POST /sittings/TEST/hand-in',
  'POST /sittings/TEST/appeals',
].map((route) => [route, 404] as const);

/** What else a student who has left gets: their own marked work, to read. */
const GONE: Readonly<Record<string, number>> = {
  'GET /attempts/OPEN/slip': 200,
  'GET /attempts/DONE/slip': 200,
  'GET /attempts/DONE/sheet': 200,
  'GET /attempts/DONE/repair': 200,
  'DELETE /attempts/DONE/repair': 204,
  'POST /attempts/DONE/repair': 202,
  'GET /assignments/ASSIGNMENT/sheet': 404,
  'POST /assignments/ASSIGNMENT/attempts': 404,
  'POST /assignments/ASSIGNMENT/sheets': 403,
  ...Object.fromEntries(NO_SITTING),
};

/** What an assessed student is refused: whatever tells of the board. */
const ASSESSED: Readonly<Record<string, number>> = {
  'GET /exercises/EXERCISE/drawing': 403,
  'POST /exercises/EXERCISE/diagnose': 403,
  'POST /practice': 403,
  'GET /assignments/ASSIGNMENT/sheet': 404,
  'POST /assignments/ASSIGNMENT/attempts': 404,
  ...Object.fromEntries(NO_SITTING),
};

/**
 * By route what each gets. An attempt or class of somebody else does not exist (404); what the other role
 * does is forbidden (403). OPEN is an attempt under way, DONE a marked one, both of the same student. An
 * administrator gets what another instructor gets where nothing else is said.
 */
const TABLE: readonly [route: string, body: object | undefined, statuses: readonly number[]][] = [
  ['GET /exercises', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/EXERCISE', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/EXERCISE/reference', undefined, [401, 403, 403, 200, 200]],
  ['GET /exercises/EXERCISE/drawing', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/salt-harrow-no-interlock/drawing', undefined, [401, 403, 403, 200, 200]],
  ['GET /classes', undefined, [401, 403, 403, 200, 200]],
  ['GET /classes/CLASS', undefined, [401, 403, 403, 200, 404, 200]],
  ['POST /classes', { name: 'Another class' }, [401, 403, 403, 201, 201, 201]],
  ['PATCH /classes/CLASS', { term: '2026 autumn', joinCode: 'new' }, [401, 403, 403, 200, 404, 200]],
  ['POST /classes/CLASS/instructors', { login: 'third' }, [401, 403, 403, 201, 404, 201]],
  ['DELETE /classes/CLASS/instructors/THIRD', undefined, [401, 403, 403, 200, 404, 200]],
  ['POST /classes/CLASS/members', { login: 'cas', name: 'Person cas' }, [401, 403, 403, 201, 404, 201]],
  ['DELETE /classes/CLASS/members/CORA', undefined, [401, 403, 403, 404, 404, 404]],
  ['POST /classes/CLASS/enrol', { csv: 'Person dov,dov' }, [401, 403, 403, 200, 404, 200]],
  ['GET /invitations', undefined, [401, 200, 200, 403, 403]],
  ['POST /invitations/CLASS', { yes: true }, [401, 404, 404, 403, 403]],
  ['GET /notices', undefined, [401, 200, 200, 200, 200]],
  ['DELETE /notices/1', undefined, [401, 404, 404, 404, 404]],
  ['GET /sheets/waiting', undefined, [401, 403, 403, 200, 200]],
  ['POST /attempts/DONE/sheet/confirm', { permitted: true }, [401, 403, 403, 409, 404]],
  ['POST /drafts/DRAFT/cost', {}, [401, 403, 403, 200, 404]],
  ['POST /classes/CLASS/groups', { name: 'Mornings' }, [401, 403, 403, 201, 404, 400]],
  ['PUT /classes/CLASS/groups/GROUP', { name: 'Late mornings' }, [401, 403, 403, 200, 404, 200]],
  ['DELETE /classes/CLASS/groups/GROUP', undefined, [401, 403, 403, 200, 404, 404]],
  ['POST /join', { code: 'NOSUCHCODE' }, [401, 400, 400, 403, 403]],
  ['GET /classes/CLASS/assignments', undefined, [401, 403, 403, 200, 404]],
  ['PATCH /assignments/ASSIGNMENT', { attemptsAllowed: 3 }, [401, 403, 403, 200, 404]],
  ['GET /assignments/ASSIGNMENT/sheet', undefined, [401, 200, 200, 200, 404]],
  [
    'POST /assignments/ASSIGNMENT/sheets',
    {
      id: '6f1a1a0e-3f0f-4d34-9f5e-0c6f3b1d2a10',
      studentId: 'PUPIL',
      entries: { begun: '2026-11-20T09:00:00Z', ended: '2026-11-20T09:30:00Z' },
    },
    [401, 201, 403, 201, 404],
  ],
  ['GET /assignments/ASSIGNMENT/wiring/PUPIL', undefined, [401, 409, 404, 409, 404]],
  ['GET /attempts/DONE/sheet', undefined, [401, 200, 404, 200, 404]],
  ['GET /attempts/DONE/sheet/photo', undefined, [401, 404, 404, 404, 404]],
  ['GET /scanners', undefined, [401, 200, 200, 200, 200]],
  ['POST /scanners', { name: 'Bench 1' }, [401, 403, 403, 400, 400]],
  ['DELETE /scanners/CLASS', undefined, [401, 403, 403, 404, 404]],
  ['POST /scanners/SCANNER/connect', { attemptId: 'OPEN' }, [401, 409, 404, 403, 403]],
  ['POST /scanners/SCANNER/leave', {}, [401, 204, 204, 204, 204]],
  ['POST /scanners/SCANNER/worked', { steps: [] }, [401, 404, 404, 403, 403]],
  ['POST /scanners/SCANNER/open', {}, [401, 403, 403, 204, 204]],
  ['GET /lti/login', undefined, [400, 400, 400, 400, 400]],
  ['POST /lti/login', undefined, [400, 400, 400, 400, 400]],
  ['POST /lti/launch', undefined, [403, 403, 403, 403, 403]],
  ['GET /lti/keys', undefined, [200, 200, 200, 200, 200]],
  ['GET /lti/links/CLASS', undefined, [401, 403, 403, 404, 404]],
  ['POST /lti/links/CLASS', { exerciseId: 'button-lamp-no' }, [401, 403, 403, 404, 404]],
  ['GET /lti/links/CLASS/answer', undefined, [401, 403, 403, 404, 404]],
  ['GET /sign-on', undefined, [404, 404, 404, 404, 404]],
  ['GET /sign-on/callback', undefined, [403, 403, 403, 403, 403]],
  ['POST /sign-on/backchannel', undefined, [400, 400, 400, 400, 400]],
  ['GET /doors', undefined, [401, 403, 403, 403, 403, 200]],
  ['POST /doors/platforms', PLATFORM, [401, 403, 403, 403, 403, 201]],
  ['PUT /doors/platforms/CLASS', PLATFORM, [401, 403, 403, 403, 403, 400]],
  ['DELETE /doors/platforms/CLASS', undefined, [401, 403, 403, 403, 403, 404]],
  ['POST /doors/keys', {}, [401, 403, 403, 403, 403, 201]],
  ['GET /classes/CLASS/roster', undefined, [401, 403, 403, 409, 404]],
  ['POST /classes/CLASS/roster', {}, [401, 403, 403, 409, 404]],
  ['GET /logbook', undefined, [401, 200, 200, 403, 403]],
  ['GET /logbook.csv', undefined, [401, 200, 200, 403, 403]],
  ['GET /calendar.ics', undefined, [401, 200, 200, 200, 200]],
  ['GET /classes/CLASS/students/PUPIL', undefined, [401, 403, 403, 200, 404]],
  ['GET /skills', undefined, [401, 200, 200, 403, 403]],
  ['GET /classes/CLASS/skills', undefined, [401, 403, 403, 200, 404]],
  ['GET /troubles', undefined, [401, 403, 403, 200, 200]],
  ['GET /people', undefined, [401, 403, 403, 200, 200]],
  ['POST /people', { name: 'Somebody', login: 'somebody', role: 'student' }, [401, 403, 403, 403, 403, 201]],
  ['PATCH /people/CORA', { name: 'Cora' }, [401, 403, 403, 403, 403, 200]],
  ['POST /people/CORA/end-sessions', {}, [401, 403, 403, 404, 404, 200]],
  ['POST /people/CORA/reset', {}, [401, 403, 403, 404, 404, 200]],
  ['GET /people/CORA/export', undefined, [401, 403, 403, 403, 403, 200]],
  ['POST /people/CORA/link', { issuer: 'https://x.example', subject: 'one' }, [401, 403, 403, 403, 403, 204]],
  ['DELETE /people/CORA', undefined, [401, 403, 403, 403, 403, 204]],
  ['GET /audit', undefined, [401, 403, 403, 200, 200]],
  ['GET /drafts', undefined, [401, 403, 403, 200, 200]],
  ['POST /drafts', { from: 'button-lamp-no' }, [401, 403, 403, 201, 201]],
  ['GET /drafts/DRAFT', undefined, [401, 403, 403, 200, 404]],
  ['PUT /drafts/DRAFT', { document: pump, seq: 0 }, [401, 403, 403, 200, 404]],
  ['POST /drafts/DRAFT/publish', {}, [401, 403, 403, 201, 404]],
  ['DELETE /drafts/BIN', undefined, [401, 403, 403, 204, 404]],
  ['GET /library.zip', undefined, [401, 403, 403, 200, 200]],
  ['POST /library', pump, [401, 403, 403, 200, 200]],
  ['PATCH /exercises/OWN', { retired: false }, [401, 403, 403, 204, 403, 204]],
  ['GET /exercises/OWN', undefined, [401, 404, 404, 200, 200]],
  ['GET /exercises/EXERCISE/document', undefined, [401, 403, 403, 200, 200]],
  ['GET /exercises/EXERCISE/versions', undefined, [401, 403, 403, 200, 200]],
  ['GET /exercises/EXERCISE/versions/1', undefined, [401, 403, 403, 200, 200]],
  ['GET /classes/CLASS/marks', undefined, [401, 403, 403, 200, 404]],
  ['GET /classes/CLASS/marks.csv', undefined, [401, 403, 403, 200, 404]],
  ['POST /classes/CLASS/assignments', { exerciseId: 'button-lamp-no' }, [401, 403, 403, 201, 404]],
  ['GET /attempts/OPEN', undefined, [401, 200, 404, 403, 403]],
  ['GET /attempts/OPEN/progress', undefined, [401, 200, 404, 403, 403]],
  ['GET /attempts/OPEN/hints', undefined, [401, 200, 404, 403, 403]],
  ['POST /attempts/OPEN/hints', { degree: 'symptom' }, [401, 201, 404, 403, 403]],
  ['POST /attempts/OPEN/log', connect(1, { from: 'G1:L1', to: 'Q1:1' }), [401, 201, 404, 403, 403]],
  ['GET /attempts/OPEN/slip', undefined, [401, 200, 404, 200, 404]],
  ['GET /attempts/OPEN/board', undefined, [401, 403, 403, 200, 404]],
  ['POST /attempts/OPEN/permission', {}, [401, 403, 403, 201, 404]],
  ['POST /attempts/OPEN/hand-in', {}, [401, 202, 404, 403, 403]],
  ['POST /assignments/ASSIGNMENT/attempts', {}, [401, 201, 201, 403, 403]],
  ['GET /attempts/DONE/slip', undefined, [401, 200, 404, 200, 404]],
  // Until the college has a key to sign with.
  ['GET /attempts/DONE/pack.zip', undefined, [401, 403, 403, 409, 404]],
  ['POST /attempts/DONE/remarks', { text: 'Look at the seal-in.' }, [401, 403, 403, 201, 404]],
  [
    'POST /attempts/DONE/points',
    { part: 'behaviour', criterion: 'holds', points: 1, reason: 'explained well' },
    [401, 403, 403, 201, 404],
  ],
  ['POST /attempts/DONE/mark-again', { exercise: 'set' }, [401, 403, 403, 201, 404]],
  ['POST /attempts/DONE/repair', {}, [401, 202, 404, 202, 404]],
  ['GET /attempts/DONE/repair', undefined, [401, 200, 404, 200, 404]],
  ['DELETE /attempts/DONE/repair', undefined, [401, 204, 404, 204, 404]],
  ['GET /attempts/SEEK/search', undefined, [401, 200, 404, 403, 403]],
  ['GET /searches/HUNT', undefined, [401, 200, 404, 404, 404]],
  ['GET /searches/HUNT/causes', undefined, [401, 200, 404, 404, 404]],
  // One of an attempt is handed in with it.
  ['POST /searches/HUNT/end', {}, [401, 409, 404, 404, 404]],
  ['GET /searches/HUNT/watch', undefined, [401, 403, 403, 200, 404]],
  ['GET /classes/CLASS/searches', undefined, [401, 403, 403, 200, 404]],
  ['POST /practice', { exerciseId: 'coil-and-contact', degree: 1 }, [401, 201, 201, 201, 201]],
  [
    'POST /searches/inject',
    { searches: ['HUNT'], what: { fault: { 'coil-open': 'K1' } } },
    [401, 403, 403, 201, 404],
  ],
  ['POST /searches/clear', { searches: ['HUNT'] }, [401, 403, 403, 201, 404]],
  [
    'POST /searches/exercises',
    {
      of: 'coil-and-contact',
      title: 'Own set',
      sets: [{ title: 'One', complaint: 'It is dead.', faults: [{ 'coil-open': 'K1' }], minutes: 10 }],
    },
    [401, 403, 403, 201, 201],
  ],
  ['GET /classes/CLASS/assessments', undefined, [401, 403, 403, 200, 404]],
  ['POST /classes/CLASS/assessments', PLAN, [401, 403, 403, 201, 404]],
  ['GET /assessments/TEST', undefined, [401, 403, 403, 200, 404]],
  ['PATCH /assessments/TEST', { withdrawn: false }, [401, 403, 403, 200, 404]],
  ['POST /assessments/TEST/invigilation', { do: 'note', text: 'all quiet' }, [401, 403, 403, 200, 404]],
  ['GET /sittings', undefined, [401, 200, 200, 403, 403]],
  ['GET /sittings/TEST', undefined, [401, 200, 200, 403, 403]],
  ['POST /sittings/TEST/start', {}, [401, 200, 200, 403, 403]],
  [
    'POST /sittings/TEST/here',
    { window: '6f1a1a0e-3f0f-4d34-9f5e-0c6f3b1d2a11', takes: true },
    [401, 200, 200, 403, 403],
  ],
  ['POST /sittings/TEST/tasks/task-1', {}, [401, 200, 200, 403, 403]],
  ['POST /sittings/TEST/hand-in', {}, [401, 200, 200, 403, 403]],
  ['PUT /assessments/TEST/levels', JUDGED, [401, 403, 403, 200, 404]],
  ['PUT /assessments/TEST/agreed', { ...JUDGED, reason: 'seen by both' }, [401, 403, 403, 200, 404]],
  ['PUT /assessments/TEST/reviews', { student: 'PUPIL', verdict: 'confirmed' }, [401, 403, 403, 200, 404]],
  // Not everything is judged yet.
  ['POST /assessments/TEST/sign-off', {}, [401, 403, 403, 409, 404]],
  ['POST /assessments/TEST/release', {}, [401, 403, 403, 409, 404]],
  ['PUT /assessments/TEST/corrections', { ...JUDGED, reason: 'seen by both' }, [401, 403, 403, 409, 404]],
  ['GET /assessments/TEST/packs.zip', undefined, [401, 403, 403, 409, 404]],
  ['GET /assessments/TEST/look-back', undefined, [401, 403, 403, 200, 404]],
  ['GET /assessments/TEST/likeness', undefined, [401, 403, 403, 200, 404]],
  [
    'POST /sittings/TEST/appeals',
    { task: 'task-2', criterion: 'Proves dead', text: 'It was proved dead.' },
    [401, 409, 409, 403, 403],
  ],
  ['POST /appeals/THIRD', { upheld: false, answer: 'There is no such appeal.' }, [401, 403, 403, 404, 404]],
  [
    'POST /exercises/EXERCISE/diagnose',
    { observations: [{ steps: [], see: { KM1: 'in' } }] },
    [401, 200, 200, 200, 200],
  ],
];

/** Routes whose answers hang on no person but the one who asks; tried in the whole stories. */
const OF_ONESELF = [
  'GET /',
  'POST /',
  'POST /password',
  'POST /join',
  'POST /end-others',
  'GET /door',
  'GET /line/:ticket',
  'GET /export',
  'GET /key',
  'DELETE /',
  'GET /certificates/:id/:code',
  'GET /healthz',
  'GET /readyz',
];

const STUDENTS: readonly string[] = ['own', 'classmate', 'gone student', 'assessed'];

let server: Server;
let url: string;
let clients: Client[];
const ids: Record<string, string> = { EXERCISE: pump.id };
/** What a student who has left had in the class, by the same names. */
const left: Record<string, string> = {};
/** Everything that students were told, by who and what. */
const told: { who: string; route: string; text: string }[] = [];

/** Three more people, signed in: an instructor, a student of the class, and a student of none. */
async function newcomers(url: string, classId: string): Promise<Client[]> {
  const database = openDatabase(url);
  const password = await hashPassword(PASSWORD);
  for (const [login, role] of [
    ['greta', 'instructor'],
    ['gus', 'student'],
    ['asa', 'student'],
  ] as const) {
    const row = await PersonModel.query(database)
      .insert({ login, name: `Person ${login}`, role, password })
      .returning('*');
    if (login === 'gus') await database('class_members').insert({ class_id: classId, student_id: row.id });
  }
  await database.destroy();
  return Promise.all(['greta', 'gus', 'asa'].map((login) => new Client(server.base).signIn(login)));
}

beforeAll(async () => {
  url = await freshDatabase();
  server = await startProcess(url);
  const { classId } = await people(url);
  const [own, classmate, instructor, stranger, administrator] = (await Promise.all(
    ['ann', 'ben', 'first', 'second', 'head'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client, Client, Client];
  const [goneInstructor, goneStudent, assessed] = await newcomers(url, classId);
  clients = [
    new Client(server.base),
    own,
    classmate,
    instructor,
    stranger,
    administrator,
    goneInstructor!,
    goneStudent!,
    assessed!,
  ];
  const set = async (exerciseId: string): Promise<string> =>
    (await instructor.ask('POST', `/classes/${classId}/assignments`, { exerciseId })).body.id as string;
  const begin = async (assignment: string): Promise<string> =>
    (await own.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id as string;
  ids.CLASS = classId;
  ids.ASSIGNMENT = await set('sluice-gate-jog-relay');
  const DONE = await begin(await set(pump.id));
  await wire(own, DONE, pump.reference.slice(0, -1));
  await own.ask('POST', `/attempts/${DONE}/hand-in`, {});
  await marked(own, DONE);
  ids.DONE = DONE;
  ids.OPEN = await begin(await set('brine-pump-two-stations'));
  ids.SEEK = await begin(await set('find-first-circuits'));
  const everybody = (await administrator.ask('GET', '/people')).body as { id: string; login: string }[];
  const idOf = (login: string) => everybody.find((one) => one.login === login)?.id ?? '';
  ids.PUPIL = idOf('ann');
  ids.THIRD = idOf('third');
  ids.CORA = idOf('cora');
  ids.SCANNER = (await instructor.ask('POST', '/scanners', { name: 'Bench 1' })).body.id as string;
  const group = await instructor.ask('POST', `/classes/${classId}/groups`, { name: 'Evenings' });
  ids.GROUP = group.body.groups[0].id as string;
  const draft = async (): Promise<string> =>
    (await instructor.ask('POST', '/drafts', { from: 'button-lamp-no' })).body.id as string;
  ids.DRAFT = await draft();
  ids.BIN = await draft();
  ids.OWN = (await instructor.ask('POST', `/drafts/${await draft()}/publish`, {})).body.exerciseId as string;
  ids.TEST = (await instructor.ask('POST', `/classes/${classId}/assessments`, PLAN)).body.id as string;
  ids.HUNT = (await own.ask('GET', `/attempts/${ids.SEEK}/search`)).body.id as string;
  // The same for whoever goes, who then goes.
  const settings = (await instructor.ask('GET', `/classes/${classId}/assignments`)).body as {
    id: string;
    exerciseId: string;
  }[];
  const settingOf = (exerciseId: string) => settings.find((one) => one.exerciseId === exerciseId)?.id ?? '';
  const beginAs = async (client: Client, exerciseId: string): Promise<string> =>
    (await client.ask('POST', `/assignments/${settingOf(exerciseId)}/attempts`, {})).body.id as string;
  left.DONE = await beginAs(goneStudent!, pump.id);
  await goneStudent!.ask('POST', `/attempts/${left.DONE}/hand-in`, {});
  await marked(goneStudent!, left.DONE);
  left.OPEN = await beginAs(goneStudent!, 'brine-pump-two-stations');
  left.SEEK = await beginAs(goneStudent!, 'find-first-circuits');
  left.HUNT = (await goneStudent!.ask('GET', `/attempts/${left.SEEK}/search`)).body.id as string;
  await instructor.ask('DELETE', `/classes/${classId}/members/${idOf('gus')}`);
  await instructor.ask('POST', `/classes/${classId}/instructors`, { login: 'greta' });
  await instructor.ask('DELETE', `/classes/${classId}/instructors/${idOf('greta')}`);
  // Another class is assessed on the boards that the routes below are about.
  const other = (await stranger.ask('POST', '/classes', { name: 'Assessed' })).body as { id: string };
  await administrator.ask('POST', `/classes/${other.id}/members`, { login: 'asa' });
  for (const exerciseId of [pump.id, 'coil-and-contact'])
    await stranger.ask('POST', `/classes/${other.id}/assignments`, { exerciseId, mode: 'assessment' });
});
afterAll(() => server.kill('SIGTERM'));

describe('who gets what from every route', () => {
  for (const [route, body, statuses] of TABLE)
    test(route, async () => {
      const [method = '', path = ''] = route.split(' ');
      // Strangers first: what they are refused must leave nothing behind.
      const order = [0, 6, 7, 8, 2, 4, 3, 1, 5];
      const got: Record<string, number> = {};
      for (const k of order) {
        const who = WHO[k] as (typeof WHO)[number];
        const own = who === 'gone student' ? { ...ids, ...left } : ids;
        const named = (text: string) => text.replace(/[A-Z]{3,}/g, (name) => own[name] ?? name);
        const sent: unknown = body && JSON.parse(named(JSON.stringify(body)));
        const answer = await (clients[k] as Client).ask(method, named(path), sent);
        got[who] = answer.status;
        if (STUDENTS.includes(who)) told.push({ who, route, text: JSON.stringify(answer.body) });
      }
      const expected = (k: number): number | undefined => {
        const who = WHO[k] as (typeof WHO)[number];
        const more = who === 'gone student' ? GONE[route] : who === 'assessed' ? ASSESSED[route] : undefined;
        return more ?? statuses[LIKE[who] ?? k] ?? statuses[4];
      };
      expect(got).toEqual(Object.fromEntries(order.map((k) => [WHO[k], expected(k)])));
    });

  /** Who may open which socket: everybody else is refused before there is one. */
  const SOCKETS: readonly (readonly [path: string, admitted: string])[] = [
    ['/attempts/OPEN/floor', 'own'],
    ['/classes/CLASS/floor', 'instructor'],
    ['/searches/HUNT/live', 'own'],
    ['/scanners/SCANNER/live', 'own'],
  ];
  test.each(SOCKETS)('socket %s is opened by %s alone', async (path, admitted) => {
    const opens = (client: Client, address: string): Promise<boolean> =>
      new Promise((resolve) => {
        const socket = new WebSocket(`${client.base.replace('http', 'ws')}/api${address}`, {
          headers: { cookie: client.cookie, origin: client.base },
        });
        socket.once('open', () => {
          socket.terminate();
          resolve(true);
        });
        socket.once('error', () => resolve(false));
      });
    // The attempt of the table was handed in on its way: another one is begun.
    const own = clients[1] as Client;
    const fresh = { ...ids };
    if (path.includes('OPEN'))
      fresh.OPEN = (await own.ask('POST', `/assignments/${ids.ASSIGNMENT}/attempts`, {})).body.id as string;
    if (path.includes('SCANNER')) {
      const { body } = await own.ask('POST', `/assignments/${ids.ASSIGNMENT}/attempts`, {});
      const database = openDatabase(url);
      await database('scanners').where({ id: ids.SCANNER }).update({ attempt_id: body.id });
      await database.destroy();
    }
    const got: Record<string, boolean> = {};
    for (const [k, who] of WHO.entries()) {
      const names = who === 'gone student' ? { ...fresh, ...left } : fresh;
      got[who] = await opens(
        clients[k] as Client,
        path.replace(/[A-Z]{3,}/g, (name) => names[name] ?? name),
      );
    }
    expect(got).toEqual(Object.fromEntries(WHO.map((who) => [who, who === admitted])));
  });

  test('and no socket is left out', () => {
    const folder = join(import.meta.dirname, '..', 'src', 'http');
    const handlers = readdirSync(folder)
      .filter((file) => file.endsWith('-handler.ts'))
      .flatMap((file) => readFileSync(join(folder, file), 'utf8').match(/path: new RegExp\(/g) ?? []);
    expect(handlers).toHaveLength(SOCKETS.length);
  });

  test('no student was told a lead of a reference that is not shown, or a fault that is hidden', () => {
    expect(told.length).toBeGreaterThan(300);
    const jog = exercise('sluice-gate-jog-relay');
    const find = exercise('find-first-circuits');
    const secrets = [
      // An exercise that is set and shows no reference; what hides in the search; the board of whoever is
      // assessed.
      ...(jog.shows?.includes('reference') ? [] : jog.reference.map((one) => JSON.stringify(one))),
      ...(find.sets ?? []).flatMap(({ faults }) => faults.map((one) => JSON.stringify(one))),
    ];
    expect(secrets.length).toBeGreaterThan(2);
    for (const { who, route, text } of told)
      for (const secret of secrets)
        expect({ who, route, tells: text.includes(secret) ? secret : null }).toEqual({
          who,
          route,
          tells: null,
        });
    const [lead] = pump.reference.map((one) => JSON.stringify(one));
    for (const { who, route, text } of told)
      if (who === 'assessed') expect({ route, tells: text.includes(lead!) }).toEqual({ route, tells: false });
  });

  test('and no route is left out', () => {
    const folder = join(import.meta.dirname, '..', 'src', 'http');
    const written = readdirSync(folder).flatMap((file) =>
      [
        ...readFileSync(join(folder, file), 'utf8').matchAll(
          /router\.(get|post|put|patch|delete)\('([^']+)'/g,
        ),
      ].map(([, verb = '', path = '']) => `${verb.toUpperCase()} ${path}`),
    );
    const names: Readonly<Record<string, string>> = {
      THIRD: ':person',
      CORA: ':person',
      PUPIL: ':person',
      GROUP: ':group',
    };
    const tried = TABLE.map(([route]) =>
      route
        .replace(/\/people\/CORA/, '/people/:id')
        .replace('/versions/1', '/versions/:version')
        .replace('/notices/1', '/notices/:id')
        .replace('/appeals/THIRD', '/appeals/:id')
        .replace('/tasks/task-1', '/tasks/:task')
        .replace('/wiring/PUPIL', '/wiring/:student')
        .replace(/(?<=\/)[A-Z]{3,}(?=\/|$)/g, (name) => names[name] ?? ':id'),
    );
    expect(written.filter((route) => !OF_ONESELF.includes(route) && !tried.includes(route))).toEqual([]);
    expect(written.length).toBeGreaterThan(20);
  });
});
