import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { referenceBench, type Exercise } from '@contactum/core';
import { openDatabase } from '../src/database/database.js';
import { exercise } from '../../core/test/help.js';
import {
  Client,
  connect,
  freshDatabase,
  marked,
  neverEnergised,
  people,
  startProcess,
  wire,
  type Server,
} from './help.js';

const pump = exercise('brine-pump-three-wire');
let databaseUrl: string;
let server: Server;
let first: Client;
let ann: Client;
let ben: Client;
let classId: string;

beforeAll(async () => {
  databaseUrl = await freshDatabase();
  server = await startProcess(databaseUrl);
  ({ classId } = await people(databaseUrl));
  await signIn();
});

afterAll(() => server.kill('SIGTERM'));

async function signIn(): Promise<void> {
  [first, ann, ben] = (await Promise.all(
    ['first', 'ann', 'ben'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client];
}

const set = async (exerciseId: string, more: object = {}): Promise<string> =>
  (await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId, variants: true, ...more })).body
    .id;
const open = async (assignment: string, who: Client): Promise<string> =>
  (await who.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id;

/** The exercise that is kept with an attempt. */
async function ownOf(attempt: string): Promise<Exercise> {
  const database = openDatabase(databaseUrl);
  const row = await database('attempts').where({ id: attempt }).first<{ document: Exercise }>('document');
  await database.destroy();
  return row.document;
}

const tagsOf = ({ bench }: Pick<Exercise, 'bench'>): string => bench.devices.map(({ tag }) => tag).join(' ');

test('every student has a board of the own; a neighbour’s leads do not fit it, the own ones pass', async () => {
  const setting = await set(pump.id);
  const mine = await open(setting, ann);
  const theirs = await open(setting, ben);
  const [own, other] = [await ownOf(mine), await ownOf(theirs)];
  expect(new Set([tagsOf(pump), tagsOf(own), tagsOf(other)]).size).toBe(3);
  const view = (await ann.ask('GET', `/attempts/${mine}`)).body;
  expect(tagsOf(view.exercise)).toBe(tagsOf(own));
  expect(view.exercise).toMatchObject({ id: pump.id, drawn: false });
  // Nothing of the right wiring, nor of the seed, is told.
  const bytes = JSON.stringify(view);
  for (const { from, to } of own.reference) expect(bytes).not.toContain(`"from":"${from}","to":"${to}"`);
  expect(Object.keys(view.exercise)).not.toContain('reference');

  // What the neighbour has laid is refused where a terminal is not there, and does not pass where it is.
  let seq = 0;
  for (const lead of own.reference) {
    const { status } = await ben.ask('POST', `/attempts/${theirs}/log`, connect(seq + 1, lead));
    expect([201, 400]).toContain(status);
    if (status === 201) seq += 1;
  }
  expect(seq).toBeLessThan(own.reference.length);
  await ben.ask('POST', `/attempts/${theirs}/hand-in`, {});
  expect((await marked(ben, theirs)).report.passed).toBe(false);

  // The log is followed by another process on the attempt's own board.
  await wire(ann, mine, own.reference.slice(0, 10));
  server.kill('SIGKILL');
  server = await startProcess(databaseUrl);
  await signIn();
  for (const [k, lead] of own.reference.slice(10).entries())
    expect((await ann.ask('POST', `/attempts/${mine}/log`, connect(11 + k, lead))).status).toBe(201);
  await ann.ask('POST', `/attempts/${mine}/hand-in`, {});
  const { report } = await marked(ann, mine);
  expect(report).toMatchObject({ passed: true, score: neverEnergised(pump) });
  expect(report.criteria.map(({ id }: { id: string }) => id)).toEqual(
    expect.arrayContaining(pump.behaviours.map(({ id }) => id)),
  );

  // Its instructor sees its own reference; it is marked again as it was set, and by nothing else.
  const slip = (await first.ask('GET', `/attempts/${mine}/slip`)).body;
  expect(tagsOf({ bench: slip.reference })).toBe(tagsOf(own));
  expect(slip.reference.wires).toHaveLength(referenceBench(pump).wires.length);
  const again = (by: string) => first.ask('POST', `/attempts/${mine}/mark-again`, { exercise: by });
  expect((await again('set')).body.report.score).toBe(report.score);
  expect((await again('now')).body.error.message).toMatch(/has a variant of the exercise/);

  // Another attempt is another variant; and nobody changes boards that were begun.
  const next = await open(setting, ann);
  expect(tagsOf(await ownOf(next))).not.toBe(tagsOf(own));
  const changed = await first.ask('PATCH', `/assignments/${setting}`, { variants: false });
  expect(changed).toMatchObject({
    status: 409,
    body: { error: { message: expect.stringMatching(/begun/) } },
  });
  expect((await first.ask('PATCH', `/assignments/${setting}`, { attemptsAllowed: 5 })).status).toBe(200);
  expect((await first.ask('GET', `/assignments/${setting}/sheet`)).body.error.message).toMatch(/variant/);
});

test('hidden faults are others for each, questions ask about the own board, and the mode rules what is shown', async () => {
  const search = await set('find-seal-in', { mode: 'assessment' });
  const [mine, theirs] = [await open(search, ann), await open(search, ben)];
  expect(JSON.stringify((await ownOf(mine)).sets)).not.toBe(JSON.stringify((await ownOf(theirs)).sets));
  const { body: made } = await ann.ask('GET', `/attempts/${mine}/search`);
  expect(made.id).toEqual(expect.any(String));

  const asked = await set('questions-seal-in');
  const attempt = await open(asked, ann);
  const own = await ownOf(attempt);
  const view = (await ann.ask('GET', `/attempts/${attempt}`)).body;
  expect(view.exercise.questions).toEqual(own.questions);
  expect(JSON.stringify(own.questions)).not.toBe(JSON.stringify(exercise('questions-seal-in').questions));

  // Made an assessment after it was begun it gives no hints and shows no tests any more.
  const setting = await set('brine-pump-two-stations');
  const begun = await open(setting, ann);
  const before = (await ann.ask('GET', `/attempts/${begun}`)).body.exercise;
  expect(before.hints).not.toBeNull();
  await first.ask('PATCH', `/assignments/${setting}`, { mode: 'assessment' });
  const after = (await ann.ask('GET', `/attempts/${begun}`)).body.exercise;
  expect(after).toMatchObject({ hints: null, tellsProgress: false, tellsProof: false });
});

test('without variants everybody has the exercise as it is', async () => {
  const setting = (
    await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'coil-and-contact' })
  ).body;
  expect(setting.variants).toBe(false);
  const attempt = await open(setting.id, ann);
  expect(await ownOf(attempt)).toBeNull();
  expect(tagsOf((await ann.ask('GET', `/attempts/${attempt}`)).body.exercise)).toBe(
    tagsOf(exercise('coil-and-contact')),
  );
  expect((await first.ask('PATCH', `/assignments/${setting.id}`, { variants: 'yes' })).status).toBe(400);
});
