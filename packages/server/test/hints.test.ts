import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { exercise } from '../../core/test/help.js';
import { College, connect, marked, neverEnergised, wire } from './help.js';

const pump = exercise('brine-pump-three-wire');
let college: College;

beforeAll(async () => {
  college = await College.started();
});

afterAll(() => college.server.kill('SIGTERM'));

const set = (more: object = {}): Promise<string> => college.set(pump.id, more);

test('hints come by degree, each once for a wiring, and are taken off the score', async () => {
  const id = await college.open(await set());
  const leads = pump.reference;
  await wire(college.ann, id, leads.slice(0, -1));
  const take = (degree: string, client = college.ann) =>
    client.ask('POST', `/attempts/${id}/hints`, { degree });

  expect((await college.ann.ask('GET', `/attempts/${id}`)).body.exercise.hints).toEqual(pump.hints);
  expect((await college.ann.ask('GET', `/attempts/${id}/hints`)).body).toEqual({
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
  expect(
    (await college.ann.ask('POST', `/attempts/${id}/log`, connect(leads.length, leads.at(-1)!))).status,
  ).toBe(201);
  expect((await college.ann.ask('GET', `/attempts/${id}/hints`)).body.next).toBe('symptom');
  expect((await take('symptom')).body.error.message).toMatch(/Nothing is wrong/);

  // They are the student's own, and ended with handing in.
  expect((await take('symptom', college.ben)).status).toBe(404);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(college.ann, id);
  expect(slip.report.hints).toEqual({ taken: ['symptom', 'net', 'lead'], cost: 7 });
  expect(slip.report.score).toBe(neverEnergised(pump) - 7);
  expect(slip.hints.map(({ degree, cost }: { degree: string; cost: number }) => [degree, cost])).toEqual([
    ['symptom', 1],
    ['net', 2],
    ['lead', 4],
  ]);
  expect((await take('symptom')).status).toBe(409);
  // Marked again, what was taken still counts.
  const again = await college.first.ask('POST', `/attempts/${id}/mark-again`, { exercise: 'set' });
  expect(again.body.report.hints.cost).toBe(7);
});

test('a program that was changed is another board: its hints come anew', async () => {
  const harrow = exercise('salt-harrow-controller');
  const id = await college.open(await college.set(harrow.id, {}));
  await wire(college.ann, id, harrow.reference);
  const take = (degree: string) => college.ann.ask('POST', `/attempts/${id}/hints`, { degree });
  const texts = async () => {
    await take('symptom');
    const { body } = await take('net');
    return body.taken.slice(-2).map(({ text }: { text: string }) => text);
  };
  expect(await texts()).toEqual([
    expect.stringMatching(/^“Runs forward on S2 and holds” is not right/),
    expect.stringMatching(/^Every lead is right\. A1 has no program yet\.$/),
  ]);
  const right = harrow.program!.A1!;
  const [rung] = right.rungs;
  const sealless = {
    ...right,
    rungs: right.rungs.with(0, {
      ...rung!,
      when: rung!.when.map((part) => ('any' in part ? { ...part, any: part.any.slice(0, 1) } : part)),
    }),
  };
  const entry = { kind: 'edit', edit: { do: 'program', device: 'A1', from: null, to: sealless } };
  const seq = harrow.reference.length + 1;
  expect((await college.ann.ask('POST', `/attempts/${id}/log`, { seq, entry })).status).toBe(201);
  expect((await college.ann.ask('GET', `/attempts/${id}/hints`)).body.next).toBe('symptom');
  expect(await texts()).toEqual([
    expect.stringMatching(/^“Runs forward on S2 and holds” is not right/),
    'Look at rung 1 of the program.',
  ]);
});

test('an assessment gives no hints', async () => {
  const id = await college.open(
    await set({
      exerciseId: 'brine-pump-emergency-stop',
      mode: 'assessment',
      closesAt: '2100-01-01T00:00:00Z',
    }),
  );
  expect((await college.ann.ask('GET', `/attempts/${id}`)).body.exercise.hints).toBeNull();
  expect((await college.ann.ask('POST', `/attempts/${id}/hints`, { degree: 'symptom' })).status).toBe(403);
});
