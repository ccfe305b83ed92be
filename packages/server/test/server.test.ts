import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { exercise } from '../../core/test/help.js';
import pg from 'pg';
import type { LogEntry } from '@contactum/contract';
import {
  Client,
  PASSWORD,
  connect,
  energise,
  freshDatabase,
  marked,
  neverEnergised,
  people,
  repaired,
  startProcess,
  until,
  wire,
  type Server,
} from './help.js';

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
  [first, second, ann, ben] = (await Promise.all(
    ['first', 'second', 'ann', 'ben'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client, Client];
  const set = await first.ask('POST', `/classes/${classId}/assignments`, {
    exerciseId: pump.id,
    dueAt: null,
  });
  expect(set).toMatchObject({ status: 201, body: { className: '=Class 1', students: 2, handedIn: 0 } });
  assignment = set.body.id;
});

afterAll(() => server.kill('SIGTERM'));

const open = async (client: Client): Promise<string> =>
  (await client.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id;

test('the whole story: wired, handed in, marked, remarked, points changed, exported', async () => {
  const id = await open(ann);
  const wires = pump.reference.filter(({ from }) => from !== 'KM1:14');
  await wire(ann, id, wires);
  expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(202);
  const slip = await marked(ann, id);
  expect(slip).toMatchObject({
    student: { name: 'Person ann' },
    result: { passed: false, max: 100 },
    report: { equivalence: { equivalent: false } },
  });
  const holds = slip.report.criteria.find((c: { id: string }) => c.id === 'holds');
  expect(holds).toMatchObject({
    points: 0,
    essential: true,
    evidence: { steps: [{ press: 'S2' }, { release: 'S2' }, { wait: 1 }] },
  });
  expect(slip.bench.wires).toEqual(wires);

  // Handed in is handed in: no more edits, and a second call changes nothing.
  expect(
    (
      await ann.ask(
        'POST',
        `/attempts/${id}/log`,
        connect(wires.length + 1, { from: 'KM1:14', to: 'KM1:A1' }),
      )
    ).status,
  ).toBe(409);
  expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).body.state).toBe('marked');

  expect(
    await first.ask('POST', `/attempts/${id}/remarks`, { text: '  =Look at the seal-in.  ' }),
  ).toMatchObject({
    status: 201,
    body: { remarks: [{ text: '=Look at the seal-in.', by: 'Person first' }] },
  });
  const changed = await first.ask('POST', `/attempts/${id}/points`, {
    part: 'behaviour',
    criterion: 'holds',
    points: holds.max,
    reason: 'explained it well',
  });
  expect(changed.body.result).toMatchObject({ max: 100, passed: false, changed: true });
  expect(changed.body.result.score).toBeGreaterThan(slip.result.score + holds.max - holds.points);
  expect(slip.result.reason).toMatch(
    /^“Holds after Start is let go” is not right: KM1 should be in and is out/,
  );
  expect((await ann.ask('GET', `/attempts/${id}/slip`)).body.changes).toMatchObject([
    { criterion: 'holds', from: 0, to: holds.max, reason: 'explained it well' },
  ]);

  // A second attempt, right this time; the mark book shows the better one.
  const again = await open(ann);
  await wire(ann, again, pump.reference);
  await energise(ann, first, again, pump);
  await ann.ask('POST', `/attempts/${again}/hand-in`, {});
  expect((await marked(ann, again)).result).toEqual({
    score: 100,
    recorded: 100,
    max: 100,
    passed: true,
    changed: false,
    reason: null,
  });
  const book = (await first.ask('GET', `/classes/${classId}/marks`)).body;
  expect(book.students.map((s: { name: string; cells: unknown[] }) => [s.name, s.cells[0]])).toEqual([
    [
      'Person ann',
      {
        attemptId: again,
        attempts: 2,
        state: 'marked',
        unconfirmed: null,
        late: false,
        result: { score: 100, recorded: 100, max: 100, passed: true, changed: false, reason: null },
      },
    ],
    ['Person ben', null],
  ]);
  expect(book.losses[0][0]).toMatchObject({ attempts: 1 });
  const csv = await first.ask('GET', `/classes/${classId}/marks.csv`);
  expect(csv.headers.get('content-type')).toBe('text/csv; charset=utf-8');
  const lines = String(csv.body).trim().split('\r\n');
  expect(lines).toHaveLength(3);
  // A cell that begins like a formula is not one.
  expect(lines[1]).toMatch(/^'=Class 1,Person ann,ann,"Brine pump, three-wire",1,marked,/);
  expect(lines[1]).toContain("'=Look at the seal-in.");
});

test('a board that nobody may sign is recorded one point under the pass mark, wherever marks are kept', async () => {
  const { body: set } = await first.ask('POST', `/classes/${classId}/assignments`, {
    exerciseId: 'brine-pump-lamps',
  });
  const lamps = exercise('brine-pump-lamps');
  const id = (await ben.ask('POST', `/assignments/${set.id as string}/attempts`, {})).body.id as string;
  // Everything works; the frame is not earthed.
  await wire(
    ben,
    id,
    lamps.reference.filter(({ to }) => to !== 'M1:PE'),
  );
  await ben.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(ben, id);
  const under = lamps.marks.pass - 1;
  expect(slip.result).toMatchObject({ recorded: under, passed: false });
  expect(slip.result.score).toBeGreaterThan(lamps.marks.pass);
  const book = (await first.ask('GET', `/classes/${classId}/marks`)).body;
  const k = book.assignments.findIndex((one: { id: string }) => one.id === set.id);
  expect(book.students[1].cells[k].result).toMatchObject({ score: slip.result.score, recorded: under });
  expect(book.assignments[k].spread).toMatchObject({ marks: [under], passed: 0 });
  const csv = String((await first.ask('GET', `/classes/${classId}/marks.csv`)).body);
  const row = csv.split('\r\n').find((line) => line.includes('Person ben')) ?? '';
  expect(row).toContain(`,${under},100,${slip.result.score as number},no,`);
  const gradebook = String((await first.ask('GET', `/classes/${classId}/marks.csv?form=gradebook`)).body);
  expect(gradebook).toContain(`,${under}`);
  expect(gradebook).not.toContain(String(slip.result.score));
  const { lines } = (await ben.ask('GET', '/logbook')).body;
  expect(lines.find((line: { attemptId: string }) => line.attemptId === id)).toMatchObject({
    recorded: under,
    passed: false,
  });
  const troubles = (await first.ask('GET', '/troubles')).body as {
    exerciseId: string;
    terms: { median: number }[];
  }[];
  expect(troubles.find(({ exerciseId }) => exerciseId === lamps.id)?.terms[0]?.median).toBe(under);
  // Points that the instructor gives do not make it safe.
  const earth = slip.report.criteria.find((one: { id: string }) => one.id === 'earth-bonded');
  const changed = await first.ask('POST', `/attempts/${id}/points`, {
    part: 'safety',
    criterion: 'earth-bonded',
    points: earth.max,
    reason: 'earthed before my eyes',
  });
  expect(changed.body.result).toMatchObject({ recorded: under, passed: false, changed: true });
});

describe('who may see what', () => {
  test('a student never gets a reference wiring, faults, anybody else’s work, or how it is tested where the exercise does not tell', async () => {
    const id = await open(ben);
    const secret = JSON.stringify([
      (await ben.ask('GET', '/exercises')).body,
      (await ben.ask('GET', `/exercises/${pump.id}`)).body,
      (await ben.ask('GET', `/attempts/${id}`)).body,
    ]);
    expect(secret).not.toContain('reference');
    expect(secret).not.toContain('"faults"');
    for (const { from, to } of pump.reference) expect(secret).not.toContain(`"from":"${from}","to":"${to}"`);
    const condemned = JSON.stringify((await ben.ask('GET', '/exercises/salt-harrow-no-interlock')).body);
    expect(condemned).not.toContain('expect');
    expect((await ben.ask('GET', `/exercises/${pump.id}/reference`)).status).toBe(403);
    expect((await ben.ask('GET', '/classes')).status).toBe(403);
    expect((await ben.ask('GET', `/classes/${classId}/marks.csv`)).status).toBe(403);
    for (const path of ['', '/slip']) {
      const other = await ann.ask('GET', `/attempts/${id}${path}`);
      expect(other).toMatchObject({
        status: 404,
        body: { error: { type: 'not-found', message: 'There is no such attempt.' } },
      });
    }
    expect(
      (await ann.ask('POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L1', to: 'Q1:1' }))).status,
    ).toBe(404);
    expect((await ann.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(404);
    expect((await ben.ask('GET', `/attempts/${id}`)).body).toMatchObject({
      log: [],
      attempt: { state: 'open' },
    });
    expect((await ben.ask('POST', `/attempts/${id}/remarks`, { text: 'well done' })).status).toBe(403);
  });

  test('an instructor sees only their own classes', async () => {
    const id = await open(ben);
    expect((await second.ask('GET', '/classes')).body).toEqual([]);
    expect((await second.ask('GET', `/classes/${classId}/marks`)).status).toBe(404);
    expect((await second.ask('GET', `/attempts/${id}/slip`)).status).toBe(404);
    expect((await second.ask('POST', `/attempts/${id}/remarks`, { text: 'hm' })).status).toBe(404);
    expect(
      (await second.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'button-lamp-no' })).status,
    ).toBe(404);
    expect((await first.ask('POST', `/assignments/${assignment}/attempts`, {})).status).toBe(403);
  });

  test('nobody signed in sees nothing; a wrong sign-in tells not which half was wrong, and is slowed down', async () => {
    const nobody = new Client(server.base);
    for (const path of ['/exercises', '/classes', `/attempts/${randomUUID()}/slip`])
      expect((await nobody.ask('GET', path)).status).toBe(401);
    expect((await nobody.ask('GET', '/session')).body).toBeNull();
    const wrong = await nobody.ask('POST', '/session', { login: 'ann', password: 'high water' });
    const unknown = await nobody.ask('POST', '/session', { login: 'nobody', password: PASSWORD });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
    // Slowed down, and never locked out: the right password gets in after all.
    await Promise.all(
      Array.from({ length: 6 }, () => nobody.ask('POST', '/session', { login: 'ann', password: 'x' })),
    );
    const begun = Date.now();
    const late = await Promise.all(
      Array.from({ length: 6 }, () => nobody.ask('POST', '/session', { login: 'ann', password: 'y' })),
    );
    expect(new Set(late.map(({ status }) => status))).toEqual(new Set([401]));
    expect(
      await until(
        async () =>
          (await nobody.ask('POST', '/session', { login: 'ann', password: PASSWORD })).status === 201,
      ),
    ).toBe(true);
    expect(Date.now() - begun).toBeGreaterThan(200);
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
    [
      'unknown assignment',
      () => [ben, 'POST', `/assignments/${randomUUID()}/attempts`, {}],
      404,
      /no such assignment/,
    ],
    [
      'unknown exercise',
      () => [first, 'POST', `/classes/${classId}/assignments`, { exerciseId: 'none' }],
      404,
      /no such exercise/,
    ],
    [
      'set twice',
      () => [first, 'POST', `/classes/${classId}/assignments`, { exerciseId: pump.id }],
      409,
      /already set/,
    ],
    ['not JSON', () => [ben, 'POST', `/attempts/${id}/log`, '{ "seq": '], 400, /not JSON/],
    [
      'too large',
      () => [ben, 'POST', `/attempts/${id}/log`, JSON.stringify({ seq: 1, entry: 'x'.repeat(300_000) })],
      413,
      /too large/,
    ],
    [
      'unknown key',
      () => [ben, 'POST', `/attempts/${id}/log`, { ...connect(1, good), by: 'me' }],
      400,
      /^by: unknown key/,
    ],
    [
      'no number',
      () => [ben, 'POST', `/attempts/${id}/log`, { ...connect(1, good), seq: 'one' }],
      400,
      /^seq: must be /,
    ],
    [
      'bad terminal',
      () => [ben, 'POST', `/attempts/${id}/log`, connect(1, { from: 'G1' as never, to: 'Q1:1' })],
      400,
      /^entry\.edit\.wire\.from: must be written TAG:TERMINAL/,
    ],
    [
      'no such terminal',
      () => [ben, 'POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L1', to: 'Q1:9' })],
      400,
      /^entry\.edit: Q1 has no terminal 9/,
    ],
    [
      'a gap in the log',
      () => [ben, 'POST', `/attempts/${id}/log`, connect(5, good)],
      409,
      /next entry is 1, not 5/,
    ],
    [
      'NUL',
      () => [
        ben,
        'POST',
        `/attempts/${id}/log`,
        JSON.stringify(connect(1, { from: 'G1:L1\u0000' as never, to: 'Q1:1' })),
      ],
      400,
      /cannot be stored/,
    ],
    [
      'half a character',
      () => [first, 'POST', `/attempts/${id}/remarks`, '{"text":"\\ud800 hm"}'],
      400,
      /cannot be stored/,
    ],
    ['NUL in the address', () => [first, 'GET', '/exercises/a%00b', undefined], 400, /cannot be stored/],
    ['a broken address', () => [first, 'GET', '/exercises/%ff', undefined], 400, /malformed/],
    [
      'deep JSON',
      () => [ben, 'POST', `/attempts/${id}/log`, `{"seq":1,"entry":${'['.repeat(5000)}${']'.repeat(5000)}}`],
      400,
      /deep/,
    ],
    ['another site', () => [ben, 'POST', `/attempts/${id}/hand-in`, {}], 403, /another site/],
    [
      'no reason',
      () => [
        first,
        'POST',
        `/attempts/${id}/points`,
        { part: 'rules', criterion: 'x', points: 1, reason: '' },
      ],
      400,
      /^reason: /,
    ],
    [
      'points of an unmarked attempt',
      () => [
        first,
        'POST',
        `/attempts/${id}/points`,
        { part: 'rules', criterion: 'x', points: 1, reason: 'because' },
      ],
      400,
      /^criterion: /,
    ],
    ['empty remark', () => [first, 'POST', `/attempts/${id}/remarks`, { text: '   ' }], 400, /^text: /],
  ];
  for (const [name, request, status, message] of table) {
    test(name, async () => {
      const [client, method, path, body] = request();
      const answer = await client.ask(
        method,
        path,
        body,
        name === 'another site' ? { origin: 'http://elsewhere.example' } : {},
      );
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
  const both = await Promise.all([
    ben.ask('POST', `/attempts/${id}/log`, entry),
    ben.ask('POST', `/attempts/${id}/log`, entry),
  ]);
  expect(both.map(({ status }) => status)).toEqual([201, 201]);
  const rival = await ben.ask('POST', `/attempts/${id}/log`, connect(1, { from: 'G1:L2', to: 'Q1:1' }));
  expect(rival).toMatchObject({ status: 409, body: { error: { lastSeq: 1 } } });
  expect(
    (await ben.ask('POST', `/attempts/${id}/log`, { seq: 2, entry: { kind: 'supply', on: true } })).status,
  ).toBe(201);
  const live = await ben.ask('POST', `/attempts/${id}/log`, connect(3, { from: 'G1:L2', to: 'Q1:3' }));
  expect(live).toMatchObject({
    status: 409,
    body: { error: { message: 'The supply is on. Switch it off before you change the wiring.' } },
  });
  await ben.ask('POST', `/attempts/${id}/log`, { seq: 3, entry: { kind: 'supply', on: false } });
  expect(
    (await ben.ask('POST', `/attempts/${id}/log`, connect(4, { from: 'G1:L2', to: 'Q1:3' }))).status,
  ).toBe(201);
  expect((await ben.ask('GET', `/attempts/${id}`)).body.log.map((e: LogEntry) => e.entry.kind)).toEqual([
    'edit',
    'supply',
    'supply',
    'edit',
  ]);
});

test('what was done at the bench is found by working it again; marking again keeps what was given before; the repair is found', async () => {
  const set = await first.ask('POST', `/classes/${classId}/assignments`, {
    exerciseId: 'brine-pump-emergency-stop',
  });
  const exercise = (await first.ask('GET', '/exercises/brine-pump-emergency-stop')).body.exercise as {
    reference: { from: `${string}:${string}`; to: `${string}:${string}` }[];
  };
  const id = (await ann.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body.id as string;
  // All wires but the earth's.
  const wires = exercise.reference.filter(({ to }) => to !== 'M1:PE');
  let seq = 0;
  const log = (entry: object) => ann.ask('POST', `/attempts/${id}/log`, { seq: (seq += 1), entry });
  for (const [k, wire] of wires.entries())
    expect((await log({ kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } })).status).toBe(201);
  const refused: [object, RegExp][] = [
    [{ kind: 'reading', from: 'G1:L1', to: 'G1:L9' }, /^entry\.to: "G1:L9" is not a terminal of this board$/],
    [
      { kind: 'act', stimulus: { press: 'S9' } },
      /^entry\.stimulus\.press: "S9" is not a device of this bench$/,
    ],
    [{ kind: 'act', stimulus: { wait: 3600 } }, /something done by hand/],
    [{ kind: 'incident', incident: 'whatever' }, /^entry\.kind: unknown kind "incident"$/],
  ];
  for (const [entry, words] of refused) {
    const { status, body } = await ann.ask('POST', `/attempts/${id}/log`, { seq: seq + 1, entry });
    expect({ status, words: body.error.message }).toEqual({
      status: 400,
      words: expect.stringMatching(words) as unknown,
    });
  }
  const read = async (from: string, to: string) =>
    expect((await log({ kind: 'reading', from, to })).status).toBe(201);
  await read('G1:PE', 'M1:PE');
  await read('G1:L1', 'G1:L2');
  await read('G1:L1', 'G1:N');
  await log({ kind: 'act', stimulus: { press: 'S2' } });
  await read('G1:N', 'G1:L1');
  await log({ kind: 'act', stimulus: { release: 'S2' } });
  expect((await ann.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(403);
  expect((await second.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(404);
  expect((await first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'now' })).status).toBe(409);
  expect((await ann.ask('POST', `/attempts/${id}/repair`, {})).status).toBe(403);
  const permitted = await first.ask('POST', `/attempts/${id}/permission`, {});
  expect(permitted.body.permittedAt).toMatch(/^\d{4}-/);
  await log({ kind: 'supply', on: true });
  await log({ kind: 'act', stimulus: { press: 'S2' } });
  await log({ kind: 'supply', on: false });
  expect((await ann.ask('GET', `/attempts/${id}`)).body).toMatchObject({
    permittedAt: permitted.body.permittedAt as unknown,
    permittedAfter: seq - 3,
  });
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(ann, id);
  expect(slip.reference).toBeNull();
  const criteria = Object.fromEntries(
    (slip.report?.criteria ?? []).map((one: { id: string; points: number; max: number }) => [
      one.id,
      one.points === one.max,
    ]),
  );
  // The missing earth was there to be read, and the board energised all the same.
  expect(criteria).toMatchObject({
    'dead-test': false,
    permission: true,
    incidents: true,
    'earth-bonded': false,
  });
  expect(slip.report.criteria.find((one: { id: string }) => one.id === 'dead-test').evidence.found).toMatch(
    /^energised although G1:PE to M1:PE read no connection/,
  );
  expect(slip.report?.tolerance?.faults.length).toBeGreaterThan(30);

  const again = await first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'set' });
  expect(again).toMatchObject({
    status: 201,
    body: { former: { report: { score: slip.report?.score } }, report: { score: slip.report?.score } },
  });
  expect(again.body.reference.wires).toHaveLength(exercise.reference.length);
  expect((await first.ask('POST', `/attempts/${id}/permission`, {})).status).toBe(409);
  for (const client of [ann, first]) {
    const { body } = await repaired(client, id);
    expect(body).toMatchObject({
      state: 'done',
      result: { found: true, repairs: [[{ add: { from: 'G1:PE', to: 'M1:PE' } }]], more: false },
    });
  }
  // A search that was taken back is no more; what was found is kept by its wiring.
  expect((await first.ask('DELETE', `/attempts/${id}/repair`)).status).toBe(204);
  expect((await first.ask('GET', `/attempts/${id}/repair`)).body.state).toBe('done');
});

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
    expect(
      (await there.ask('POST', `/attempts/${id}/log`, connect(log.length + 1, { from: 'G1:L3', to: 'Q1:5' })))
        .status,
    ).toBe(201);
    expect((await there.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(202);
    expect((await marked(ben, id)).bench.wires).toHaveLength(3);
  } finally {
    await other.kill('SIGTERM');
  }
});

/** Runs SQL on the server's own database. */
async function sql(url: string, text: string, values: unknown[] = []): Promise<pg.QueryResult> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await client.query(text, values);
  } finally {
    await client.end();
  }
}

test('a marking that throws says so on the slip and in the mark book, the student goes on, and marking again mends it', async () => {
  const url = await freshDatabase();
  const own = await startProcess(url);
  try {
    const { classId: group } = await people(url);
    const teacher = await new Client(own.base).signIn('first');
    const student = await new Client(own.base).signIn('ann');
    const set = await teacher.ask('POST', `/classes/${group}/assignments`, { exerciseId: pump.id });
    // An exercise that names what is not on its board: no reader of documents would take it.
    await sql(
      url,
      `update assignments set document = jsonb_set(document, '{behaviours,0,steps}', '[{"expect":{"KM9":"in"}}]')`,
    );
    const id = (await student.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body
      .id as string;
    await wire(student, id, pump.reference);
    const [one, two] = await Promise.all([
      student.ask('POST', `/attempts/${id}/hand-in`, {}),
      student.ask('POST', `/attempts/${id}/hand-in`, {}),
    ]);
    expect([one.status, two.status, one.body.id, two.body.id]).toEqual([202, 202, id, id]);
    const slip = await marked(student, id);
    expect(slip).toMatchObject({
      attempt: { state: 'failed' },
      report: null,
      failure: expect.stringContaining('KM9') as unknown,
    });
    expect((await teacher.ask('GET', `/classes/${group}/marks`)).body.students[0].cells[0]).toMatchObject({
      state: 'failed',
      result: null,
    });
    expect(
      (await student.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body,
    ).toMatchObject({ number: 2, state: 'open' });
    expect((await teacher.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'set' })).status).toBe(409);
    const mended = await teacher.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'now' });
    expect(mended).toMatchObject({
      status: 201,
      body: { attempt: { state: 'marked' }, result: { score: neverEnergised(pump) }, failure: null },
    });
    expect((await sql(url, 'select count(*)::int as n from markings')).rows).toEqual([{ n: 1 }]);
  } finally {
    await own.kill('SIGTERM');
  }
});

test('who is removed, or takes another password, has no session; who leaves the class hands in nothing', async () => {
  const url = await freshDatabase();
  const own = await startProcess(url);
  try {
    const { classId: group } = await people(url);
    const teacher = await new Client(own.base).signIn('first');
    const set = await teacher.ask('POST', `/classes/${group}/assignments`, { exerciseId: pump.id });
    const [here, there] = [
      await new Client(own.base).signIn('ann'),
      await new Client(own.base).signIn('ann'),
    ];
    const id = (await here.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body
      .id as string;
    // Who writes one lead after another is asked for with the writing itself: that must see as much.
    const lead = async (one: Client, seq: number) =>
      (await one.ask('POST', `/attempts/${id}/log`, connect(seq, pump.reference[seq - 1] as never))).status;
    for (const seq of [1, 2]) expect(await lead(there, seq)).toBe(201);
    expect(
      (await here.ask('POST', '/session/password', { password: 'wrong one', next: 'neap tide' })).status,
    ).toBe(400);
    expect(
      (await here.ask('POST', '/session/password', { password: PASSWORD, next: 'neap tide' })).status,
    ).toBe(200);
    expect((await here.ask('GET', `/attempts/${id}`)).status).toBe(200);
    expect(await lead(there, 3)).toBe(401);
    expect((await there.ask('GET', `/attempts/${id}`)).status).toBe(401);
    for (const seq of [3, 4]) expect(await lead(here, seq)).toBe(201);
    await sql(url, "update people set name = 'Another name' where login = 'ann'");
    expect((await here.ask('GET', '/session')).body.name).toBe('Another name');
    await sql(
      url,
      "delete from class_members where student_id = (select id from people where login = 'ann')",
    );
    expect(await lead(here, 5)).toBe(404);
    expect((await here.ask('POST', `/attempts/${id}/hand-in`, {})).status).toBe(404);
    expect((await sql(url, 'select count(*)::int as n from attempt_log')).rows).toEqual([{ n: 4 }]);
    await sql(url, "delete from people where login = 'ann'");
    expect(await lead(here, 5)).toBe(401);
    expect((await here.ask('GET', '/exercises')).status).toBe(401);
  } finally {
    await own.kill('SIGTERM');
  }
});

test('what is kept beside the log is what the log leads to, at any length; a board takes 600 leads and no more', async () => {
  const set = await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'button-lamp-no' });
  const id = (await ben.ask('POST', `/assignments/${set.body.id as string}/attempts`, {})).body.id as string;
  const put = (seq: number) =>
    ben.ask(
      'POST',
      `/attempts/${id}/log`,
      connect(seq, { from: 'G2:+', to: seq % 2 === 1 ? 'S1:13' : 'H1:X1' }),
    );
  for (let seq = 1; seq <= 600; seq += 1) expect((await put(seq)).status).toBe(201);
  expect(await put(601)).toMatchObject({
    status: 400,
    body: { error: { message: 'entry.edit: a board takes 600 leads at most' } },
  });
  const kept = await until(
    async () =>
      (
        await sql(
          databaseUrl,
          'select seq, jsonb_array_length(wires) as wires from attempt_boards where attempt_id = $1 and seq > 536',
          [id],
        )
      ).rows[0] as { seq: number; wires: number } | undefined,
  );
  expect(kept.wires).toBe(kept.seq);
  // Another process reads the board from there, and the two say the same.
  const other = await startProcess(databaseUrl);
  try {
    const there = await new Client(other.base).signIn('ben');
    expect(
      (
        await there.ask('POST', `/attempts/${id}/log`, {
          seq: 601,
          entry: { kind: 'edit', edit: { do: 'cut', lead: 'w600', wire: { from: 'G2:+', to: 'H1:X1' } } },
        })
      ).status,
    ).toBe(201);
    expect((await put(601)).status).toBe(409);
    expect((await put(602)).status).toBe(201);
    const slips = await Promise.all([ben, there].map((client) => client.ask('GET', `/attempts/${id}/slip`)));
    expect(slips.map(({ body }) => body.bench.wires.length)).toEqual([600, 600]);
    expect(slips[0]?.body.bench).toEqual(slips[1]?.body.bench);
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
  const log = (await back.ask('GET', `/attempts/${id}`)).body.log as LogEntry[];
  expect(log.length).toBeGreaterThanOrEqual(acknowledged);
  expect(log).toMatchObject(
    pump.reference.slice(0, log.length).map((wire) => ({ entry: { edit: { do: 'connect', wire } } })),
  );
  for (const [k, one] of pump.reference.entries())
    if (k >= log.length) await back.ask('POST', `/attempts/${id}/log`, connect(k + 1, one));
  // Killed again right after handing in.
  const handed = back.ask('POST', `/attempts/${id}/hand-in`, {});
  expect((await handed).status).toBe(202);
  await victim.kill('SIGKILL');
  victim = await startProcess(url);
  expect((await marked(await new Client(victim.base).signIn('ann'), id)).result).toMatchObject({
    score: neverEnergised(pump),
  });
  await victim.kill('SIGTERM');
});
