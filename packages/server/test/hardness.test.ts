import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { Batcher } from '../src/runtime/batcher.js';
import { readConfig } from '../src/config.js';
import pino from 'pino';
import { isAway, migrate, openDatabase, openPool } from '../src/database/database.js';
import { Pace } from '../src/security/pace.js';
import { SharedFailures, Throttle } from '../src/security/throttle.js';
import { derivations, hashPassword, verifyPassword } from '../src/security/passwords.js';
import { Client, freshDatabase, people, startProcess, until, type Server } from './help.js';

const silent = pino({ level: 'silent' });

describe('every route, whatever it is asked, answers without an error of its own', () => {
  let server: Server;
  let clients: Client[];
  let ids: string[];

  beforeAll(async () => {
    const url = await freshDatabase();
    server = await startProcess(url, { LOG_LEVEL: 'silent' });
    const { classId } = await people(url);
    const teacher = await new Client(server.base).signIn('first');
    const student = await new Client(server.base).signIn('ann');
    const set = await teacher.ask('POST', `/classes/${classId}/assignments`, {
      exerciseId: 'button-lamp-no',
    });
    const attempt = await student.ask('POST', `/assignments/${set.body.id as string}/attempts`, {});
    clients = [teacher, student, new Client(server.base)];
    ids = [
      classId,
      set.body.id as string,
      attempt.body.id as string,
      randomUUID(),
      'button-lamp-no',
      'a',
      '%00',
      '%ff',
      "'",
      '..%2f..',
      'constructor',
      '__proto__',
      '9'.repeat(300),
      '%F0%9F%94%8C',
    ];
  });
  afterAll(() => server.kill('SIGTERM'));

  const ROUTES: readonly [string, string][] = [
    ['GET', '/session'],
    ['POST', '/session'],
    ['POST', '/session/password'],
    ['GET', '/exercises'],
    ['GET', '/exercises/ID'],
    ['GET', '/exercises/ID/reference'],
    ['POST', '/classes/ID/assignments'],
    ['GET', '/classes'],
    ['GET', '/classes/ID/marks'],
    ['GET', '/classes/ID/marks.csv'],
    ['POST', '/assignments/ID/attempts'],
    ['GET', '/attempts/ID'],
    ['POST', '/attempts/ID/log'],
    ['GET', '/attempts/ID/slip'],
    ['POST', '/attempts/ID/permission'],
    ['POST', '/attempts/ID/mark-again'],
    ['POST', '/attempts/ID/repair'],
    ['GET', '/attempts/ID/repair'],
    ['DELETE', '/attempts/ID/repair'],
    ['POST', '/attempts/ID/remarks'],
    ['POST', '/attempts/ID/points'],
    ['PATCH', '/nothing'],
  ];
  /** Keys that mean something somewhere, so that a body comes past the first check now and then. */
  const key = fc.constantFrom(
    'login',
    'password',
    'next',
    'seq',
    'entry',
    'kind',
    'edit',
    'do',
    'lead',
    'wire',
    'from',
    'to',
    'stimulus',
    'press',
    'first',
    'text',
    'points',
    'part',
    'criterion',
    'reason',
    'exercise',
    'exerciseId',
    '__proto__',
    'constructor',
  );
  const leaf = fc.oneof(
    fc.constantFrom<unknown>(
      'edit',
      'act',
      'reading',
      'supply',
      'connect',
      'cut',
      'G2:+',
      'S1:13',
      'H1:X1',
      'S1',
      'set',
      'now',
      'rules',
      '\u0000',
      '\ud800',
      'x'.repeat(5000),
      1,
      0,
      -1,
      1e308,
      2 ** 31,
      true,
      null,
    ),
    fc.string({ unit: 'binary' }),
    fc.double(),
  );
  const body = fc.letrec((tie) => ({
    value: fc.oneof(
      { maxDepth: 4 },
      leaf,
      fc.array(tie('value'), { maxLength: 4 }),
      fc.dictionary(key, tie('value'), { maxKeys: 5 }),
    ),
  })).value;

  test('600 requests made at random (seed 8)', async () => {
    const requests = fc.sample(fc.tuple(fc.constantFrom(...ROUTES), fc.nat(), fc.nat(), body), {
      numRuns: 600,
      seed: 8,
    });
    const found: unknown[] = [];
    const make = async ([[method, route], who, which, value]: (typeof requests)[number]): Promise<void> => {
      const path = route.replace('ID', ids[which % ids.length] as string);
      const client = clients[who % clients.length] as Client;
      const { status, body: answer } = await client.ask(method, path, method === 'GET' ? undefined : value);
      if (status >= 500) found.push({ method, path, value, status, answer: answer as unknown });
    };
    // Some at once, as several browsers make them.
    for (let k = 0; k < requests.length; k += 20) await Promise.all(requests.slice(k, k + 20).map(make));
    expect(found).toEqual([]);
  });

  test('broken bodies and foreign names', async () => {
    const [teacher] = clients as [Client];
    const post = (headers: Record<string, string>, text: string) =>
      teacher.ask('POST', '/classes/a/assignments', text, headers);
    const nest = `${'['.repeat(20_000)}${']'.repeat(20_000)}`;
    const answers = [
      await post({ 'content-encoding': 'gzip' }, 'not compressed'),
      await post({ 'content-encoding': 'whatever' }, '{}'),
      await post({ 'content-type': 'application/json; charset=klingon' }, '{}'),
      await post({}, nest),
      await post({}, '{"a":'),
      await teacher.ask('GET', '/%E0%A4%A'),
    ];
    for (const { status } of answers) expect([400, 404, 415]).toContain(status);
    expect((await fetch(`${server.base}/assets/nothing.js`)).status).toBe(404);
    expect((await fetch(`${server.base}/healthz`)).status).toBe(200);
    expect((await fetch(`${server.base}/readyz`)).status).toBe(200);
  });
});

describe('wrong sign-ins are slowed down', () => {
  test('twice as long each time, by the pair and by the whole, whichever process they come to, and nobody is locked out', async () => {
    const url = await freshDatabase();
    const database = openDatabase(url);
    await migrate(database);
    const pool = openPool(url, silent);
    const [one, other] = [0, 1].map(() => new Throttle({ pair: 2, whole: 6 }, new SharedFailures(pool))) as [
      Throttle,
      Throttle,
    ];
    const wrong = (throttle: Throttle, from: string, name: string) =>
      new SharedFailures(pool)
        .add([`${from} ${name}`, `address ${from}`, `name ${name}`])
        .then(() => throttle);
    for (let k = 0; k < 2; k += 1) await wrong(one, 'here', 'ann');
    expect(await other.delay('here', 'ann')).toBe(250);
    await wrong(one, 'here', 'ann');
    await wrong(other, 'here', 'ann');
    expect(await one.delay('here', 'ann')).toBe(1000);
    // Another name from the same address, and the same name from elsewhere, do not wait yet.
    expect([await one.delay('here', 'ben'), await other.delay('there', 'ann')]).toEqual([0, 0]);
    for (let k = 0; k < 4; k += 1) await wrong(other, 'here', `name ${k}`);
    expect(await one.delay('here', 'ben')).toBeGreaterThan(0);
    for (let k = 0; k < 40; k += 1) await wrong(one, 'here', 'ann');
    expect(await other.delay('here', 'ann')).toBe(8000);
    await pool.query("update sign_in_failures set at = at - interval '10 minutes'");
    expect(await one.delay('here', 'ann')).toBe(0);
    const right = () => Promise.resolve({ right: true, value: 'in' });
    await expect(one.attempt('here', 'ann', right)).resolves.toBe('in');
    // What is under way counts as wrong until it was right: many at once gain nothing.
    const held: (() => void)[] = [];
    const slow = () =>
      new Promise<{ right: boolean; value: string }>((resolve) =>
        held.push(() => resolve({ right: false, value: 'out' })),
      );
    const many = [0, 1].map(() => one.attempt('there', 'cas', slow));
    await until(() => Promise.resolve(held.length === 2));
    expect(await one.delay('there', 'cas')).toBe(250);
    for (const end of held) end();
    expect(await Promise.all(many)).toEqual(['out', 'out']);
    await pool.query("update sign_in_failures set at = at - interval '1 hour'");
    await new SharedFailures(pool).prune();
    expect((await pool.query('select 1 from sign_in_failures')).rowCount).toBe(0);
    await Promise.all([pool.end(), database.destroy()]);
  });

  test('a wrong password takes as long for an account that is new, old, or not there', async () => {
    const [old, fresh] = [await hashPassword('low water'), await hashPassword('low water', 'first')];
    const derived: number[] = [];
    // Derivations are counted, not timed: the same ones are made for each.
    for (const stored of [old, fresh, undefined]) {
      const before = derivations();
      expect(await verifyPassword(`wrong ${String(stored)}`, stored)).toBe(false);
      derived.push(derivations() - before);
    }
    expect(derived).toEqual([2, 2, 2]);
  });

  test('a password is right or wrong, the first time and from memory', async () => {
    const stored = await hashPassword('low water');
    expect(
      await Promise.all([
        verifyPassword('low water', stored),
        verifyPassword('low water', stored),
        verifyPassword('high water', stored),
      ]),
    ).toEqual([true, true, false]);
    expect(await verifyPassword('low water', stored)).toBe(true);
    expect(await verifyPassword('low water', undefined)).toBe(false);
  });
});

test('a pace admits some at once and then so many a second', () => {
  let now = 0;
  const pace = new Pace(3, 2, () => now);
  expect(Array.from({ length: 5 }, () => pace.admits('ann'))).toEqual([true, true, true, false, false]);
  expect(pace.admits('ben')).toBe(true);
  now += 1000;
  expect([pace.admits('ann'), pace.admits('ann'), pace.admits('ann')]).toEqual([true, true, false]);
});

test('a batch answers every item once, in order of a key, and an error is everybody’s of that batch', async () => {
  const batches: string[][] = [];
  const batcher = new Batcher<string, string>(
    (items) => {
      batches.push([...items]);
      return items.includes('bad')
        ? Promise.reject(new Error('no'))
        : Promise.resolve(items.map((item) => item.toUpperCase()));
    },
    (item) => item,
    3,
  );
  const answers = await Promise.allSettled(
    ['a', 'b', 'b', 'c', 'd', 'bad', 'e'].map((item) => batcher.ask(item)),
  );
  expect(batches.flat().sort()).toEqual(['a', 'b', 'b', 'bad', 'c', 'd', 'e']);
  for (const batch of batches) expect(new Set(batch).size).toBe(batch.length);
  expect(batches.every(({ length }) => length <= 3)).toBe(true);
  expect(answers.filter(({ status }) => status === 'fulfilled').length).toBeGreaterThanOrEqual(4);
});

test('settings are read whole or refused by name', () => {
  const env = { DATABASE_URL: 'postgres://x', SESSION_SECRET: 'a secret of the tests' };
  expect(
    readConfig({ ...env, ALLOWED_HOSTS: 'Pans.example, harbour.example', SECURE_COOKIE: '1' }),
  ).toMatchObject({
    allowedHosts: ['pans.example', 'harbour.example'],
    secureCookie: true,
    webProcesses: 0,
  });
  expect(() => readConfig({ ...env, PORT: 'abc', SESSION_SECRET: 'short' })).toThrow(
    /SESSION_SECRET: must be at least 16 characters long; PORT: must be a number/,
  );
});

test('what says that the database is away, and what does not', () => {
  for (const error of [
    { code: '57P01' },
    { code: '57P03' },
    { code: 'ECONNREFUSED' },
    { code: '08006' },
    { nativeError: { code: '57P02' } },
    new Error('Connection terminated unexpectedly'),
  ])
    expect(isAway(error)).toBe(true);
  for (const error of [{ code: '23505' }, { code: '22P02' }, new Error('no'), null, 'text'])
    expect(isAway(error)).toBe(false);
});
