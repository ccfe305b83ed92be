import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { exercise } from '../../core/test/help.js';
import { Client, connect, freshDatabase, marked, people, startProcess, wire, type Server } from './help.js';

/** Who asks: nobody, the student whose attempt it is, a classmate, the class's instructor, another instructor. */
const WHO = ['nobody', 'own', 'classmate', 'instructor', 'stranger'] as const;

/**
 * By route what each gets. An attempt or class of somebody else does not exist (404); what the other role does is forbidden (403).
 * OPEN is an attempt under way, DONE a marked one, both of the same student.
 */
const TABLE: readonly [route: string, body: object | undefined, statuses: readonly number[]][] = [
  ['GET /exercises', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/EXERCISE', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/EXERCISE/reference', undefined, [401, 403, 403, 200, 200]],
  ['GET /exercises/EXERCISE/drawing', undefined, [401, 200, 200, 200, 200]],
  ['GET /exercises/salt-harrow-no-interlock/drawing', undefined, [401, 403, 403, 200, 200]],
  ['GET /classes', undefined, [401, 403, 403, 200, 200]],
  ['GET /classes/CLASS/marks', undefined, [401, 403, 403, 200, 404]],
  ['GET /classes/CLASS/marks.csv', undefined, [401, 403, 403, 200, 404]],
  ['POST /classes/CLASS/assignments', { exerciseId: 'button-lamp-no' }, [401, 403, 403, 201, 404]],
  ['GET /attempts/OPEN', undefined, [401, 200, 404, 403, 403]],
  ['GET /attempts/OPEN/progress', undefined, [401, 200, 404, 403, 403]],
  ['POST /attempts/OPEN/log', connect(1, { from: 'G1:L1', to: 'Q1:1' }), [401, 201, 404, 403, 403]],
  ['GET /attempts/OPEN/slip', undefined, [401, 200, 404, 200, 404]],
  ['POST /attempts/OPEN/permission', {}, [401, 403, 403, 201, 404]],
  ['POST /attempts/OPEN/hand-in', {}, [401, 202, 404, 403, 403]],
  ['POST /assignments/ASSIGNMENT/attempts', {}, [401, 201, 201, 403, 403]],
  ['GET /attempts/DONE/slip', undefined, [401, 200, 404, 200, 404]],
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
  [
    'POST /exercises/EXERCISE/diagnose',
    { observations: [{ steps: [], see: { KM1: 'in' } }] },
    [401, 200, 200, 200, 200],
  ],
];

/** Routes whose answers hang on no person but the one who asks; tried in the whole stories. */
const OF_ONESELF = ['GET /', 'POST /', 'POST /password', 'DELETE /', 'GET /healthz', 'GET /readyz'];

const pump = exercise('brine-pump-three-wire');
let server: Server;
let clients: Client[];
const ids: Record<string, string> = { EXERCISE: pump.id };

beforeAll(async () => {
  const url = await freshDatabase();
  server = await startProcess(url);
  const { classId } = await people(url);
  const [own, classmate, instructor, stranger] = (await Promise.all(
    ['ann', 'ben', 'first', 'second'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client, Client];
  clients = [new Client(server.base), own, classmate, instructor, stranger];
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
  ids.HUNT = (await own.ask('GET', `/attempts/${ids.SEEK}/search`)).body.id as string;
});
afterAll(() => server.kill('SIGTERM'));

describe('who gets what from every route', () => {
  for (const [route, body, statuses] of TABLE)
    test(route, async () => {
      const [method = '', path = ''] = route.split(' ');
      const named = (text: string) => text.replace(/[A-Z]{4,}/g, (name) => ids[name] ?? name);
      const address = named(path);
      const sent: unknown = body && JSON.parse(named(JSON.stringify(body)));
      // Strangers first: what they are refused must leave nothing behind.
      const order = [0, 2, 4, 3, 1];
      const got: Record<string, number> = {};
      for (const k of order)
        got[WHO[k] as string] = (await (clients[k] as Client).ask(method, address, sent)).status;
      expect(got).toEqual(Object.fromEntries(order.map((k) => [WHO[k], statuses[k]])));
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
    const tried = TABLE.map(([route]) => route.replace(/[A-Z]{4,}(?=\/|$)/g, ':id'));
    expect(written.filter((route) => !OF_ONESELF.includes(route) && !tried.includes(route))).toEqual([]);
    expect(written.length).toBeGreaterThan(20);
  });
});
