import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { SheetEntries } from '@contactum/core';
import type { SheetToTake } from '@contactum/contract';
import { enteredRight, exercise } from '../../core/test/help.js';
import { Client, freshDatabase, marked, people, startProcess, until, wire, type Server } from './help.js';

/** One pixel. */
const PICTURE =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==';
const pump = exercise('brine-pump-three-wire');
let server: Server;
let first: Client;
let ann: Client;
let settingId: string;
let classId: string;
let paper: SheetToTake;

beforeAll(async () => {
  const url = await freshDatabase();
  server = await startProcess(url);
  ({ classId } = await people(url));
  [first, ann] = (await Promise.all(
    ['first', 'ann'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client];
  const set = await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: pump.id });
  settingId = set.body.id as string;
  paper = (await first.ask('GET', `/assignments/${settingId}/sheet`)).body as SheetToTake;
});
afterAll(() => server.kill('SIGTERM'));

/** Everything of the sheet as a right board shows it. */
const allRight = (): SheetEntries => ({
  ...enteredRight(paper.sheet),
  begun: '2026-11-20T09:00:00Z',
  ended: '2026-11-20T09:40:00Z',
  permittedBy: 'Person first',
  settings: Object.fromEntries(
    paper.sheet.settings.map(({ tag, setting, right }) => [`${tag}.${setting}`, right]),
  ),
});

const studentOf = (name: string): string => paper.students.find((one) => one.name === `Person ${name}`)!.id;

const send = (entries: SheetEntries, more: object = {}, client = first) =>
  client.ask('POST', `/assignments/${settingId}/sheets`, {
    id: randomUUID(),
    studentId: studentOf('ann'),
    entries,
    ...more,
  });

/** The slip of a sheet that is taken. */
async function slipOf(entries: SheetEntries, more: object = {}): Promise<any> {
  const { status, body } = await send(entries, more);
  expect({ status, body }).toMatchObject({ status: 201 });
  return marked(first, body.attemptId as string);
}

test('a right physical board has full marks on the same slip, and a sheet that is sent twice is taken once', async () => {
  const id = randomUUID();
  const photo = { type: 'image/png', base64: PICTURE };
  const sent = await send(allRight(), { id, photo });
  expect(sent.status).toBe(201);
  expect(await send(allRight(), { id, photo })).toMatchObject({ status: 201, body: sent.body });
  const changed = await send({ ...allRight(), remarks: 'other' }, { id, photo });
  expect(changed).toMatchObject({ status: 409, body: { error: { message: /sent before/ } } });
  const slip = await marked(first, sent.body.attemptId as string);
  expect(slip.report).toMatchObject({ score: 100, max: 100, passed: true, reason: null });
  expect(slip.report.physical).toMatchObject({ deviations: [], contradictions: [], suspects: [] });
  const book = (await ann.ask('GET', '/logbook')).body;
  expect(book.lines).toMatchObject([
    { place: 'bench', hours: 0.67, passed: true, instructor: 'Person first', board: pump.bench.title },
  ]);
  expect((await ann.ask('GET', '/logbook.csv')).body).toContain('2026-11-20');
  const view = (await ann.ask('GET', `/attempts/${sent.body.attemptId}/sheet`)).body;
  expect(view).toMatchObject({ enteredBy: 'Person first', entries: { permittedBy: 'Person first' } });
  const kept = await fetch(`${server.base}${view.photo as string}`, { headers: { cookie: ann.cookie } });
  expect(kept.headers.get('content-type')).toBe('image/jpeg');
  expect(
    Buffer.from(await kept.arrayBuffer())
      .subarray(0, 3)
      .toString('hex'),
  ).toBe('ffd8ff');
  // Nobody else sees it.
  const ben = await new Client(server.base).signIn('ben');
  expect((await ben.ask('GET', `/attempts/${sent.body.attemptId}/sheet/photo`)).status).toBe(404);
});

test('a student certifies nobody: a sheet of their own counts when an instructor stands for it', async () => {
  const cells = async (): Promise<any[]> => {
    const { body } = await first.ask('GET', `/classes/${classId}/marks`);
    return body.students.find(({ name }: { name: string }) => name === 'Person ben').cells as any[];
  };
  const ben = await new Client(server.base).signIn('ben');
  const settings = (await ben.ask('GET', '/exercises')).body.find(
    ({ id }: { id: string }) => id === pump.id,
  ).assigned;
  expect(settings).toHaveLength(1);
  const given = { ...allRight(), begun: '1970-01-01T00:00:00Z', ended: '2031-01-01T00:00:00Z' };
  const before = Date.now();
  // The tablet's clock is two hours slow, and the permission is somebody's whom the student has named.
  const sent = await send(
    {
      ...given,
      isolatedBy: 'Person first',
      permittedBy: 'Person first',
      checks: { ...given.checks, 'workmanship/permission': true },
    },
    { studentId: studentOf('ben'), clock: new Date(before - 7_200_000).toISOString() },
    ben,
  );
  expect(sent.status).toBe(201);
  const attemptId = sent.body.attemptId as string;
  const slip = await marked(first, attemptId);
  expect(slip.attempt).toMatchObject({ unconfirmed: true });
  const permission = ({ report }: any) =>
    report.criteria.find(({ id }: { id: string }) => id === 'permission');
  expect(permission(slip)).toMatchObject({ points: 0 });
  expect(Date.parse(slip.attempt.handedInAt)).toBeGreaterThanOrEqual(before - 1000);
  expect(Date.parse(slip.attempt.handedInAt)).toBeLessThan(Date.now() + 1000);
  const sheet = async () => (await first.ask('GET', `/attempts/${attemptId}/sheet`)).body;
  expect(await sheet()).toMatchObject({
    enteredBy: 'Person ben',
    confirmedBy: '',
    confirmedAt: null,
    entries: { isolatedBy: 'Person ben' },
  });
  expect((await sheet()).entries.permittedBy).toBeUndefined();
  expect((await sheet()).clockBehind).toBeCloseTo(7200, -1);
  // It is in no average, no logbook, no grade book and no list of what goes wrong.
  expect((await cells())[0]).toMatchObject({ result: null, unconfirmed: { max: 100 } });
  const book = (await first.ask('GET', `/classes/${classId}/marks`)).body;
  expect(book.assignments[0].spread.marks).toHaveLength(1);
  expect((await ben.ask('GET', '/logbook')).body.lines).toEqual([]);
  const csv = (await first.ask('GET', `/classes/${classId}/marks.csv`)).body as string;
  expect(csv.split('\n').find((line) => line.includes('Person ben'))).toMatch(/unconfirmed/);
  const grades = (await first.ask('GET', `/classes/${classId}/marks.csv?form=gradebook`)).body as string;
  expect(grades.split('\n').find((line) => line.includes('ben'))).toMatch(/,\s*$/);
  const waiting = (await first.ask('GET', '/sheets/waiting')).body;
  expect(waiting).toMatchObject([{ attemptId, student: 'Person ben', state: 'marked' }]);
  // Nobody confirms it but an instructor of the class, and once.
  const confirm = (client: Client) =>
    client.ask('POST', `/attempts/${attemptId}/sheet/confirm`, { permitted: true });
  const second = await new Client(server.base).signIn('second');
  expect((await confirm(ben)).status).toBe(403);
  expect((await confirm(second)).status).toBe(404);
  expect((await second.ask('GET', '/sheets/waiting')).body).toEqual([]);
  const answers = await Promise.all([confirm(first), confirm(first)]);
  expect(answers.map(({ status }) => status).sort()).toEqual([204, 409]);
  expect(await sheet()).toMatchObject({
    confirmedBy: 'Person first',
    entries: { permittedBy: 'Person first' },
  });
  const after = (await first.ask('GET', `/attempts/${attemptId}/slip`)).body;
  expect(after.attempt.unconfirmed).toBeUndefined();
  expect(permission(after).points).toBe(permission(after).max);
  expect((await cells())[0]).toMatchObject({ result: { recorded: 100 }, unconfirmed: null });
  expect((await ben.ask('GET', '/logbook')).body.lines).toMatchObject([{ instructor: 'Person first' }]);
  expect((await first.ask('GET', '/sheets/waiting')).body).toEqual([]);
});

test('what was seen otherwise loses what it loses on the screen, and the likely wiring mistake is named', async () => {
  const entries = allRight();
  // It runs while Start is held, and is out when Start is let go: it does not hold.
  const letGo = (row: (typeof paper.sheet.functions)[number]['rows'][number]) =>
    row.expect.KM1 === 'in' && row.steps.some((step) => 'release' in step && step.release === 'S2');
  const holds = paper.sheet.functions.find(({ rows }) => rows.some(letGo))!;
  const at = holds.rows.findIndex(letGo);
  const seen = { ...entries.functions[holds.id], [String(at)]: { KM1: 'out', 'M1.driven': 'none' } };
  const { report } = await slipOf({ ...entries, dead: {}, functions: { [holds.id]: seen } });
  expect(report.passed).toBe(false);
  expect(report.criteria.find((one: { id: string }) => one.id === holds.id).evidence.found).toContain(
    'KM1 was out',
  );
  expect(report.physical.deviations).toHaveLength(1);
  expect(report.physical.suspects.join('; ')).toMatch(/KM1 1[34]/);
  // Not entered is not tested: it earns nothing, and nothing is claimed of it.
  expect(
    report.criteria.filter((one: { evidence: { found: string } | null }) =>
      one.evidence?.found.includes('was not tried'),
    ).length,
  ).toBeGreaterThan(0);
});

test('leads that were entered and readings that cannot both be true are named; the wiring alone gives no safety then', async () => {
  const wrong = pump.reference.filter(({ from, to }) => ![from, to].includes('KM1:13'));
  const slip = await slipOf({ ...allRight(), checks: {}, asWired: wrong });
  const { contradictions, wiringEntered } = slip.report.physical;
  expect(contradictions.length).toBeGreaterThan(0);
  expect(contradictions[0]).toMatchObject({ place: expect.any(String), entered: expect.any(String) });
  expect(wiringEntered).toBe(false);
  expect(slip.report.passed).toBe(false);
  expect(slip.bench.wires).toHaveLength(pump.bench.wires.length + wrong.length);
  const { report } = await slipOf({ ...allRight(), checks: {}, asWired: pump.reference });
  expect(report.physical).toMatchObject({ contradictions: [], wiringEntered: true });
  expect(report).toMatchObject({ score: 100, passed: true });
});

test('what does not fit is refused with its place, what stands against it is said, and may be taken anyway', async () => {
  const strange = await send({ ...allRight(), functions: { 'no-such': {} } });
  expect(strange).toMatchObject({ status: 400, body: { error: { problems: [{ path: /no-such/ }] } } });
  const bad = await send({ ...allRight(), asWired: [{ from: 'KM9:1', to: 'KM1:2' }] });
  expect(bad).toMatchObject({ status: 400, body: { error: { problems: [{ path: /asWired\[0\]/ }] } } });
  const { body: attempt } = await ann.ask('POST', `/assignments/${settingId}/attempts`, {});
  const open = await send(allRight());
  expect(open).toMatchObject({ status: 409, body: { error: { message: /open on the screen/ } } });
  expect((await send(allRight(), { anyway: true })).status).toBe(201);
  // The attempt on the screen is still the one under way, and its leads can be taken for the sheet.
  expect((await ann.ask('POST', `/assignments/${settingId}/attempts`, {})).body.id).toBe(attempt.id);
  await wire(ann, attempt.id as string, pump.reference.slice(0, 5));
  const wiring = (await first.ask('GET', `/assignments/${settingId}/wiring/${studentOf('ann')}`)).body;
  expect(wiring.wires).toEqual(pump.reference.slice(0, 5));
  expect((await send(allRight(), { studentId: studentOf('ben') }, ann)).status).toBe(403);
});

test('a day without a network, forty boards, sent at once: each is taken and marked once', async () => {
  const ids = Array.from({ length: 40 }, () => randomUUID());
  const day = { ...allRight(), remarks: 'x'.repeat(500) };
  const answers = await Promise.all(
    ids.flatMap((id) => [id, id]).map((id) => send(day, { id, studentId: studentOf('ben'), anyway: true })),
  );
  expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 201));
  const attempts = new Set(answers.map(({ body }) => body.attemptId as string));
  expect(attempts.size).toBe(40);
  const numbers = new Set(answers.map(({ body }) => body.number as number));
  expect([...numbers].sort((a, b) => a - b)).toEqual(Array.from({ length: 40 }, (_, k) => k + 2));
  const ben = await new Client(server.base).signIn('ben');
  const book = await until(async () => {
    const { body } = await ben.ask('GET', '/logbook');
    return body.lines.length === 41 ? body : null;
  });
  expect(book.lines.every(({ recorded }: { recorded: number }) => recorded === 100)).toBe(true);
});

test('the calendar has every due date, with a line a thing', async () => {
  await first.ask('PATCH', `/assignments/${settingId}`, { dueAt: '2026-12-04T15:00:00Z' });
  const { body, headers } = await ann.ask('GET', '/calendar.ics');
  expect(headers.get('content-type')).toContain('text/calendar');
  expect(body).toContain('BEGIN:VCALENDAR');
  expect(body).toContain('DTSTART:20261204T150000Z');
  expect(body).toContain(pump.title.replace(',', '\\,'));
});
