import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { exercise } from '../../core/test/help.js';
import { Client, PASSWORD, connect, freshDatabase, marked, people, startProcess, wire, type Server } from './help.js';

const pump = exercise('brine-pump-three-wire');
let server: Server;
let databaseUrl: string;
let classId: string;
let first: Client;
let second: Client;
let ann: Client;
let ben: Client;
let assignment: string;

beforeAll(async () => {
  databaseUrl = await freshDatabase();
  server = await startProcess(databaseUrl, { SIGN_IN_LIMIT: '4' });
  ({ classId } = await people(databaseUrl));
  [first, second, ann, ben] = (await Promise.all(['first', 'second', 'ann', 'ben'].map((login) => new Client(server.base).signIn(login)))) as [Client, Client, Client, Client];
  const set = await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: pump.id, dueAt: null });
  expect(set).toMatchObject({ status: 201, body: { className: '=Class 1', students: 2, handedIn: 0 } });
  assignment = set.body.id;
}, 60_000);

afterAll(() => server.kill('SIGTERM'));

const open = async (client: Client): Promise<string> => (await client.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id;

test('the whole story: wired, handed in, marked, remarked, points changed, exported', async () => {
  const id = await open(ann);
  const wires = pump.reference.filter(({ from }) => from !== 'KM1:14');
  await wire(ann, id, wires);
  expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(202);
  const slip = await marked(ann, id);
  expect(slip).toMatchObject({ student: { name: 'Person ann' }, result: { passed: false, max: 100 }, report: { equivalence: { equivalent: false } } });
  const holds = slip.report.criteria.find((c: { id: string }) => c.id === 'holds');
  expect(holds).toMatchObject({ points: 0, evidence: { steps: [{ press: 'S2' }, { release: 'S2' }, { wait: 1 }] } });
  expect(slip.bench.wires).toEqual(wires);

  // Handed in is handed in: no more edits, and a second call changes nothing.
  expect((await ann.ask('POST', `/attempts/${id}/log`, connect(wires.length + 1, { from: 'KM1:14', to: 'KM1:A1' }))).status).toBe(409);
  expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).body.state).toBe('marked');

  expect(await first.ask('POST', `/attempts/${id}/remarks`, { text: '  =Look at the seal-in.  ' })).toMatchObject({
    status: 201,
    body: { remarks: [{ text: '=Look at the seal-in.', by: 'Person first' }] },
  });
  const changed = await first.ask('POST', `/attempts/${id}/points`, { part: 'behaviour', criterion: 'holds', points: holds.max, reason: 'explained it well' });
  expect(changed.body.result).toEqual({ score: Math.round((slip.result.score + holds.max) * 10) / 10, max: 100, passed: expect.any(Boolean), changed: true });
  expect((await ann.ask('GET', `/attempts/${id}/slip`)).body.changes).toMatchObject([{ criterion: 'holds', from: 0, to: holds.max, reason: 'explained it well' }]);

  // A second attempt, right this time; the mark book shows the better one.
  const again = await open(ann);
  await wire(ann, again, pump.reference);
  await ann.ask('POST', `/attempts/${again}/hand-in`, {});
  expect((await marked(ann, again)).result).toEqual({ score: 100, max: 100, passed: true, changed: false });
  const book = (await first.ask('GET', `/classes/${classId}/marks`)).body;
  expect(book.students.map((s: { name: string; cells: unknown[] }) => [s.name, s.cells[0]])).toEqual([
    ['Person ann', { attemptId: again, attempts: 2, state: 'marked', result: { score: 100, max: 100, passed: true, changed: false } }],
    ['Person ben', null],
  ]);
  expect(book.losses[0][0]).toMatchObject({ attempts: 1 });
  const csv = await first.ask('GET', `/classes/${classId}/marks.csv`);
  expect(csv.headers.get('content-type')).toBe('text/csv; charset=utf-8');
  const lines = String(csv.body).trim().split('\r\n');
  expect(lines).toHaveLength(3);
  // A cell that begins like a formula is not one.
  expect(lines[1]).toMatch(/^"'=Class 1",Person ann,ann,"Brine pump, three-wire",1,marked,/);
  expect(lines[1]).toContain("'=Look at the seal-in.");
});

describe('who may see what', () => {
  test('a student never gets a reference, steps, faults, or anybody else’s work', async () => {
    const id = await open(ben);
    const secret = JSON.stringify([
      (await ben.ask('GET', '/exercises')).body,
      (await ben.ask('GET', `/exercises/${pump.id}`)).body,
      (await ben.ask('GET', `/attempts/${id}`)).body,
    ]);
    expect(secret).not.toContain('reference');
    expect(secret).not.toContain('expect');
    expect(secret).not.toContain('"faults"');
    expect((await ben.ask('GET', `/exercises/${pump.id}/reference`)).status).toBe(403);
    expect((await ben.ask('GET', '/classes')).status).toBe(403);
    expect((await ben.ask('GET', `/classes/${classId}/marks.csv`)).status).toBe(403);
    for (const path of ['', '/slip']) {
      const other = await ann.ask('GET', `/attempts/${id}${path}`);
      expect(other).toMatchObject({ status: 404, body: { error: { type: 'not-found', message: 'There is no such attempt.' } } });
    }
    expect((await ann.ask('POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L1', to: 'Q1:1' }))).status).toBe(404);
    expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(404);
    expect((await ben.ask('GET', `/attempts/${id}`)).body).toMatchObject({ log: [], attempt: { state: 'open' } });
    expect((await ben.ask('POST', `/attempts/${id}/remarks`, { text: 'well done' })).status).toBe(403);
  });

  test('an instructor sees only their own classes', async () => {
    const id = await open(ben);
    expect((await second.ask('GET', '/classes')).body).toEqual([]);
    expect((await second.ask('GET', `/classes/${classId}/marks`)).status).toBe(404);
    expect((await second.ask('GET', `/attempts/${id}/slip`)).status).toBe(404);
    expect((await second.ask('POST', `/attempts/${id}/remarks`, { text: 'hm' })).status).toBe(404);
    expect((await second.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'button-lamp-no' })).status).toBe(404);
    expect((await first.ask('POST', `/assignments/${assignment}/attempts`, {})).status).toBe(403);
  });

  test('nobody signed in sees nothing; a wrong sign-in tells not which half was wrong, and is slowed down', async () => {
    const nobody = new Client(server.base);
    for (const path of ['/exercises', '/classes', `/attempts/${randomUUID()}/slip`]) expect((await nobody.ask('GET', path)).status).toBe(401);
    expect((await nobody.ask('GET', '/session')).body).toBeNull();
    const wrong = await nobody.ask('POST', '/session', { login: 'ann', password: 'high water' });
    const unknown = await nobody.ask('POST', '/session', { login: 'nobody', password: PASSWORD });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
    for (let k = 0; k < 3; k += 1) await nobody.ask('POST', '/session', { login: 'ann', password: 'x' });
    expect((await nobody.ask('POST', '/session', { login: 'ann', password: PASSWORD })).status).toBe(429);
    const gone = await new Client(server.base).signIn('ben');
    expect((await gone.ask('DELETE', '/session')).status).toBe(204);
    expect((await gone.ask('GET', '/exercises')).status).toBe(401);
  });
});

describe('bad requests have the right status, name the place, and change nothing', () => {
  let id: string;
  beforeAll(async () => {
    id = await open(ben);
  });

  const good = { from: 'G1:L1', to: 'Q1:1' } as const;
  const table: [string, () => [Client, string, string, unknown], number, RegExp][] = [
    ['unknown address', () => [ben, 'GET', '/nothing', undefined], 404, /no such address/],
    ['no UUID', () => [ben, 'GET', '/attempts/7', undefined], 404, /no such attempt/],
    ['unknown attempt', () => [ben, 'GET', `/attempts/${randomUUID()}`, undefined], 404, /no such attempt/],
    ['unknown assignment', () => [ben, 'POST', `/assignments/${randomUUID()}/attempts`, {}], 404, /no such assignment/],
    ['unknown exercise', () => [first, 'POST', `/classes/${classId}/assignments`, { exerciseId: 'none' }], 404, /no such exercise/],
    ['set twice', () => [first, 'POST', `/classes/${classId}/assignments`, { exerciseId: pump.id }], 409, /already set/],
    ['not JSON', () => [ben, 'POST', `/attempts/${id}/log`, '{ "seq": '], 400, /not JSON/],
    ['too large', () => [ben, 'POST', `/attempts/${id}/log`, JSON.stringify({ seq: 1, entry: 'x'.repeat(300_000) })], 413, /too large/],
    ['unknown key', () => [ben, 'POST', `/attempts/${id}/log`, { ...connect(1, good), by: 'me' }], 400, /^by: unknown key/],
    ['no number', () => [ben, 'POST', `/attempts/${id}/log`, { ...connect(1, good), seq: 'one' }], 400, /^seq: must be /],
    ['bad terminal', () => [ben, 'POST', `/attempts/${id}/log`, connect(1, { from: 'G1' as never, to: 'Q1:1' })], 400, /^entry\.edit\.wire\.from: must be written TAG:TERMINAL/],
    ['no such terminal', () => [ben, 'POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L1', to: 'Q1:9' })], 400, /^entry\.edit: Q1 has no terminal 9/],
    ['a gap in the log', () => [ben, 'POST', `/attempts/${id}/log`, connect(5, good)], 409, /next entry is 1, not 5/],
    ['another site', () => [ben, 'POST', `/attempts/${id}/hand-in`, {}], 403, /another site/],
    ['no reason', () => [first, 'POST', `/attempts/${id}/points`, { part: 'rules', criterion: 'x', points: 1, reason: '' }], 400, /^reason: /],
    ['points of an unmarked attempt', () => [first, 'POST', `/attempts/${id}/points`, { part: 'rules', criterion: 'x', points: 1, reason: 'because' }], 400, /^criterion: /],
    ['empty remark', () => [first, 'POST', `/attempts/${id}/remarks`, { text: '   ' }], 400, /^text: /],
  ];
  for (const [name, request, status, message] of table) {
    test(name, async () => {
      const [client, method, path, body] = request();
      const answer = await client.ask(method, path, body, name === 'another site' ? { origin: 'http://elsewhere.example' } : {});
      expect(answer.status).toBe(status);
      expect(answer.body.error.message).toMatch(message);
      expect(JSON.stringify(answer.body)).not.toMatch(/node_modules|at \w+ \(/);
      const after = (await ben.ask('GET', `/attempts/${id}`)).body;
      expect({ log: after.log, state: after.attempt.state }).toEqual({ log: [], state: 'open' });
    });
  }
});

test('the log takes each entry once, in order; wiring with the supply on is refused', async () => {
  const id = await open(ben);
  const entry = connect(1, { from: 'G1:L1', to: 'Q1:1', colour: 'black' });
  const both = await Promise.all([ben.ask('POST', `/attempts/${id}/log`, entry), ben.ask('POST', `/attempts/${id}/log`, entry)]);
  expect(both.map(({ status }) => status)).toEqual([201, 201]);
  const rival = await ben.ask('POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L2', to: 'Q1:1' }));
  expect(rival).toMatchObject({ status: 409, body: { error: { lastSeq: 1 } } });
  expect((await ben.ask('POST', `/attempts/${id}/log`, { seq: 2, entry: { kind: 'supply', on: true } })).status).toBe(201);
  const live = await ben.ask('POST', `/attempts/${id}/log`, connect(3, { from: 'G1:L2', to: 'Q1:3' }, 1));
  expect(live).toMatchObject({ status: 409, body: { error: { message: 'The supply is on. Switch it off before you change the wiring.' } } });
  await ben.ask('POST', `/attempts/${id}/log`, { seq: 3, entry: { kind: 'supply', on: false } });
  expect((await ben.ask('POST', `/attempts/${id}/log`, connect(4, { from: 'G1:L2', to: 'Q1:3' }, 1))).status).toBe(201);
  expect((await ben.ask('GET', `/attempts/${id}`)).body.log.map((e: { kind: string }) => e.kind)).toEqual(['edit', 'supply', 'supply', 'edit']);
});

test('dead test, permission and incidents are logged and judged; marking again keeps what was given before; the repair is found', async () => {
  const set = await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'brine-pump-emergency-stop' });
  const exercise = (await first.ask('GET', '/exercises/brine-pump-emergency-stop')).body.exercise as { reference: { from: `${string}:${string}`; to: `${string}:${string}` }[] };
  const id = (await ann.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body.id as string;
  // All wires but the earth's.
  const wires = exercise.reference.filter(({ to }) => to !== 'M1:PE');
  let seq = 0;
  const log = (entry: object) => ann.ask('POST', `/attempts/${id}/log`, { seq: (seq += 1), entry });
  for (const [k, wire] of wires.entries()) expect((await log({ kind: 'edit', edit: { do: 'connect', index: k, wire } })).status).toBe(201);
  const nowhere = await ann.ask('POST', `/attempts/${id}/log`, { seq: seq + 1, entry: { kind: 'dead-test', from: 'G1:L1', to: 'G1:L9' } });
  expect(nowhere).toMatchObject({ status: 400, body: { error: { message: 'entry.to: "G1:L9" is not a terminal of this board' } } });
  expect((await log({ kind: 'dead-test', from: 'G1:L1', to: 'G1:PE' })).status).toBe(201);
  expect((await ann.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(403);
  expect((await second.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(404);
  expect((await first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'now' })).status).toBe(409);
  expect((await ann.ask('GET', `/attempts/${id}/repair`)).status).toBe(403);
  const permitted = await first.ask('POST', `/attempts/${id}/permission`, {});
  expect(permitted.body.permittedAt).toMatch(/^\d{4}-/);
  await log({ kind: 'supply', on: true });
  await log({ kind: 'incident', incident: 'fuse-blown' });
  await log({ kind: 'supply', on: false });
  expect((await ann.ask('GET', `/attempts/${id}`)).body).toMatchObject({ permittedAt: permitted.body.permittedAt as unknown });
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(ann, id);
  expect(slip.reference).toBeNull();
  const criteria = Object.fromEntries((slip.report?.criteria ?? []).map((one) => [one.id, one.points === one.max]));
  expect(criteria).toMatchObject({ 'dead-test': true, permission: true, incidents: false, 'earth-bonded': false });
  expect(slip.report?.tolerance?.faults.length).toBeGreaterThan(30);

  const again = await first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'set' });
  expect(again).toMatchObject({ status: 201, body: { former: { report: { score: slip.report?.score } }, report: { score: slip.report?.score } } });
  expect(again.body.reference.wires).toHaveLength(exercise.reference.length);
  expect((await first.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(409);
  for (const client of [ann, first]) {
    const repair = await client.ask('GET', `/attempts/${id}/repair`);
    expect(repair.body).toMatchObject({ found: true, repairs: [[{ add: { from: 'M1:PE', to: 'G1:PE' } }]], more: false });
  }
  // Somebody who stops waiting ends the search; the next one is answered.
  const waiting = new AbortController();
  const asked = fetch(`${server.base}/api/attempts/${id}/repair`, { signal: waiting.signal, headers: { cookie: first.cookie } });
  setTimeout(() => waiting.abort(), 5);
  await expect(asked).rejects.toThrow();
  expect((await first.ask('GET', `/attempts/${id}/repair`)).status).toBe(200);
}, 60_000);

test('a student who opens twice at one moment gets one attempt', async () => {
  const ids = await Promise.all([open(ben), open(ben), open(ben)]);
  expect(new Set(ids).size).toBe(1);
});

test('two processes over one database: either serves either’s sessions, and work handed to one is marked', async () => {
  const other = await startProcess(databaseUrl);
  try {
    const there = new Client(other.base);
    await there.signIn('ben');
    const id = await open(ben);
    const log = (await there.ask('GET', `/attempts/${id}`)).body.log as unknown[];
    expect((await there.ask('POST', `/attempts/${id}/log`, connect(log.length + 1, { from: 'G1:L3', to: 'Q1:5' }, 2))).status).toBe(201);
    expect((await there.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(202);
    expect((await marked(ben, id)).bench.wires).toHaveLength(3);
  } finally {
    await other.kill('SIGTERM');
  }
});

test('killed in the middle of wiring: no acknowledged edit is lost, and what was handed in is marked after all', async () => {
  const url = await freshDatabase();
  let victim = await startProcess(url);
  const { classId: group } = await people(url);
  const teacher = await new Client(victim.base).signIn('first');
  const set = await teacher.ask('POST', `/classes/${group}/assignments`, { exerciseId: pump.id });
  const student = await new Client(victim.base).signIn('ann');
  const id = (await student.ask('POST', `/assignments/${set.body.id}/attempts`, {})).body.id as string;
  let acknowledged = 0;
  const typing = (async () => {
    for (const [k, one] of pump.reference.entries()) {
      if ((await student.ask('POST', `/attempts/${id}/log`, connect(k + 1, one))).status !== 201) return;
      acknowledged = k + 1;
      if (acknowledged === 9) victim.process.kill('SIGKILL');
    }
  })();
  await expect(typing).rejects.toThrow();
  expect(acknowledged).toBeGreaterThanOrEqual(9);
  victim = await startProcess(url);
  const back = await new Client(victim.base).signIn('ann');
  const log = (await back.ask('GET', `/attempts/${id}`)).body.log as { edit: { wire: unknown } }[];
  expect(log.length).toBeGreaterThanOrEqual(acknowledged);
  expect(log.map(({ edit }) => edit.wire)).toEqual(pump.reference.slice(0, log.length));
  for (const [k, one] of pump.reference.entries()) if (k >= log.length) await back.ask('POST', `/attempts/${id}/log`, connect(k + 1, one));
  // Killed again right after handing in.
  const handed = back.ask('POST', `/attempts/${id}/hand-in`, {});
  expect((await handed).status).toBe(202);
  await victim.kill('SIGKILL');
  victim = await startProcess(url);
  expect((await marked(await new Client(victim.base).signIn('ann'), id)).result).toMatchObject({ score: 100 });
  await victim.kill('SIGTERM');
}, 60_000);
