import { afterAll, beforeAll, expect, test } from '@jest/globals';
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
let server: Server;
let first: Client;
let ann: Client;
let ben: Client;
let classId: string;

beforeAll(async () => {
  const databaseUrl = await freshDatabase();
  server = await startProcess(databaseUrl);
  ({ classId } = await people(databaseUrl));
  [first, ann, ben] = (await Promise.all(
    ['first', 'ann', 'ben'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client];
});

afterAll(() => server.kill('SIGTERM'));

const set = async (more: object = {}): Promise<string> =>
  (await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: pump.id, ...more })).body.id;
const open = async (assignment: string): Promise<string> =>
  (await ann.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id;

test('hints come by degree, each once for a wiring, and are taken off the score', async () => {
  const id = await open(await set());
  const leads = pump.reference;
  await wire(ann, id, leads.slice(0, -1));
  const take = (degree: string, client = ann) => client.ask('POST', `/attempts/${id}/hints`, { degree });

  expect((await ann.ask('GET', `/attempts/${id}`)).body.exercise.hints).toEqual(pump.hints);
  expect((await ann.ask('GET', `/attempts/${id}/hints`)).body).toEqual({
    costs: pump.hints,
    taken: [],
    next: 'symptom',
  });
  expect((await take('lead')).body.error.message).toBe('For this wiring the next hint is: symptom.');
  const symptom = await take('symptom');
  expect(symptom).toMatchObject({
    status: 201,
    body: { next: 'net', taken: [{ degree: 'symptom', places: [] }] },
  });
  // Asked again, from another window perhaps: it is the same hint.
  expect((await take('symptom')).body.taken).toHaveLength(1);
  expect((await take('net')).body).toMatchObject({ next: 'lead', taken: [{}, { degree: 'net' }] });
  const { from, to } = leads.at(-1)!;
  const lead = (await take('lead')).body;
  expect(lead.next).toBeNull();
  expect([...lead.taken[2].places].sort()).toEqual([from, to].sort());

  // Another wiring, another hint; with a right one there is none, and nothing is charged.
  expect((await ann.ask('POST', `/attempts/${id}/log`, connect(leads.length, leads.at(-1)!))).status).toBe(
    201,
  );
  expect((await ann.ask('GET', `/attempts/${id}/hints`)).body.next).toBe('symptom');
  expect((await take('symptom')).body.error.message).toMatch(/Nothing is wrong/);

  // They are the student's own, and ended with handing in.
  expect((await take('symptom', ben)).status).toBe(404);
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(ann, id);
  expect(slip.report.hints).toEqual({ taken: ['symptom', 'net', 'lead'], cost: 7 });
  expect(slip.report.score).toBe(neverEnergised(pump) - 7);
  expect(slip.hints.map(({ degree, cost }: { degree: string; cost: number }) => [degree, cost])).toEqual([
    ['symptom', 1],
    ['net', 2],
    ['lead', 4],
  ]);
  expect((await take('symptom')).status).toBe(409);
  // Marked again, what was taken still counts.
  const again = await first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'set' });
  expect(again.body.report.hints.cost).toBe(7);
});

test('an assessment gives no hints', async () => {
  const id = await open(
    await set({
      exerciseId: 'brine-pump-emergency-stop',
      mode: 'assessment',
      closesAt: '2100-01-01T00:00:00Z',
    }),
  );
  expect((await ann.ask('GET', `/attempts/${id}`)).body.exercise.hints).toBeNull();
  expect((await ann.ask('POST', `/attempts/${id}/hints`, { degree: 'symptom' })).status).toBe(403);
});
