import { afterAll, beforeAll, expect, test } from '@jest/globals';
import pg from 'pg';
import { shippedExercises } from '@contactum/core/exercises';
import type { FloorBench, FloorNews } from '@contactum/contract';
import WebSocket from 'ws';
import { openDatabase, migrate } from '../src/database/database.js';
import { classAtWork } from '../src/demo/at-work.js';
import { INSTRUCTOR, PASSWORD } from '../src/demo/people.js';
import { seedDemo } from '../src/demo/seed.js';
import { seeded } from '../src/demo/wirings.js';
import { loadExercises } from '../src/domain/authoring/exercises.js';
import { Client, freshDatabase, startProcess, until, type Server } from './help.js';

let server: Server;
let databaseUrl: string;
const LOGINS = ['plover', 'reed', 'creel'];
/** A second of a person takes two milliseconds here. */
const PACE = 0.002;

beforeAll(async () => {
  databaseUrl = await freshDatabase();
  const database = openDatabase(databaseUrl);
  await migrate(database);
  await seedDemo(database, await loadExercises(database), new Date());
  await database.destroy();
  server = await startProcess(databaseUrl);
});
afterAll(() => server.kill('SIGTERM'));

const begin = (logins: readonly string[], signal: AbortSignal, problems: string[]) =>
  classAtWork(
    logins,
    { base: server.base, password: PASSWORD, exercises: shippedExercises(), pace: PACE, random: seeded(5) },
    signal,
    (problem) => problems.push(problem),
  );

test('simulated students wire, ask, prove and hand in, as the floor and the mark book see it', async () => {
  const instructor = await new Client(server.base).signIn(INSTRUCTOR.login, PASSWORD);
  const classes = (await instructor.ask('GET', '/classes')).body as { id: string; name: string }[];
  const group = classes.find(({ name }) => name === 'Pan Fitters 1B')!;
  const seen = new Map<string, Partial<FloorBench>>();
  const asked = new Set<string>();
  const said: string[] = [];
  const floor = new WebSocket(`${server.base.replace('http', 'ws')}/api/classes/${group.id}/floor`, {
    headers: { cookie: instructor.cookie, origin: server.base },
  });
  floor.on('message', (data: Buffer) => {
    const news = JSON.parse(data.toString()) as FloorNews;
    if (news.kind === 'word' && news.word.isStudents) said.push(news.word.text);
    if (news.kind !== 'benches' && news.kind !== 'changed') return;
    for (const bench of news.benches as (Pick<FloorBench, 'attemptId'> & Partial<FloorBench>)[]) {
      seen.set(bench.attemptId, { ...seen.get(bench.attemptId), ...bench });
      if (!bench.status?.asks || asked.has(bench.attemptId)) continue;
      asked.add(bench.attemptId);
      floor.send(JSON.stringify({ kind: 'permit', attemptId: bench.attemptId }));
      floor.send(JSON.stringify({ kind: 'word', attemptId: bench.attemptId, text: 'Is F2 set?' }));
    }
  });
  await new Promise((resolve) => floor.once('open', resolve));
  const problems: string[] = [];
  await begin(LOGINS, new AbortController().signal, problems);
  floor.close();
  expect(problems).toEqual([]);
  expect(asked.size).toBeGreaterThan(0);
  // They answer what they are asked.
  expect(said.filter((text) => !text.endsWith('?')).length).toBeGreaterThan(0);

  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  // Everything that they handed in is marked, and each had passed in the end or tried four times.
  const done = await until(async () => {
    const { rows } = await client.query(
      `select p.login, t.state, s.exercise_id as exercise, (m.report->>'passed')::boolean as passed, t.id
         from attempts t join people p on p.id = t.student_id join assignments s on s.id = t.assignment_id
         left join markings m on m.attempt_id = t.id
        where p.login = any($1) and s.document->>'task' is distinct from 'find'`,
      [LOGINS],
    );
    return rows.every(({ state }: { state: string }) => state !== 'handed-in') ? rows : null;
  });
  for (const login of LOGINS)
    for (const exercise of ['salt-harrow-electrical-interlock', 'brine-pump-emergency-stop']) {
      const own = done.filter((row) => row.login === login && row.exercise === exercise);
      expect(own.length).toBeGreaterThan(0);
      expect(own.some(({ passed }) => passed) || own.length > 3).toBe(true);
    }
  // They work as people do: leads, dead tests, the supply, hands.
  const { rows: kinds } = await client.query<{ kind: string }>(
    `select distinct l.body->>'kind' as kind from attempt_log l join attempts t on t.id = l.attempt_id
       join people p on p.id = t.student_id where p.login = any($1)`,
    [LOGINS],
  );
  expect(kinds.map(({ kind }) => kind).sort()).toEqual(['act', 'edit', 'reading', 'supply']);
  await client.end();
});

test('it ends at once when it is told to, and where its people are unknown it does nothing', async () => {
  const problems: string[] = [];
  const ended = new AbortController();
  const working = begin(['tern', 'undertow'], ended.signal, problems);
  setTimeout(() => ended.abort(), 300);
  await working;
  await begin(['nobody-of-that-name'], new AbortController().signal, problems);
  expect(problems).toEqual([]);
});
