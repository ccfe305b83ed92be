import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { openDatabase } from '../src/database/database.js';
import { PersonModel } from '../src/database/models.js';
import { hashPassword } from '../src/security/passwords.js';
import { Client, PASSWORD, freshDatabase, people, startProcess, type Server } from './help.js';

/** People with salts of their own, who come at one moment. */
const MANY = 12;

let url: string;
let server: Server;

beforeAll(async () => {
  url = await freshDatabase();
  server = await startProcess(url, { STAY_DAYS: '90' });
  await people(url);
  const database = openDatabase(url);
  for (let k = 0; k < MANY; k += 1)
    await PersonModel.query(database).insert({
      login: `many${k}`,
      name: `Person ${k}`,
      role: 'student',
      password: await hashPassword(PASSWORD),
    });
  await database.destroy();
});

afterAll(() => server.kill('SIGTERM'));

const DAY_S = 24 * 3600;

/** Seconds for which a cookie lasts. */
function lasting(headers: Headers): number {
  const cookie = headers.getSetCookie().find((one) => one.startsWith('contactum.session='))!;
  const expires = /Expires=([^;]+)/.exec(cookie)![1]!;
  return (Date.parse(expires) - Date.now()) / 1000;
}

test('who asks stays signed in as long as the college allows, also over a new password; no administrator', async () => {
  const ann = new Client(server.base);
  expect((await ann.ask('GET', '/session/door')).body).toEqual({
    stayDays: 90,
    passwords: true,
    signOn: null,
  });
  const plain = await ann.ask('POST', '/session', { login: 'ann', password: PASSWORD });
  expect(lasting(plain.headers) / DAY_S).toBeCloseTo(7, 1);
  const long = await ann.ask('POST', '/session', { login: 'ann', password: PASSWORD, stay: true });
  expect(lasting(long.headers) / DAY_S).toBeCloseTo(90, 1);
  const next = await ann.ask('POST', '/session/password', { password: PASSWORD, next: 'spring tide 7' });
  expect(lasting(next.headers) / DAY_S).toBeCloseTo(90, 1);
  const head = await new Client(server.base).ask('POST', '/session', {
    login: 'head',
    password: PASSWORD,
    stay: true,
  });
  expect(lasting(head.headers) / DAY_S).toBeCloseTo(7, 1);
  const database = openDatabase(url);
  const { rows } = await database.raw(
    `select max(extract(epoch from s.expire - now()) / 86400)::float as days
      from sessions s join people p on p.id = s.person_id where p.login = 'ann'`,
  );
  await database.destroy();
  expect((rows as { days: number }[])[0]!.days).toBeCloseTo(90, 1);
});

test('those who come at one moment have places in a line that moves, and all get in', async () => {
  const asker = new Client(server.base);
  const tickets = Array.from({ length: MANY }, () => randomUUID());
  const seen: number[] = [];
  let isOver = false;
  const all = Promise.all(
    tickets.map((ticket, k) =>
      new Client(server.base).ask('POST', '/session', { login: `many${k}`, password: PASSWORD, ticket }),
    ),
  ).finally(() => (isOver = true));
  while (!isOver)
    for (const ticket of tickets) {
      const { body } = await asker.ask('GET', `/session/line/${ticket}`);
      if (body === null) continue;
      expect(body.seconds).toBeGreaterThan(0);
      seen.push(body.before);
    }
  const answers = await all;
  expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([201]));
  expect(Math.max(...seen)).toBeGreaterThan(0);
  expect(Math.max(...seen)).toBeLessThan(MANY);
  for (const ticket of [...tickets, 'nonsense'])
    expect((await asker.ask('GET', `/session/line/${ticket}`)).body).toBeNull();
});
