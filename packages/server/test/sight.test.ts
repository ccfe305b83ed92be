import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Knex } from 'knex';
import { WebSocket } from 'ws';
import { canonical } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { openDatabase } from '../src/database/database.js';
import { Client, freshDatabase, marked, people, startProcess, wire, type Server } from './help.js';

/** What tells of a board: its page, its drawing, a practice on it, a diagnosis of it. */
const pump = exercise('brine-pump-three-wire');
/** The same board under another name, as a college copies one. */
const copy = { ...pump, id: 'own-pump', title: 'Own pump' };
/** What a college has made and set to nobody. */
const unset = { ...exercise('salt-harrow-lamps'), id: 'own-harrow', title: 'Own harrow' };
const HOUR = 3_600_000;
const at = (hours: number): string => new Date(Date.now() + hours * HOUR).toISOString();

let server: Server;
let database: Knex;
let classId = '';
let instructor: Client, ann: Client, cora: Client;

beforeAll(async () => {
  const url = await freshDatabase();
  server = await startProcess(url);
  database = openDatabase(url);
  ({ classId } = await people(url));
  [instructor, ann, cora] = (await Promise.all(
    ['first', 'ann', 'cora'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client];
  for (const document of [copy, unset])
    expect((await instructor.ask('POST', '/library?commit=yes', document)).body).toMatchObject({
      committed: true,
      lines: [{ problem: null }],
    });
});
afterAll(async () => {
  await database.destroy();
  await server.kill('SIGTERM');
});

const set = async (asked: object): Promise<string> => {
  const { status, body } = await instructor.ask('POST', `/classes/${classId}/assignments`, asked);
  expect({ status, body }).toMatchObject({ status: 201 });
  return (body as { id: string }).id;
};

/** What each way to a board answers somebody. */
async function ways(client: Client, id: string): Promise<Record<string, number>> {
  const ask = async (method: string, path: string, body?: object) =>
    (await client.ask(method, path, body)).status;
  return {
    page: await ask('GET', `/exercises/${id}`),
    drawing: await ask('GET', `/exercises/${id}/drawing`),
    reference: await ask('GET', `/exercises/${id}/reference`),
    document: await ask('GET', `/exercises/${id}/document`),
    versions: await ask('GET', `/exercises/${id}/versions`),
    practice: await ask('POST', '/practice', { exerciseId: id, degree: 1 }),
    diagnosis: await ask('POST', `/exercises/${id}/diagnose`, {
      observations: [{ steps: [], see: { KM1: 'in' } }],
    }),
  };
}

const listed = async (
  client: Client,
): Promise<{ id: string; drawn: boolean; assigned: { mode: string }[] }[]> =>
  (await client.ask('GET', '/exercises')).body;

describe('who sees what of an exercise', () => {
  test('what a college has made and not set to a student does not exist for them, by no way', async () => {
    for (const student of [ann, cora])
      expect(await ways(student, unset.id)).toEqual({
        page: 404,
        drawing: 404,
        // What only instructors may is refused alike for what exists and what does not.
        reference: 403,
        document: 403,
        versions: 403,
        practice: 404,
        diagnosis: 404,
      });
    expect((await listed(ann)).map(({ id }) => id)).not.toContain(unset.id);
  });

  test('what is set to a class is seen in it, and by nobody else', async () => {
    await set({ exerciseId: copy.id });
    expect(await ways(ann, copy.id)).toEqual({
      page: 200,
      drawing: 200,
      reference: 403,
      document: 403,
      versions: 403,
      practice: 201,
      diagnosis: 200,
    });
    expect((await ways(cora, copy.id)).drawing).toBe(404);
  });

  test('of an assessment nothing is told before it opens', async () => {
    const [before] = (await listed(ann)).filter(({ id }) => id === 'button-lamp-nc');
    await set({ exerciseId: 'button-lamp-nc', mode: 'assessment', opensAt: at(1), closesAt: at(2) });
    const [after] = (await listed(ann)).filter(({ id }) => id === 'button-lamp-nc');
    expect(after?.assigned).toEqual(before?.assigned);
    const { body } = await ann.ask('GET', '/calendar.ics');
    expect(body).toContain('SUMMARY:Assessment: opens');
    expect(body).not.toContain('NC: opens');
    // Who sets it sees it.
    expect((await instructor.ask('GET', '/calendar.ics')).body).toContain('NC: opens');
  });

  test('while a board is assessed nothing answers about it, under whatever name; for others it is as before', async () => {
    const begun = (await ann.ask('POST', '/practice', { exerciseId: copy.id, degree: 1 })).body as {
      id: string;
    };
    expect((await ann.ask('GET', `/searches/${begun.id}`)).status).toBe(200);
    const assessment = await set({ exerciseId: pump.id, mode: 'assessment', closesAt: at(1) });
    for (const id of [pump.id, copy.id])
      expect(await ways(ann, id)).toEqual({
        page: 200,
        drawing: 403,
        reference: 403,
        document: 403,
        versions: 403,
        practice: 403,
        diagnosis: 403,
      });
    for (const { id, drawn } of await listed(ann))
      if ([pump.id, copy.id].includes(id)) expect(drawn).toBe(false);
    // A practice that was begun before shows the board no more.
    expect((await ann.ask('GET', `/searches/${begun.id}`)).status).toBe(403);
    expect((await ann.ask('GET', `/assignments/${assessment}/sheet`)).status).toBe(403);
    expect(await ways(cora, pump.id)).toMatchObject({
      page: 200,
      drawing: 200,
      practice: 201,
      diagnosis: 200,
    });
    // Another board is another matter.
    expect((await ways(ann, 'brine-pump-lamps')).drawing).toBe(200);
    // After it has closed everything is as before.
    await instructor.ask('PATCH', `/assignments/${assessment}`, { closesAt: at(-1) });
    expect(await ways(ann, pump.id)).toMatchObject({ drawing: 200, practice: 201, diagnosis: 200 });
    expect((await ann.ask('GET', `/searches/${begun.id}`)).status).toBe(200);
  });

  test('a fault that an instructor puts into a bench is in no export of the student before the search is over', async () => {
    const setting = await set({ exerciseId: 'find-first-circuits' });
    const attempt = (await ann.ask('POST', `/assignments/${setting}/attempts`, {})).body as { id: string };
    const { id } = (await ann.ask('GET', `/attempts/${attempt.id}/search`)).body as { id: string };
    const kinds = [
      { kind: 'look', what: 'F1' },
      { kind: 'inject', fault: { 'coil-open': 'K1' } },
    ];
    await database('search_log').insert(
      kinds.map((body, k) => ({ search_id: id, seq: k + 1, t: k, body: JSON.stringify(body) })),
    );
    const exported = JSON.stringify((await ann.ask('GET', '/session/export')).body);
    expect(exported).toContain('"look"');
    expect(exported).not.toContain('coil-open');
    expect(exported).not.toContain('"inject"');
  });

  test('faults of an assessment are drawn by student, and no attempt has those of one before', async () => {
    const find = exercise('find-jogging');
    const setting = await set({ exerciseId: find.id, mode: 'assessment', closesAt: at(1) });
    const ben = await new Client(server.base).signIn('ben');
    const drawn: string[][] = [];
    for (const client of [ann, ben]) {
      const own: string[] = [];
      for (let number = 1; number <= (find.sets ?? []).length + 2; number += 1) {
        const { id } = (await client.ask('POST', `/assignments/${setting}/attempts`, {})).body as {
          id: string;
        };
        const search = (await client.ask('GET', `/attempts/${id}/search`)).body as { id: string };
        const [row] = await database('searches').where({ id: search.id }).select('hidden');
        own.push(canonical((row as { hidden: unknown }).hidden));
        // Asked again it is the same one.
        expect((await client.ask('GET', `/attempts/${id}/search`)).body).toEqual(search);
        await client.ask('POST', `/attempts/${id}/hand-in`, {});
        await marked(instructor, id);
      }
      const authored = (find.sets ?? []).map(({ faults }) => canonical(faults)).sort();
      expect(own.slice(0, authored.length).sort()).toEqual(authored);
      expect(new Set(own).size).toBe(own.length);
      drawn.push(own);
    }
    expect(drawn[0]).not.toEqual(drawn[1]);
    await instructor.ask('PATCH', `/assignments/${setting}`, { withdrawn: true });
  });

  test('marks of an assessment are held until it has closed for everybody; the next attempt may be begun meanwhile', async () => {
    const setting = await set({ exerciseId: 'coil-and-contact', mode: 'assessment', closesAt: at(1) });
    const coil = exercise('coil-and-contact');
    const { id } = (await ann.ask('POST', `/assignments/${setting}/attempts`, {})).body as { id: string };
    await wire(ann, id, coil.reference.slice(0, -1));
    await ann.ask('POST', `/attempts/${id}/hand-in`, {});
    await marked(instructor, id);
    const slip = (await ann.ask('GET', `/attempts/${id}/slip`)).body;
    expect(slip).toMatchObject({
      report: null,
      result: null,
      reference: null,
      mayRepair: false,
      markedAt: null,
    });
    expect(slip.attempt).toMatchObject({ result: null, heldUntil: expect.any(String) });
    expect((await ann.ask('POST', `/attempts/${id}/repair`, {})).status).toBe(403);
    const [own] = (await listed(ann)).filter((one) => one.id === coil.id) as unknown as {
      assigned: { attempts: { result: unknown; heldUntil?: string }[] }[];
    }[];
    expect(own?.assigned.at(-1)?.attempts).toMatchObject([{ result: null, heldUntil: expect.any(String) }]);
    expect((await ann.ask('GET', '/logbook')).body.lines).toEqual([]);
    // Who hands in once more is told no more than that it was handed in.
    expect(await ann.ask('POST', `/attempts/${id}/hand-in`, {})).toMatchObject({
      status: 202,
      body: { state: 'marked', result: null, heldUntil: expect.any(String) },
    });
    expect((await instructor.ask('GET', `/attempts/${id}/slip`)).body.report).toMatchObject({
      passed: false,
    });
    expect((await ann.ask('POST', `/assignments/${setting}/attempts`, {})).status).toBe(201);
    // Who has more time works on: nothing is told before they have done.
    const { id: annId } = (await ann.ask('GET', '/session')).body as { id: string };
    await instructor.ask('PATCH', `/assignments/${setting}`, {
      closesAt: at(-1),
      extra: [{ studentId: annId, minutes: 120 }],
    });
    expect((await ann.ask('GET', `/attempts/${id}/slip`)).body.report).toBeNull();
    await instructor.ask('PATCH', `/assignments/${setting}`, { closesAt: at(-1), extra: [] });
    expect((await ann.ask('GET', `/attempts/${id}/slip`)).body.report).toMatchObject({ passed: false });
    expect((await ann.ask('GET', '/logbook')).body.lines).toHaveLength(1);
  });
});

test('a class hands in at one moment: each is taken once, in the queue once, and nobody hands in for another', async () => {
  const ids = await Promise.all(
    ['salt-harrow-jog', 'brine-pump-208-v', 'rinse-pump-single-phase', 'sluice-gate-brake'].map(
      async (exerciseId) => {
        const setting = await set({ exerciseId });
        return (await ann.ask('POST', `/assignments/${setting}/attempts`, {})).body.id as string;
      },
    ),
  );
  const nobodys = '00000000-0000-4000-8000-000000000000';
  const answers = await Promise.all([
    ...[...ids, ...ids, nobodys].map((id) => ann.ask('POST', `/attempts/${id}/hand-in`, {})),
    ...ids.map((id) => cora.ask('POST', `/attempts/${id}/hand-in`, {})),
  ]);
  expect(answers.map(({ status }) => status)).toEqual([
    ...ids.flatMap(() => [202, 202]),
    404,
    ...ids.map(() => 404),
  ]);
  await Promise.all(ids.map((id) => marked(instructor, id)));
  const { rows } = (await database.raw(
    "select data->>'attemptId' as id, count(*)::int as n from jobs.job where data->>'attemptId' = any(?) group by 1",
    [ids],
  )) as { rows: { id: string; n: number }[] };
  expect(rows.map(({ id, n }) => [id, n]).sort()).toEqual(ids.map((id) => [id, 1]).sort());
});

describe('what is open ends when rights end', () => {
  /** Opens a socket and resolves to the code with which the server closes it. */
  const opened = (client: Client, path: string): Promise<{ closed: Promise<number> }> => {
    const socket = new WebSocket(`${client.base.replace('http', 'ws')}/api${path}`, {
      headers: { cookie: client.cookie, origin: client.base },
    });
    const closed = new Promise<number>((resolve) => socket.once('close', resolve));
    return new Promise((resolve, reject) => {
      socket.once('open', () => resolve({ closed }));
      socket.once('error', reject);
    });
  };

  test('an instructor who is taken out of a class sees its floor no more', async () => {
    const third = await new Client(server.base).signIn('third');
    await instructor.ask('POST', `/classes/${classId}/instructors`, { login: 'third' });
    const { closed } = await opened(third, `/classes/${classId}/floor`);
    const { id } = (await third.ask('GET', '/session')).body as { id: string };
    await instructor.ask('DELETE', `/classes/${classId}/instructors/${id}`);
    expect(await closed).toBe(1008);
  });

  test('a student who leaves a class, or is signed out elsewhere, works on at no bench', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const { id } = (await ben.ask('GET', '/session')).body as { id: string };
    const setting = await set({ exerciseId: 'brine-pump-lamps' });
    const attempt = (await ben.ask('POST', `/assignments/${setting}/attempts`, {})).body as { id: string };
    const other = await new Client(server.base).signIn('ben');
    const [bench, elsewhere] = [
      await opened(ben, `/attempts/${attempt.id}/floor`),
      await opened(other, `/attempts/${attempt.id}/floor`),
    ];
    // Another password ends the other sessions, and what they have open.
    await ben.ask('POST', '/session/end-others', {});
    expect(await elsewhere.closed).toBe(1008);
    await instructor.ask('DELETE', `/classes/${classId}/members/${id}`);
    expect(await bench.closed).toBe(1008);
  });
});
