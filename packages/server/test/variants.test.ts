import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { referenceBench, type Exercise } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { College, connect, marked, neverEnergised, wire } from './help.js';

const pump = exercise('brine-pump-three-wire');
let college: College;

beforeAll(async () => {
  college = await College.started();
});

afterAll(() => college.server.kill('SIGTERM'));

const set = (exerciseId: string, more: object = {}): Promise<string> =>
  college.set(exerciseId, { variants: true, ...more });

/** The exercise that is kept with an attempt. */
const ownOf = (attempt: string): Promise<Exercise> =>
  college.withDatabase(async (database) => {
    const row = await database('attempts').where({ id: attempt }).first<{ document: Exercise }>('document');
    return row.document;
  });

const tagsOf = ({ bench }: Pick<Exercise, 'bench'>): string => bench.devices.map(({ tag }) => tag).join(' ');

test('every student has a board of the own; a neighbour’s leads do not fit it, the own ones pass', async () => {
  const setting = await set(pump.id);
  const mine = await college.open(setting, college.ann);
  const theirs = await college.open(setting, college.ben);
  const [own, other] = [await ownOf(mine), await ownOf(theirs)];
  expect(new Set([tagsOf(pump), tagsOf(own), tagsOf(other)]).size).toBe(3);
  const view = (await college.ann.ask('GET', `/attempts/${mine}`)).body;
  expect(tagsOf(view.exercise)).toBe(tagsOf(own));
  expect(view.exercise).toMatchObject({ id: pump.id, drawn: false });
  // Nothing of the right wiring, nor of the seed, is told.
  const bytes = JSON.stringify(view);
  for (const { from, to } of own.reference) expect(bytes).not.toContain(`"from":"${from}","to":"${to}"`);
  expect(Object.keys(view.exercise)).not.toContain('reference');

  // What the neighbour has laid is refused where a terminal is not there, and does not pass where it is.
  let seq = 0;
  for (const lead of own.reference) {
    const { status } = await college.ben.ask('POST', `/attempts/${theirs}/log`, connect(seq + 1, lead));
    expect([201, 400]).toContain(status);
    if (status === 201) seq += 1;
  }
  expect(seq).toBeLessThan(own.reference.length);
  await college.ben.ask('POST', `/attempts/${theirs}/hand-in`, {});
  expect((await marked(college.ben, theirs)).report.passed).toBe(false);

  // The log is followed by another process on the attempt's own board.
  await wire(college.ann, mine, own.reference.slice(0, 10));
  await college.killed();
  for (const [k, lead] of own.reference.slice(10).entries())
    expect((await college.ann.ask('POST', `/attempts/${mine}/log`, connect(11 + k, lead))).status).toBe(201);
  await college.ann.ask('POST', `/attempts/${mine}/hand-in`, {});
  const { report } = await marked(college.ann, mine);
  expect(report).toMatchObject({ passed: true, score: neverEnergised(pump) });
  expect(report.criteria.map(({ id }: { id: string }) => id)).toEqual(
    expect.arrayContaining(pump.behaviours.map(({ id }) => id)),
  );

  // Its instructor sees its own reference; it is marked again as it was set, and by nothing else.
  const slip = (await college.first.ask('GET', `/attempts/${mine}/slip`)).body;
  expect(tagsOf({ bench: slip.reference })).toBe(tagsOf(own));
  expect(slip.reference.wires).toHaveLength(referenceBench(pump).wires.length);
  const again = (by: string) => college.first.ask('POST', `/attempts/${mine}/mark-again`, { exercise: by });
  expect((await again('set')).body.report.score).toBe(report.score);
  expect((await again('now')).body.error.message).toMatch(/has a variant of the exercise/);

  // Another attempt is another variant; and nobody changes boards that were begun.
  const next = await college.open(setting, college.ann);
  expect(tagsOf(await ownOf(next))).not.toBe(tagsOf(own));
  const changed = await college.first.ask('PATCH', `/assignments/${setting}`, { variants: false });
  expect(changed).toMatchObject({
    status: 409,
    body: { error: { message: expect.stringMatching(/begun/) } },
  });
  expect((await college.first.ask('PATCH', `/assignments/${setting}`, { attemptsAllowed: 5 })).status).toBe(
    200,
  );
  expect((await college.first.ask('GET', `/assignments/${setting}/sheet`)).body.error.message).toMatch(
    /variant/,
  );
});

test('hidden faults are others for each, questions ask about the own board, and the mode rules what is shown', async () => {
  const search = await set('find-seal-in', { mode: 'assessment' });
  const [mine, theirs] = [await college.open(search, college.ann), await college.open(search, college.ben)];
  expect(JSON.stringify((await ownOf(mine)).sets)).not.toBe(JSON.stringify((await ownOf(theirs)).sets));
  const { body: made } = await college.ann.ask('GET', `/attempts/${mine}/search`);
  expect(made.id).toEqual(expect.any(String));

  const asked = await set('questions-seal-in');
  const attempt = await college.open(asked, college.ann);
  const own = await ownOf(attempt);
  const view = (await college.ann.ask('GET', `/attempts/${attempt}`)).body;
  expect(view.exercise.questions).toEqual(own.questions);
  expect(JSON.stringify(own.questions)).not.toBe(JSON.stringify(exercise('questions-seal-in').questions));

  // Made an assessment after it was begun it gives no hints and shows no tests any more.
  const setting = await set('brine-pump-two-stations');
  const begun = await college.open(setting, college.ann);
  const before = (await college.ann.ask('GET', `/attempts/${begun}`)).body.exercise;
  expect(before.hints).not.toBeNull();
  await college.first.ask('PATCH', `/assignments/${setting}`, { mode: 'assessment' });
  const after = (await college.ann.ask('GET', `/attempts/${begun}`)).body.exercise;
  expect(after).toMatchObject({ hints: null, tellsProgress: false, tellsProof: false });
});

test('without variants everybody has the exercise as it is', async () => {
  const setting = (
    await college.first.ask('POST', `/classes/${college.classId}/assignments`, {
      exerciseId: 'coil-and-contact',
    })
  ).body;
  expect(setting.variants).toBe(false);
  const attempt = await college.open(setting.id);
  expect(await ownOf(attempt)).toBeNull();
  expect(tagsOf((await college.ann.ask('GET', `/attempts/${attempt}`)).body.exercise)).toBe(
    tagsOf(exercise('coil-and-contact')),
  );
  expect((await college.first.ask('PATCH', `/assignments/${setting.id}`, { variants: 'yes' })).status).toBe(
    400,
  );
});
