import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { unzipSync } from 'fflate';
import { NOTHING_ENTERED, type Exercise } from '@contactum/core';
import { makeKey } from '../src/domain/records/keys.js';
import { exercise } from '../../core/test/help.js';
import { Client, College, connect, marked, until, wire } from './help.js';

const pump = exercise('brine-pump-three-wire');
const asked = exercise('questions-seal-in');
let college: College;
let cora: Client;
let cas: Client;

const WATCHED = [
  {
    title: 'Proves the board dead before a hand is put in',
    critical: true,
    levels: [
      { title: 'not done', points: 0 },
      { title: 'done when reminded', points: 2 },
      { title: 'done unasked', points: 4 },
    ],
  },
  {
    title: 'Leads are cut, stripped and ferruled cleanly',
    levels: [
      { title: 'poor', points: 0 },
      { title: 'fair', points: 3 },
      { title: 'clean', points: 6 },
    ],
  },
];
const PLAN = {
  title: 'Practical test 1',
  tasks: [
    { kind: 'exercise', exerciseId: pump.id, weight: 60, mustPass: true },
    { kind: 'exercise', exerciseId: asked.id, weight: 20, minutes: 10, variants: false },
    { kind: 'observed', title: 'At the bench', weight: 20, criteria: WATCHED },
  ],
  minutes: 40,
  pass: { sum: 60, each: false },
};

beforeAll(async () => {
  college = await College.started();
  const add = (login: string) =>
    college.first.ask('POST', `/classes/${college.classId}/instructors`, { login });
  await add('second');
  [cora, cas] = [
    await new Client(college.server.base).signIn('cora'),
    await new Client(college.server.base).signIn('third'),
  ];
});

afterAll(() => college.server.kill('SIGTERM'));

async function set(more: object = {}): Promise<string> {
  const { status, body } = await college.first.ask('POST', `/classes/${college.classId}/assessments`, {
    ...PLAN,
    ...more,
  });
  expect([status, body.error ?? null]).toEqual([201, null]);
  return body.id;
}

const view = async (id: string, who = college.first) => (await who.ask('GET', `/assessments/${id}`)).body;
const mine = async (id: string, who = college.ann) => (await who.ask('GET', `/sittings/${id}`)).body;
const act = (id: string, what: object, who = college.first) =>
  who.ask('POST', `/assessments/${id}/invigilation`, what);
const sittingOf = async (id: string, name: string) =>
  (await view(id)).sittings.find((one: any) => one.student.login === name);
const open = async (id: string, task: string, who = college.ann): Promise<string> =>
  (await who.ask('POST', `/sittings/${id}/tasks/${task}`, {})).body.attemptId;
/** The exercise of somebody's attempt, reference and all. */
const worked = (attemptId: string): Promise<Exercise> =>
  college.withDatabase(async (database) => {
    const row = await database('attempts as a')
      .join('assignments as s', 's.id', 'a.assignment_id')
      .where('a.id', attemptId)
      .first<{ own: Exercise | null; set: Exercise }>('a.document as own', 's.document as set');
    return row.own ?? row.set;
  });
const put = (who: Client, id: string, where: string, body: object) =>
  who.ask('PUT', `/assessments/${id}/${where}`, body);

test('an assessment from setting to appeal: nothing is told before its time, and everything is in the record', async () => {
  const { ann, ben, first, second } = college;
  const id = await set({ code: 'brine' });
  const [annId, benId] = (await view(id)).sittings.map((one: any) => one.student.id);

  // Before the start: how many tasks and how long, and no more.
  const before = await ann.ask('GET', `/sittings/${id}`);
  expect(before.body).toMatchObject({ taskCount: 3, minutes: 40, needsCode: true, tasks: [], outcome: null });
  for (const word of ['Brine pump', 'BRINE', 'KM1', 'dead', pump.id])
    expect(JSON.stringify(before.body)).not.toContain(word);
  expect((await ann.ask('GET', '/exercises')).body.flatMap((one: any) => one.assigned)).toEqual([]);
  const early = await ann.ask('POST', `/sittings/${id}/start`, { code: 'BRINE' });
  expect([early.status, early.body.error.message]).toEqual([
    409,
    'The invigilator starts everybody at once. Wait here.',
  ]);
  expect((await ann.ask('POST', `/sittings/${id}/tasks/task-1`, {})).status).toBe(404);

  // The invigilator starts everybody; Ben has more time from then on.
  expect((await act(id, { do: 'start' })).body).toMatchObject({ state: 'running', started: 2 });
  await act(id, { do: 'extend', students: [benId], minutes: 10, why: 'as arranged' });
  const [annsTime, bensTime] = (await view(id)).sittings.map(
    (one: any) => (Date.parse(one.endsAt) - Date.parse(one.startedAt)) / 60_000,
  );
  expect([annsTime, bensTime]).toEqual([40, 50]);

  // Each has a board of the own; what the browser is told holds no answer.
  const [annsWork, bensWork] = [await open(id, 'task-1'), await open(id, 'task-1', ben)];
  const [annsBoard, bensBoard] = [await worked(annsWork), await worked(bensWork)];
  expect(annsBoard.bench.devices.map(({ tag }) => tag)).not.toEqual(
    bensBoard.bench.devices.map(({ tag }) => tag),
  );
  const told = (await ann.ask('GET', `/attempts/${annsWork}`)).body;
  expect(told.sitting).toEqual({ assessmentId: id, aids: [] });
  expect(told.exercise).not.toHaveProperty('reference');
  expect(JSON.stringify(told)).not.toContain('"expect"');
  expect((await ann.ask('GET', `/exercises/${pump.id}/drawing`)).status).toBe(403);

  // A fire alarm: nothing can be done, and nobody loses time.
  const ends = Date.parse((await sittingOf(id, 'ann')).endsAt);
  await act(id, { do: 'pause', why: 'fire alarm' });
  const lead = annsBoard.reference[0]!;
  const stopped = await ann.ask('POST', `/attempts/${annsWork}/log`, connect(1, lead));
  expect([stopped.status, stopped.body.error.message]).toEqual([
    409,
    expect.stringMatching(/clock is stopped/),
  ]);
  expect((await mine(id)).pausedAt).not.toBeNull();
  expect((await ann.ask('POST', `/sittings/${id}/hand-in`, {})).status).toBe(409);
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect((await act(id, { do: 'resume' })).body.state).toBe('running');
  expect(Date.parse((await sittingOf(id, 'ann')).endsAt)).toBeGreaterThan(ends + 250);

  // A second window takes over, and the first one is told.
  const window = (n: number) => `00000000-0000-4000-8000-00000000000${n}`;
  const here = (n: number, takes = false) =>
    ann.ask('POST', `/sittings/${id}/here`, { window: window(n), takes });
  expect((await here(1, true)).body.isOther).toBe(false);
  expect((await here(2, true)).body.isOther).toBe(false);
  expect((await here(1)).body.isOther).toBe(true);

  // Ann wires hers right; Ben has an empty board. What was handed in is marked, and held back.
  await wire(ann, annsWork, annsBoard.reference);
  await ann.ask('POST', `/attempts/${annsWork}/hand-in`, {});
  const questions = await open(id, 'task-2');
  expect((await mine(id)).tasks.map(({ state }: any) => state)).toEqual([
    'handed in',
    'under way',
    'watched',
  ]);
  await ann.ask('POST', `/sittings/${id}/hand-in`, {});
  await ben.ask('POST', `/sittings/${id}/hand-in`, {});
  for (const attempt of [annsWork, questions, bensWork]) await marked(first, attempt);
  const slip = (await ann.ask('GET', `/attempts/${annsWork}/slip`)).body;
  expect([slip.report ?? null, slip.attempt.result, slip.attempt.heldUntil]).toEqual([null, null, null]);
  expect((await mine(id)).outcome).toBeNull();
  // Ben has laid nothing: no byte that he is told is a lead of his reference, of Ann's, or a mark.
  const secrets = [...annsBoard.reference, ...bensBoard.reference, ...pump.reference].flatMap(
    ({ from, to }) => [`"from":"${from}","to":"${to}"`, `"to":"${to}","from":"${from}"`],
  );
  for (const path of [
    ...['/sittings', `/sittings/${id}`, `/attempts/${bensWork}`, `/attempts/${bensWork}/slip`, '/exercises'],
    ...['/logbook', '/calendar.ics', '/session/export', '/notices', `/attempts/${bensWork}/board`],
    ...[`/assessments/${id}`, `/assessments/${id}/look-back`, `/exercises/${pump.id}/reference`],
  ]) {
    const text = JSON.stringify((await ben.ask('GET', path)).body);
    const path0 = path.replace(/[0-9a-f-]{36}/, 'ID');
    expect([path0, secrets.filter((one) => text.includes(one))]).toEqual([path0, []]);
    expect([path0, /"(score|recorded|percent)":\d/.test(text)]).toEqual([path0, false]);
  }

  // Two examiners, each blind to the other until both have judged.
  const level = (criterion: string, n: number) => ({ student: annId, task: 'task-3', criterion, level: n });
  await put(first, id, 'levels', level('criterion-1', 2));
  const blind = (await view(id, second)).sittings[0].judged[0];
  expect([blind.mine, blind.others, blind.theirs]).toEqual([null, 1, []]);
  await put(second, id, 'levels', level('criterion-1', 1));
  const seen = (await view(id, second)).sittings[0].judged[0];
  expect([seen.theirs[0].level, seen.stands]).toEqual([2, null]);
  await put(first, id, 'levels', level('criterion-2', 2));
  await put(second, id, 'levels', level('criterion-2', 2));
  const bens = (criterion: string, n: number) => ({ ...level(criterion, n), student: benId });
  await put(first, id, 'levels', bens('criterion-1', 0));
  await put(first, id, 'levels', bens('criterion-2', 1));
  const over = await put(first, id, 'levels', level('criterion-1', 5));
  expect(over.body.error.problems[0].path).toBe('level');

  // It is not signed off before examiners agree and a moderator has looked.
  const refused = await first.ask('POST', `/assessments/${id}/sign-off`, {});
  expect(refused.body.error.message).toMatch(/examiners differ: Person ann.*not moderated yet/);
  await put(first, id, 'agreed', { ...level('criterion-1', 2), reason: 'seen on the photograph' });
  for (const student of [annId, benId])
    await put(second, id, 'reviews', { student, verdict: 'confirmed', note: '' });
  expect((await first.ask('POST', `/assessments/${id}/release`, {})).status).toBe(409);
  expect((await first.ask('POST', `/assessments/${id}/sign-off`, {})).body.state).toBe('signed off');
  expect((await put(first, id, 'levels', level('criterion-1', 0))).status).toBe(409);
  expect((await first.ask('POST', `/assessments/${id}/release`, {})).body.state).toBe('released');

  // Everybody has their marks now: Ann's right wiring was never energised; Ben did not meet what is critical.
  const annsMarks = (await mine(id)).outcome;
  expect(annsMarks.tasks.map(({ share }: any) => share)).toEqual([58.6, expect.any(Number), 20]);
  expect([annsMarks.complete, annsMarks.passed]).toEqual([true, true]);
  const bensMarks = (await mine(id, ben)).outcome;
  expect(bensMarks.reasons).toEqual([
    '“Proves the board dead before a hand is put in” is critical and was not met',
    expect.stringContaining('is not passed'),
    expect.stringMatching(/%; the pass mark is 60 %/),
  ]);
  expect((await ann.ask('GET', `/attempts/${annsWork}/slip`)).body.report.passed).toBe(true);

  // An appeal, upheld: the level is corrected, and the outcome with it.
  const text = 'I had proved it dead; the examiner stood at the next bench.';
  await ben.ask('POST', `/sittings/${id}/appeals`, { task: 'task-3', criterion: WATCHED[0]!.title, text });
  const corrected = { ...bens('criterion-1', 2), reason: 'the log of the meter shows it' };
  expect((await put(first, id, 'corrections', corrected)).status).toBe(409);
  const [{ id: appealId }] = (await view(id)).appeals;
  await first.ask('POST', `/appeals/${appealId}`, {
    upheld: true,
    answer: 'The meter’s log shows the reading.',
  });
  expect((await put(first, id, 'corrections', corrected)).status).toBe(200);
  const after = await mine(id, ben);
  expect(after.appeals[0]).toMatchObject({ upheld: true, by: 'Person first' });
  expect(after.outcome.reasons[0]).not.toMatch(/critical/);

  // Packs of the whole class, and what the marks tell.
  await college.withDatabase(makeKey);
  const packs = await fetch(`${college.server.base}/api/assessments/${id}/packs.zip`, {
    headers: { cookie: first.cookie },
  });
  const files = unzipSync(Buffer.from(await packs.arrayBuffer()));
  expect(Object.keys(files).sort()).toEqual([
    'Person ann (ann)/outcome.json',
    'Person ann (ann)/task-1.zip',
    'Person ann (ann)/task-2.zip',
    'Person ben (ben)/outcome.json',
    'Person ben (ben)/task-1.zip',
    'assessment.json',
  ]);
  const back = (await first.ask('GET', `/assessments/${id}/look-back`)).body;
  expect(back).toMatchObject({ people: 2, passed: 1, agreementInAll: { both: 2, same: 0.5 } });
  expect(back.tasks).toHaveLength(3);
  const [alike] = (await first.ask('GET', `/assessments/${id}/likeness`)).body;
  expect(alike).toMatchObject({ task: 'task-1', people: 2, pairs: [] });

  const audit = await college.withDatabase((database) =>
    database('audit').where({ class_id: college.classId }).select<{ kind: string }[]>('kind'),
  );
  expect(new Set(audit.map(({ kind }) => kind))).toEqual(
    new Set([
      ...['set an assessment', 'invigilated', 'judged a criterion', 'agreed on a criterion', 'moderated'],
      ...['signed off an assessment', 'released an assessment', 'appealed', 'answered an appeal'],
      ...['made an evidence pack', 'changed a class'].filter((kind) =>
        audit.some((one) => one.kind === kind),
      ),
    ]),
  );
});

describe('who sits when they are ready', () => {
  test('with the code of the room; tasks one after the other where the order is fixed', async () => {
    const { ann } = college;
    const id = await set({ start: 'own', order: 'fixed', code: 'salt7' });
    const wrong = await ann.ask('POST', `/sittings/${id}/start`, { code: 'salt8' });
    expect([wrong.status, wrong.body.error.problems[0].path]).toEqual([403, 'code']);
    const begun = (await ann.ask('POST', `/sittings/${id}/start`, { code: 'salt7' })).body;
    expect(begun.tasks.map(({ state }: any) => state)).toEqual(['to do', 'locked', 'watched']);
    const locked = await ann.ask('POST', `/sittings/${id}/tasks/task-2`, {});
    expect([locked.status, locked.body.error.message]).toEqual([
      409,
      expect.stringMatching(/order is fixed/),
    ]);
    const attempt = await open(id, 'task-1');
    expect(await open(id, 'task-1')).toBe(attempt);
    await ann.ask('POST', `/attempts/${attempt}/hand-in`, {});
    // Its ten minutes are its own.
    const second = await open(id, 'task-2');
    const task = (await mine(id)).tasks[1];
    expect(task).toMatchObject({ attemptId: second, state: 'under way' });
    expect(Date.parse(task.endsAt) - Date.now()).toBeLessThan(10 * 60_000);
    expect((await sittingOf(id, 'ben')).startedAt).toBeNull();
  });

  test('at the end of the time everything is handed in by itself, nothing lost; a void sitting counts nowhere', async () => {
    const { ann, ben, first } = college;
    const id = await set({ start: 'own' });
    for (const who of [ann, ben]) await who.ask('POST', `/sittings/${id}/start`, {});
    const attempt = await open(id, 'task-1');
    const { reference } = await worked(attempt);
    await wire(ann, attempt, reference.slice(0, 3));
    const bens = await open(id, 'task-1', ben);
    const { id: benId } = (await sittingOf(id, 'ben')).student;
    await act(id, { do: 'void', student: benId, why: 'had a telephone on the bench' });
    expect((await marked(first, bens)).attempt.state).toBe('marked');
    await college.withDatabase((database) =>
      database('assessment_sittings')
        .where({ assessment_id: id })
        .whereNull('voided_at')
        .update({ ends_at: new Date(Date.now() - 1000) }),
    );
    const late = await ann.ask('POST', `/attempts/${attempt}/log`, connect(4, reference[3]!));
    expect(late.status).toBe(409);
    await until(async () => (await sittingOf(id, 'ann')).attempts[0].state === 'marked');
    expect((await ann.ask('GET', `/attempts/${attempt}`)).body.log).toHaveLength(3);
    const { sittings, missing, events } = await view(id);
    expect(sittings[1].voided.reason).toBe('had a telephone on the bench');
    expect(missing.join()).not.toContain('Person ben');
    expect(events[0]).toMatchObject({ kind: 'void', studentId: benId, by: 'Person first' });
    expect((await mine(id, ben)).voided).toBe('had a telephone on the bench');
    expect((await ben.ask('POST', `/sittings/${id}/start`, {})).status).toBe(409);
  });
});

/** A sheet of a physical board on which nothing was tested, but for what is named. */
const sheetFor = (studentId: string, entries: object = {}) => ({
  id: randomUUID(),
  studentId,
  entries: { ...NOTHING_ENTERED, ...entries },
  photo: null,
});

describe('a task on the physical board', () => {
  const physical = { ...PLAN.tasks[0], physical: true };

  test('is told with its brief, entered by an examiner until it is signed off, and marked as a sheet', async () => {
    const { ann, first: instructor } = college;
    const id = await set({ tasks: [physical, PLAN.tasks[2]], order: 'fixed' });
    const { sheets, sittings } = await view(id);
    const [{ settingId }] = sheets as [{ settingId: string }];
    const [annId, benId] = sittings.map((one: any) => one.student.id);
    // Taken along before anybody starts.
    const paper = (await instructor.ask('GET', `/assignments/${settingId}/sheet`)).body;
    expect(paper.students.map((one: any) => one.id).sort()).toEqual([annId, benId].sort());
    const enter = (given: object, who = instructor) =>
      who.ask('POST', `/assignments/${settingId}/sheets`, given);
    const early = await enter(sheetFor(annId));
    expect([early.status, early.body.error.message]).toEqual([
      409,
      'This student has not started the assessment.',
    ]);
    await act(id, { do: 'start' });

    const [task] = (await mine(id)).tasks;
    expect(task).toMatchObject({ state: 'at the bench', brief: pump.brief, physical: true, attemptId: null });
    const opened = await ann.ask('POST', `/sittings/${id}/tasks/task-1`, {});
    expect(opened.status).toBe(409);
    // A student neither takes the sheet, which tells readings, nor enters it.
    expect((await ann.ask('GET', `/assignments/${settingId}/sheet`)).status).toBe(403);
    expect((await enter(sheetFor(annId), ann)).status).toBe(403);

    await enter(sheetFor(annId));
    const twice = await enter(sheetFor(annId));
    expect([twice.status, twice.body.error.message]).toEqual([409, 'The one attempt is used.']);
    await act(id, { do: 'void', student: benId, why: 'had to leave' });
    expect((await enter(sheetFor(benId))).status).toBe(409);
    const first = async () => (await sittingOf(id, 'ann')).outcome.tasks[0];
    await until(async () => (await first()).complete);
    expect((await first()).points).toBe(0);
    // Entered again with a reason to: the later one stands.
    const functions = Object.fromEntries(
      paper.sheet.functions.map((one: any) => [
        one.id,
        Object.fromEntries(one.rows.map((_row: unknown, k: number) => [k, 'as expected'])),
      ]),
    );
    expect((await enter({ ...sheetFor(annId, { functions }), anyway: true })).status).toBe(201);
    await until(async () => (await first()).points > 0);
    const [sheet] = (await mine(id)).tasks;
    expect(sheet.state).toBe('handed in');
    expect((await ann.ask('GET', `/attempts/${sheet.attemptId}/sheet`)).body).toBeNull();
    expect(JSON.stringify(await mine(id))).not.toContain('recorded');
  });

  test('until its sheet is entered nothing is signed off', async () => {
    const id = await set({ tasks: [physical] });
    await act(id, { do: 'start' });
    for (const who of [college.ann, college.ben]) await who.ask('POST', `/sittings/${id}/hand-in`, {});
    expect((await view(id)).missing.join()).toContain('not fully marked, or examiners differ: Person ann');
    expect((await college.first.ask('POST', `/assessments/${id}/sign-off`, {})).status).toBe(409);
  });

  test('what is done on the screen has no sheet, and questions none at all', async () => {
    const id = await set();
    const setting = await college.withDatabase((database) =>
      database('assignments').where({ assessment_id: id, task: 'task-1' }).first<{ id: string }>('id'),
    );
    const { status, body } = await college.first.ask('GET', `/assignments/${setting.id}/sheet`);
    expect([status, body.error.message]).toEqual([409, 'This task of the assessment is done on the screen.']);
  });
});

test('an assessment is sat on the machines of its room alone', async () => {
  const { ann } = college;
  const here = ['127.0.0.0/8', '::1'];
  const id = await set({ start: 'own', addresses: here, tasks: [PLAN.tasks[0]] });
  expect((await ann.ask('POST', `/sittings/${id}/start`, {})).status).toBe(200);
  const attempt = await open(id, 'task-1');
  const [first] = (await worked(attempt)).reference;
  expect((await ann.ask('POST', `/attempts/${attempt}/log`, connect(1, first!))).status).toBe(201);

  const away = await set({
    start: 'own',
    addresses: ['10.20.30.0/24', '2001:db8::/32'],
    tasks: [PLAN.tasks[0]],
  });
  const refused = await ann.ask('POST', `/sittings/${away}/start`, {});
  expect([refused.status, refused.body.error.message]).toEqual([
    403,
    'This assessment can only be taken from the allowed addresses; this computer has 127.0.0.1.',
  ]);
  // Started by the invigilator all the same: nothing is opened, and the room is told where they are.
  await act(away, { do: 'start' });
  expect((await ann.ask('POST', `/sittings/${away}/tasks/task-1`, {})).status).toBe(403);
  const pulse = { window: randomUUID() };
  for (let k = 0; k < 3; k += 1)
    expect((await ann.ask('POST', `/sittings/${away}/here`, pulse)).body).toMatchObject({
      isElsewhere: true,
    });
  const { events } = await view(away);
  expect(events.filter(({ kind }: any) => kind === 'address not allowed')).toMatchObject([
    { text: '127.0.0.1' },
  ]);
  expect((await sittingOf(away, 'ann')).seenAt).toBeNull();

  // Nor is what was begun in the room gone on with elsewhere.
  const left = await set({ start: 'own', addresses: here, tasks: [PLAN.tasks[0]] });
  await ann.ask('POST', `/sittings/${left}/start`, {});
  const begun = await open(left, 'task-1');
  await college.withDatabase((database) =>
    database('assessments')
      .where({ id: left })
      .update({ plan: database.raw(`jsonb_set(plan, '{addresses}', '["10.20.30.0/24"]')`) }),
  );
  const [lead] = (await worked(begun)).reference;
  expect((await ann.ask('POST', `/attempts/${begun}/log`, connect(1, lead!))).status).toBe(403);
});

describe('what cannot be set', () => {
  test.each([
    [{ tasks: [] }, 'tasks'],
    [{ minutes: 0 }, 'minutes'],
    [{ addresses: ['room 7'] }, 'addresses[0]'],
    [{ addresses: ['10.20.30.0/40'] }, 'addresses[0]'],
    [{ tasks: [{ ...PLAN.tasks[1], minutes: null, physical: true }] }, 'tasks[0].physical'],
    [{ tasks: [{ ...PLAN.tasks[0], minutes: 20, physical: true }] }, 'tasks[0].minutes'],
    [{ tasks: [{ kind: 'exercise', exerciseId: 'no-such', weight: 1 }] }, 'tasks[0].exerciseId'],
    [
      {
        tasks: [
          { kind: 'exercise', exerciseId: pump.id, weight: 1 },
          { kind: 'exercise', exerciseId: pump.id, weight: 1 },
        ],
      },
      'tasks[0].exerciseId',
    ],
    [{ tasks: [{ ...PLAN.tasks[0], minutes: 50 }] }, 'tasks[0].minutes'],
    [{ pass: { sum: null, each: false }, tasks: [{ ...PLAN.tasks[0], mustPass: false }] }, 'pass'],
    [{ opensAt: '2026-12-02T10:00:00Z', closesAt: '2026-12-02T09:00:00Z' }, 'closesAt'],
    [
      {
        tasks: [
          {
            ...PLAN.tasks[2],
            criteria: [
              {
                title: 'Tidy',
                levels: [
                  { title: 'yes', points: 2 },
                  { title: 'no', points: 0 },
                ],
              },
            ],
          },
        ],
      },
      'tasks[0].criteria[0].levels',
    ],
    [{ extra: [{ studentId: '00000000-0000-4000-8000-000000000001', minutes: 5 }] }, 'extra'],
  ])('%j', async (more, path) => {
    const { status, body } = await college.first.ask('POST', `/classes/${college.classId}/assessments`, {
      ...PLAN,
      ...more,
    });
    expect([status, body.error.problems[0].path]).toEqual([400, path]);
  });

  test('one that somebody has begun is not withdrawn; one that nobody has is', async () => {
    const id = await set({ start: 'own' });
    const patched = async (withdrawn: boolean) =>
      (await college.first.ask('PATCH', `/assessments/${id}`, { withdrawn })).body.state;
    expect(await patched(true)).toBe('withdrawn');
    expect((await college.ann.ask('GET', `/sittings/${id}`)).status).toBe(404);
    expect(await patched(false)).toBe('set');
    await college.ann.ask('POST', `/sittings/${id}/start`, {});
    const { status } = await college.first.ask('PATCH', `/assessments/${id}`, { withdrawn: true });
    expect(status).toBe(409);
  });
});

test('somebody else’s assessment does not exist', async () => {
  const id = await set();
  expect((await cora.ask('GET', `/sittings/${id}`)).status).toBe(404);
  expect((await cas.ask('GET', `/assessments/${id}`)).status).toBe(404);
  expect((await act(id, { do: 'start' }, cas)).status).toBe(404);
  expect((await college.ann.ask('GET', `/assessments/${id}`)).status).toBe(403);
  expect((await college.first.ask('GET', `/sittings/${id}`)).status).toBe(403);
});
