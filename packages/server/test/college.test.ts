import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import type { Exercise } from '@contactum/core';
import { migrate, openDatabase } from '../src/database/database.js';
import { loadExercises } from '../src/domain/authoring/exercises.js';
import { exercise } from '../../core/test/help.js';
import {
  Client,
  PASSWORD,
  freshDatabase,
  marked,
  people,
  startProcess,
  until,
  wire,
  type Server,
} from './help.js';

const pump = exercise('brine-pump-three-wire');
const lamp = exercise('button-lamp-no');
let url: string;
let server: Server;
let classId: string;
let first: Client;
let second: Client;
let head: Client;
let ann: Client;

beforeAll(async () => {
  url = await freshDatabase();
  server = await startProcess(url);
  ({ classId } = await people(url));
  [first, second, head, ann] = (await Promise.all(
    ['first', 'second', 'head', 'ann'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client, Client];
});
afterAll(() => server.kill('SIGTERM'));

const ok = async (answer: Promise<{ status: number; body: any }>): Promise<any> => {
  const { status, body } = await answer;
  if (status >= 400) throw new Error(`${status} ${JSON.stringify(body)}`);
  return body;
};
const idOf = async (login: string): Promise<string> =>
  (await ok(head.ask('GET', `/people?text=${login}`))).find((one: { login: string }) => one.login === login)
    .id as string;
/** All that is written down, page by page. */
async function kinds(): Promise<string[]> {
  const all: { id: string; kind: string; about: string }[] = [];
  for (;;) {
    const page = await ok(head.ask('GET', `/audit?before=${all.at(-1)?.id ?? '9'.repeat(18)}`));
    if (page.length === 0) return all.map(({ kind, about }) => `${kind}: ${about}`);
    all.push(...page);
  }
}

describe('people', () => {
  test('a first password is for one thing: to set one of one’s own', async () => {
    const { person, password } = await ok(
      head.ask('POST', '/people', { name: 'Rika Till', login: 'Rika', role: 'instructor' }),
    );
    expect(person).toMatchObject({ login: 'rika', role: 'instructor' });
    const rika = new Client(server.base);
    const signed = await rika.ask('POST', '/session', { login: 'rika', password });
    expect(signed.body).toMatchObject({ mustSetPassword: true });
    for (const [method, path, body] of [
      ['GET', '/exercises', undefined],
      ['POST', '/classes', { name: 'Hers' }],
      ['GET', '/session/export', undefined],
    ] as const)
      expect(await rika.ask(method, path, body)).toMatchObject({
        status: 403,
        body: { error: { message: 'Set a password of your own first.' } },
      });
    expect((await rika.ask('POST', '/session/password', { password, next: password })).status).toBe(400);
    expect(
      (await rika.ask('POST', '/session/password', { password, next: 'a long tide' })).body,
    ).toMatchObject({ mustSetPassword: false });
    expect((await rika.ask('POST', '/classes', { name: 'Hers' })).status).toBe(201);
    expect((await new Client(server.base).ask('POST', '/session', { login: 'rika', password })).status).toBe(
      401,
    );
  });

  test('sessions end when a keeper ends them, when a password is reset, and everywhere else at one’s own wish', async () => {
    const annId = await idOf('ann');
    const elsewhere = await new Client(server.base).signIn('ann');
    const here = await new Client(server.base).signIn('ann');
    await ok(here.ask('POST', '/session/end-others', {}));
    expect((await elsewhere.ask('GET', '/exercises')).status).toBe(401);
    expect((await here.ask('GET', '/exercises')).status).toBe(200);
    expect(await ok(first.ask('POST', `/people/${annId}/end-sessions`, {}))).toEqual({ ended: 1 });
    expect((await here.ask('GET', '/exercises')).status).toBe(401);
    // Nobody but an administrator, or who made the account, takes it over; whoever teaches them is told.
    const refused = await first.ask('POST', `/people/${annId}/reset`, {});
    expect(refused).toMatchObject({ status: 403, body: { error: { message: /made this account/ } } });
    const { password } = await ok(head.ask('POST', `/people/${annId}/reset`, {}));
    const [told] = await ok(first.ask('GET', '/notices'));
    expect(told.text).toBe('Person head gave Person ann a first password.');
    expect(await ok(second.ask('GET', '/notices'))).toEqual([]);
    expect((await second.ask('DELETE', `/notices/${told.id}`)).status).toBe(404);
    await ok(first.ask('DELETE', `/notices/${told.id}`));
    expect(await ok(first.ask('GET', '/notices'))).toEqual([]);
    expect(JSON.stringify(await ok(first.ask('GET', '/audit')))).toContain('Person ann (ann)');
    expect(JSON.stringify(await ok(second.ask('GET', '/audit')))).not.toContain('Person ann (ann)');
    expect(
      (await new Client(server.base).ask('POST', '/session', { login: 'ann', password: PASSWORD })).status,
    ).toBe(401);
    const again = new Client(server.base);
    await ok(again.ask('POST', '/session', { login: 'ann', password }));
    await ok(again.ask('POST', '/session/password', { password, next: PASSWORD }));
    ann = again;
  });

  test('nobody is put into a class of an instructor who does not teach them: they are asked, and answer', async () => {
    const group = await ok(second.ask('POST', '/classes', { name: 'Wanted', term: '' }));
    const look = await ok(
      second.ask('POST', `/classes/${group.id}/enrol`, {
        csv: 'Name,Login,Group\n,cora,Red\nMia Elver,ann,\n',
      }),
    );
    // Whose login it is is told to nobody who does not teach them.
    expect(look.lines).toMatchObject([
      { login: 'cora', name: '', does: 'ask' },
      { login: 'ann', does: 'bad', problem: '"ann" is somebody else’s' },
    ]);
    expect(JSON.stringify(look)).not.toContain('Person');
    await ok(
      second.ask('POST', `/classes/${group.id}/enrol`, {
        csv: 'Name,Login,Group\n,cora,Red\nJo Pan,jo,Red\n',
        commit: true,
      }),
    );
    const cora = await new Client(server.base).signIn('cora');
    const roster = async () => ok(second.ask('GET', `/classes/${group.id}`));
    expect(await roster()).toMatchObject({ members: [{ login: 'jo' }], asked: [{ login: 'cora' }] });
    expect(JSON.stringify(await ok(second.ask('GET', '/audit')))).not.toContain('Person cora');
    const [asked] = await ok(cora.ask('GET', '/invitations'));
    expect(asked).toMatchObject({ className: 'Wanted', askedBy: 'Person second' });
    // Somebody else has no say in it.
    expect((await ann.ask('POST', `/invitations/${group.id}`, { yes: true })).status).toBe(404);
    await ok(cora.ask('POST', `/invitations/${group.id}`, { yes: true }));
    expect((await cora.ask('POST', `/invitations/${group.id}`, { yes: true })).status).toBe(404);
    const joined = await roster();
    expect(joined).toMatchObject({ members: [{ login: 'jo' }, { login: 'cora' }], asked: [] });
    expect(joined.groups[0].members).toHaveLength(2);
    // An account that an instructor made is theirs to reset, one that only joined is not.
    const idIn = (login: string): string => joined.members.find((one: any) => one.login === login).id;
    expect((await second.ask('POST', `/people/${idIn('jo')}/reset`, {})).status).toBe(200);
    expect((await second.ask('POST', `/people/${idIn('cora')}/reset`, {})).status).toBe(403);
    // One by one it is the same, and what was asked is taken back.
    const more = await ok(second.ask('POST', '/classes', { name: 'More', term: '' }));
    await ok(second.ask('POST', `/classes/${more.id}/members`, { login: 'ann' }));
    expect((await ok(ann.ask('GET', '/invitations'))).map((one: any) => one.className)).toEqual(['More']);
    await ok(second.ask('DELETE', `/classes/${more.id}/members/${await idOf('ann')}`));
    expect(await ok(ann.ask('GET', '/invitations'))).toEqual([]);
    await ok(second.ask('POST', `/classes/${more.id}/members`, { login: 'ann' }));
    await ok(ann.ask('POST', `/invitations/${more.id}`, { yes: false }));
    expect(await ok(second.ask('GET', `/classes/${more.id}`))).toMatchObject({ members: [], asked: [] });
    // Whom one teaches already is put into another class of one's own at once.
    await ok(second.ask('POST', `/classes/${more.id}/members`, { login: 'cora' }));
    expect((await ok(second.ask('GET', `/classes/${more.id}`))).members).toMatchObject([{ login: 'cora' }]);
    await ok(second.ask('DELETE', `/classes/${group.id}/members/${idIn('cora')}`));
  });

  test('what many do at one moment happens once, and the others are told', async () => {
    const group = await ok(first.ask('POST', '/classes', { name: 'Races', term: '' }));
    const many = <T>(work: (k: number) => Promise<T>): Promise<T[]> =>
      Promise.all(Array.from({ length: 50 }, (_, k) => work(k)));
    const statuses = (answers: readonly { status: number }[]) => {
      const counts = new Map<number, number>();
      for (const { status } of answers) counts.set(status, (counts.get(status) ?? 0) + 1);
      return Object.fromEntries(counts);
    };
    const added = await many(() =>
      first.ask('POST', `/classes/${group.id}/members`, { login: 'racer', name: 'Rae Cer' }),
    );
    expect(added.filter(({ body }) => body.password).length).toBe(1);
    expect(added.every(({ status }) => [201, 400, 409].includes(status))).toBe(true);
    const groups = await many(() =>
      first.ask('POST', `/classes/${group.id}/groups`, { name: 'Red', members: [] }),
    );
    expect(statuses(groups)[201]).toBe(1);
    expect(groups.every(({ status }) => [201, 400, 409].includes(status))).toBe(true);
    const csv = 'Name,Login,Group\nA One,race-one,Blue\nB Two,race-two,Blue\n';
    const lists = await many(() =>
      first.ask('POST', `/classes/${group.id}/enrol`, { csv, commit: true, skipBad: true }),
    );
    expect(lists.filter(({ body }) => body.passwords?.length === 2)).toHaveLength(1);
    expect(lists.every(({ status }) => [200, 400, 409].includes(status))).toBe(true);
    const people = await many(() =>
      head.ask('POST', '/people', { name: 'Same', login: 'same', role: 'student' }),
    );
    expect(statuses(people)[201]).toBe(1);
    expect(people.every(({ status }) => [201, 400, 409].includes(status))).toBe(true);
    const set = await many(() =>
      first.ask('POST', `/classes/${group.id}/assignments`, { exerciseId: lamp.id }),
    );
    expect(statuses(set)).toEqual({ 201: 1, 409: 49 });
    const settingId = set.find(({ status }) => status === 201)!.body.id as string;
    // Withdrawn, set anew, and then the first one is not set again beside it.
    await ok(first.ask('PATCH', `/assignments/${settingId}`, { withdrawn: true }));
    await ok(first.ask('POST', `/classes/${group.id}/assignments`, { exerciseId: lamp.id }));
    const twice = await first.ask('PATCH', `/assignments/${settingId}`, { withdrawn: false });
    expect(twice).toMatchObject({ status: 409, body: { error: { message: /already set/ } } });
  });

  test('a list is looked at before it is taken, and every bad line is named', async () => {
    const group = await ok(first.ask('POST', '/classes', { name: 'Listed', term: '2026 autumn' }));
    const csv =
      'Login,Full name,Group\nzoe,Zoe Marsh,Red\nann,Person ann,Red\nann,Person ann,Blue\nben,Somebody else,\n,No Login,\nfirst,Person first,\nbad login!,X,\nyan,,\n';
    const look = await ok(first.ask('POST', `/classes/${group.id}/enrol`, { csv }));
    expect(
      look.lines.map(({ line, does, problem }: any) => `${line} ${does} ${problem ?? ''}`.trim()),
    ).toEqual([
      '2 new',
      '3 known',
      '4 bad "ann" stands in line 3 already',
      '5 bad "ben" is Person ben’s, not Somebody else’s',
      '6 bad no login',
      '7 bad "first" is an instructor’s',
      '8 bad login must be letters, digits, and . _ @ -',
      '9 bad no name',
    ]);
    expect(look).toMatchObject({ good: 2, bad: 6, committed: false });
    const refused = await first.ask('POST', `/classes/${group.id}/enrol`, { csv, commit: true });
    expect(refused.status).toBe(400);
    expect(refused.body.error.problems[0]).toEqual({
      path: 'csv line 4',
      message: '"ann" stands in line 3 already',
    });
    expect((await ok(first.ask('GET', `/classes/${group.id}`))).members).toEqual([]);
    const taken = await ok(
      first.ask('POST', `/classes/${group.id}/enrol`, { csv, commit: true, skipBad: true }),
    );
    expect(taken.passwords).toHaveLength(1);
    const roster = await ok(first.ask('GET', `/classes/${group.id}`));
    expect(roster.members.map(({ name, isNew }: any) => [name, isNew])).toEqual([
      ['Person ann', false],
      ['Zoe Marsh', true],
    ]);
    expect(roster.groups).toMatchObject([{ name: 'Red', members: { length: 2 } }]);
    expect((await new Client(server.base).signIn('zoe', taken.passwords[0].password)).cookie).not.toBe('');
    // Another instructor's class does not exist.
    expect((await second.ask('POST', `/classes/${group.id}/enrol`, { csv })).status).toBe(404);
  });

  test('a join code lets somebody in, with an account or without', async () => {
    const { joinCode } = await ok(first.ask('PATCH', `/classes/${classId}`, { joinCode: 'new' }));
    const cora = await new Client(server.base).signIn('cora');
    expect(await ok(cora.ask('POST', '/join', { code: joinCode.toLowerCase() }))).toEqual({
      className: '=Class 1',
    });
    const nobody = new Client(server.base);
    expect(
      (
        await nobody.ask('POST', '/session/join', {
          code: 'AAAAAAAA',
          name: 'New',
          login: 'newone',
          password: 'a long tide',
        })
      ).body.error.message,
    ).toBe('code: is the code of no class');
    await ok(
      nobody.ask('POST', '/session/join', {
        code: joinCode,
        name: 'New One',
        login: 'newone',
        password: 'a long tide',
      }),
    );
    expect((await nobody.ask('GET', '/exercises')).status).toBe(200);
    await ok(first.ask('PATCH', `/classes/${classId}`, { joinCode: 'none' }));
    expect(
      (
        await new Client(server.base).ask('POST', '/session/join', {
          code: joinCode,
          name: 'Late',
          login: 'late',
          password: 'a long tide',
        })
      ).status,
    ).toBe(400);
  });

  test('a class never loses its last instructor, two who go at once included', async () => {
    const group = await ok(first.ask('POST', '/classes', { name: 'Shared' }));
    await ok(first.ask('POST', `/classes/${group.id}/instructors`, { login: 'second' }));
    expect((await ok(second.ask('GET', `/classes/${group.id}`))).instructors).toHaveLength(2);
    const [a, b] = [await idOf('first'), await idOf('second')];
    const gone = await Promise.all([
      first.ask('DELETE', `/classes/${group.id}/instructors/${a}`),
      second.ask('DELETE', `/classes/${group.id}/instructors/${b}`),
    ]);
    expect(gone.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  test('a person’s data is exported whole and erased; what others’ marks rest on stays without the name', async () => {
    await ok(head.ask('POST', '/people', { name: 'Going Away', login: 'away', role: 'student' }));
    const id = await idOf('away');
    await ok(head.ask('POST', `/classes/${classId}/members`, { login: 'away' }));
    const data = await ok(head.ask('GET', `/people/${id}/export`));
    expect(data).toMatchObject({
      contactum: 'person/1',
      person: { login: 'away' },
      classes: [{ name: '=Class 1' }],
    });
    expect(JSON.stringify(data)).not.toContain('first$');
    expect((await head.ask('DELETE', `/people/${id}`)).status).toBe(204);
    expect(await ok(head.ask('GET', '/people?text=away'))).toEqual([]);
    expect((await kinds()).some((line) => line.includes('away'))).toBe(false);
    // A student's marks stay with the class, without the name; a text that only holds the same letters is
    // left alone.
    await ok(head.ask('POST', '/people', { name: 'Wen Dun', login: 'dun', role: 'student' }));
    await ok(head.ask('POST', `/classes/${classId}/members`, { login: 'dun' }));
    await ok(head.ask('POST', '/people', { name: 'Lee Dunstan', login: 'dunstan', role: 'student' }));
    const dun = await idOf('dun');
    const done = await ok(
      first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'plug-in-relay-hold' }),
    );
    const database = openDatabase(url);
    const [{ id: begun }] = await database('attempts')
      .insert({ assignment_id: done.id, student_id: dun, number: 1 })
      .returning('id');
    await database('bench_words').insert(
      [dun, await idOf('first')].map((author) => ({
        class_id: classId,
        attempt_id: begun,
        author_id: author,
        text: 'Wen, look at F2.',
      })),
    );
    // What they wrote is theirs; it goes with the name, and so does what was written to them.
    const theirs = await ok(head.ask('GET', `/people/${dun}/export`));
    expect(theirs.messages).toMatchObject([{ authorId: dun, text: 'Wen, look at F2.' }]);
    expect((await head.ask('DELETE', `/people/${dun}`)).status).toBe(204);
    expect(await database('bench_words').where({ attempt_id: begun })).toEqual([]);
    await database.destroy();
    const marks = JSON.stringify(await ok(first.ask('GET', `/classes/${classId}/marks`)));
    expect(marks).toContain('Somebody who has left');
    expect(marks).not.toContain('Wen Dun');
    const told = await kinds();
    expect(told.some((line) => /Wen Dun|\(dun\)/.test(line))).toBe(false);
    expect(told).toContain('added a person: Lee Dunstan (dunstan), student');
    // An instructor who has set something leaves the name behind.
    const third = await idOf('third');
    expect((await head.ask('DELETE', `/people/${third}`)).status).toBe(204);
    const left = await ok(head.ask('GET', '/people?text=somebody'));
    expect(left).toMatchObject([
      { name: 'Somebody who has left', erased: true },
      { name: 'Somebody who has left', erased: true },
    ]);
    expect((await head.ask('DELETE', `/people/${await idOf('head')}`)).status).toBe(409);
  });

  test('two administrators who demote or erase each other at once: one is left, and the other is told', async () => {
    const add = async (login: string) => {
      const { password } = await ok(
        head.ask('POST', '/people', { name: `Head ${login}`, login, role: 'administrator' }),
      );
      const client = await new Client(server.base).signIn(login, password);
      await ok(client.ask('POST', '/session/password', { password, next: PASSWORD }));
      return { id: await idOf(login), client: await new Client(server.base).signIn(login) };
    };
    for (const [k, method] of (['DELETE', 'PATCH', 'DELETE', 'PATCH'] as const).entries()) {
      const [one, other] = [await add(`head-a${k}`), await add(`head-b${k}`)];
      const body = method === 'PATCH' ? { role: 'instructor' } : undefined;
      const answers = await Promise.all([
        one.client.ask(method, `/people/${other.id}`, body),
        other.client.ask(method, `/people/${one.id}`, body),
      ]);
      const won = answers.filter(({ status }) => status < 300);
      expect({ k, won: won.length }).toEqual({ k, won: 1 });
      expect(answers.some(({ status }) => [401, 403, 404].includes(status))).toBe(true);
    }
  });

  test('what was done is written down', async () => {
    expect(await kinds()).toEqual(
      expect.arrayContaining([
        'added a person: Rika Till (rika), instructor',
        'gave a first password: Person ann (ann)',
        'enrolled: 2 by a list in Listed',
        'joined by code: =Class 1',
      ]),
    );
    // An instructor is told of own classes and own acts.
    const own = (await ok(second.ask('GET', '/audit'))) as { actor: string; about: string }[];
    expect(own.some(({ about }) => about.includes('Listed'))).toBe(false);
  });
});

describe('exercises in the making', () => {
  test('several who publish one title at once each have an exercise of their own', async () => {
    const draft = async (client: Client) =>
      (await ok(client.ask('POST', '/drafts', { from: lamp.id }))) as { id: string; document: Exercise };
    const drafts = await Promise.all(
      [first, second, first, second].map(async (client) => ({ client, ...(await draft(client)) })),
    );
    const published = await Promise.all(
      drafts.map(
        async ({ client, id }) =>
          (await ok(client.ask('POST', `/drafts/${id}/publish`, {}))).exerciseId as string,
      ),
    );
    expect(new Set(published).size).toBe(4);
    for (const id of published)
      expect((await ok(first.ask('GET', `/exercises/${id}/versions`))) as unknown[]).toHaveLength(1);
  });

  test('a draft is kept, its reference is looked at before it is published, and each version tells what changed', async () => {
    const draft = await ok(first.ask('POST', '/drafts', { from: pump.id }));
    expect(draft).toMatchObject({ exerciseId: null, seq: 0, title: 'Brine pump, three-wire (copy)' });
    const document: Exercise = { ...draft.document, title: 'Our pump' };
    const bad = { ...document, reference: document.reference.filter(({ to }) => to !== 'KM1:13') };
    expect(await ok(first.ask('PUT', `/drafts/${draft.id}`, { document: bad, seq: 0 }))).toMatchObject({
      seq: 1,
    });
    // Another window that has not seen this does not write over it.
    expect((await first.ask('PUT', `/drafts/${draft.id}`, { document, seq: 0 })).status).toBe(409);
    expect(
      (await first.ask('PUT', `/drafts/${draft.id}`, { document: { ...document, behaviours: 3 }, seq: 1 }))
        .body.error.message,
    ).toMatch(/^document\.behaviours: /);
    const refused = await ok(first.ask('POST', `/drafts/${draft.id}/publish`, {}));
    expect(refused.ok).toBe(false);
    expect(refused.objections.some((one: any) => one.part === 'behaviour' && one.refuses)).toBe(true);
    await ok(first.ask('PUT', `/drafts/${draft.id}`, { document, seq: 1 }));
    const published = await ok(first.ask('POST', `/drafts/${draft.id}/publish`, { note: 'ours' }));
    expect(published).toEqual({ ok: true, exerciseId: 'our-pump', version: 1 });

    const set = await ok(first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'our-pump' }));
    const attempt = await ok(ann.ask('POST', `/assignments/${set.id}/attempts`, {}));
    const next = await ok(first.ask('POST', '/drafts', { from: 'our-pump', next: true }));
    const [holds, ...others] = next.document.behaviours;
    await ok(
      first.ask('PUT', `/drafts/${next.id}`, {
        document: { ...next.document, behaviours: [{ ...holds, points: 20 }, ...others] },
        seq: 0,
      }),
    );
    expect(await ok(first.ask('POST', `/drafts/${next.id}/publish`, {}))).toMatchObject({
      ok: true,
      version: 2,
    });
    // What is set stays as it was set.
    const view = await ok(ann.ask('GET', `/attempts/${attempt.id}`));
    expect(view.exercise.behaviours[0].points).toBe(pump.behaviours[0]?.points);
    const versions = await ok(first.ask('GET', '/exercises/our-pump/versions'));
    expect(versions.map(({ version, setTo }: any) => [version, setTo])).toEqual([
      [2, []],
      [1, ['=Class 1']],
    ]);
    expect(versions[0].changes).toMatchObject([{ of: 'behaviours', kind: 'changed', marks: true }]);
    await wire(ann, attempt.id, pump.reference);
    await ok(ann.ask('POST', `/attempts/${attempt.id}/hand-in`, {}));
    const slip = await marked(ann, attempt.id);
    const again = await ok(first.ask('POST', `/attempts/${attempt.id}/mark-again`, { exercise: 'now' }));
    expect(again.report.exerciseVersion).not.toBe(slip.report.exerciseVersion);
    // Nobody else makes versions of it, nor of a shipped one.
    expect((await second.ask('POST', '/drafts', { from: 'our-pump', next: true })).status).toBe(403);
    expect((await first.ask('POST', '/drafts', { from: pump.id, next: true })).status).toBe(403);
    // Set to the student's class it is seen, without what it answers.
    const seen = await ann.ask('GET', '/exercises/our-pump');
    expect(seen.status).toBe(200);
    expect(seen.body).not.toHaveProperty('reference');
  });

  test('a start brings shipped exercises up to date as versions, and leaves the college’s own alone', async () => {
    const database = openDatabase(url);
    await migrate(database);
    await database('exercises')
      .where({ id: lamp.id })
      .update({ document: JSON.stringify({ ...lamp, brief: 'As it was.' }) });
    await loadExercises(database);
    const [row] = await database('exercises').where({ id: lamp.id });
    expect(row).toMatchObject({ version: 2, document: { brief: lamp.brief } });
    const [own] = await database('exercises').where({ id: 'our-pump' });
    await loadExercises(database);
    expect(await database('exercises').where({ id: 'our-pump' })).toEqual([own]);
    expect((await database('exercise_versions').where({ exercise_id: lamp.id })).length).toBe(2);
    await database.destroy();
  });

  test('a library goes out and comes in again; what it would do is shown first, and each bad document is named', async () => {
    const out = await fetch(`${server.base}/api/library.zip?ids=our-pump,${lamp.id}`, {
      headers: { cookie: first.cookie },
    });
    const zip = Buffer.from(await out.arrayBuffer());
    const send = async (body: Buffer, query = ''): Promise<any> => {
      const response = await fetch(`${server.base}/api/library?name=lib.zip${query}`, {
        method: 'POST',
        headers: { cookie: second.cookie, 'content-type': 'application/zip' },
        body: new Uint8Array(body),
      });
      return { status: response.status, body: await response.json() };
    };
    expect((await send(zip)).body.lines.map(({ id, does }: any) => [id, does])).toEqual([
      [lamp.id, 'same'],
      ['our-pump', 'same'],
    ]);
    const altered = { ...pump, id: 'our-pump', title: 'Their pump' };
    const mixed = zipSync({
      'a.json': strToU8(JSON.stringify(altered)),
      'b.json': strToU8('{'),
      'c.json': strToU8(JSON.stringify({ ...pump, id: 'x', reference: [] })),
      'd.json': strToU8(JSON.stringify({ ...pump, id: 'y', behaviours: [{ id: 'a' }] })),
      'notes.txt': strToU8('nothing'),
    });
    const look = (await send(Buffer.from(mixed))).body;
    expect(look.lines.map(({ file, does }: any) => [file, does])).toEqual([
      ['a.json', 'copy'],
      ['b.json', 'bad'],
      ['c.json', 'bad'],
      ['d.json', 'bad'],
    ]);
    expect(look.lines[2].problem).toContain('No reference wiring');
    expect(look.lines[3].problem).toMatch(/^behaviours\[0\]\.title: /);
    const took = (await send(Buffer.from(mixed), '&commit=yes')).body;
    expect(took.committed).toBe(true);
    expect((await ok(second.ask('GET', '/exercises/their-pump'))).exercise.title).toBe('Their pump');
    expect((await ok(first.ask('GET', '/exercises/our-pump'))).exercise.title).toBe('Our pump');
    expect((await send(Buffer.from('PK nonsense'))).status).toBe(400);
  });
});

describe('setting', () => {
  const hour = 3_600_000;
  const at = (ms: number): string => new Date(Date.now() + ms).toISOString();
  const set = (body: object) => first.ask('POST', `/classes/${classId}/assignments`, body);

  test('to a group and to single people, with dates that fit together; the others do not see it', async () => {
    const [annId, benId] = [await idOf('ann'), await idOf('ben')];
    const roster = await ok(
      first.ask('POST', `/classes/${classId}/groups`, { name: 'Early', members: [annId] }),
    );
    const groupId = roster.groups.find(({ name }: any) => name === 'Early').id;
    const ben = await new Client(server.base).signIn('ben');
    const sees = async (client: Client, id: string): Promise<boolean> =>
      ((await ok(client.ask('GET', '/exercises'))) as any[]).some((one) =>
        one.assigned.some((a: any) => a.id === id),
      );
    const toGroup = await ok(set({ exerciseId: 'button-lamp-nc', audience: 'group', groupId }));
    const toBen = await ok(set({ exerciseId: 'button-lamp-nc', audience: 'people', people: [benId] }));
    expect([await sees(ann, toGroup.id), await sees(ben, toGroup.id)]).toEqual([true, false]);
    expect([await sees(ann, toBen.id), await sees(ben, toBen.id)]).toEqual([false, true]);
    expect((await ben.ask('POST', `/assignments/${toGroup.id}/attempts`, {})).status).toBe(404);
    const bad = async (body: object) =>
      (await set({ exerciseId: 'coil-and-contact', ...body })).body.error?.message as string;
    expect(await bad({ opensAt: at(2 * hour), closesAt: at(hour) })).toMatch(/^closesAt: /);
    expect(await bad({ audience: 'group' })).toMatch(/^groupId: /);
    expect(await bad({ audience: 'people' })).toMatch(/^people: /);
    expect(await bad({ extra: [{ studentId: classId, minutes: 5 }] })).toMatch(/^people: /);
    expect((await set({ exerciseId: 'button-lamp-nc', audience: 'group', groupId })).status).toBe(409);
  });

  test('opening, attempts, closing with more time for one; what is open is handed in as it stands', async () => {
    const [annId] = [await idOf('ann')];
    const one = await ok(
      set({ exerciseId: 'coil-and-contact', opensAt: at(hour), attemptsAllowed: 1, mode: 'assessment' }),
    );
    const ben = await new Client(server.base).signIn('ben');
    expect((await ben.ask('POST', `/assignments/${one.id}/attempts`, {})).body.error.message).toMatch(
      /^Opens /,
    );
    const change = (body: object) => first.ask('PATCH', `/assignments/${one.id}`, body);
    await ok(change({ opensAt: null }));
    const attempt = await ok(ben.ask('POST', `/assignments/${one.id}/attempts`, {}));
    const view = await ok(ben.ask('GET', `/attempts/${attempt.id}`));
    expect(view).toMatchObject({ mode: 'assessment', exercise: { drawn: false, tellsProgress: false } });
    expect((await ben.ask('GET', '/exercises/coil-and-contact/drawing')).status).toBe(403);
    expect((await ben.ask('POST', '/practice', { exerciseId: 'coil-and-contact', degree: 1 })).status).toBe(
      403,
    );
    const annAttempt = await ok(ann.ask('POST', `/assignments/${one.id}/attempts`, {}));
    const [firstWire] = exercise('coil-and-contact').reference;
    await wire(ben, attempt.id, [firstWire!]);
    // Closed a moment ago for all; Ann has an hour more.
    await ok(change({ closesAt: at(-1000), extra: [{ studentId: annId, minutes: 60 }] }));
    expect(
      (await ben.ask('POST', `/attempts/${attempt.id}/log`, { seq: 2, entry: { kind: 'supply', on: true } }))
        .body.error.message,
    ).toMatch(/^(The time is up|This attempt has been handed in)/);
    await wire(ann, annAttempt.id, [firstWire!]);
    expect((await marked(first, attempt.id)).report.score).toBe(0);
    expect((await ok(ann.ask('GET', `/attempts/${annAttempt.id}`))).attempt.state).toBe('open');
    expect((await ben.ask('POST', `/assignments/${one.id}/attempts`, {})).body.error.message).toMatch(
      /^Closed /,
    );
    await ok(change({ closesAt: null }));
    expect((await ben.ask('POST', `/assignments/${one.id}/attempts`, {})).body.error.message).toBe(
      'The one attempt is used.',
    );
    // Withdrawn it is gone from the list, its slip is not; nothing more is wired.
    await ok(change({ withdrawn: true }));
    expect(
      (
        await ann.ask('POST', `/attempts/${annAttempt.id}/log`, {
          seq: 2,
          entry: { kind: 'supply', on: true },
        })
      ).status,
    ).toBe(409);
    expect((await ben.ask('GET', `/attempts/${attempt.id}/slip`)).status).toBe(200);
    await ok(change({ withdrawn: false }));
    await wireMore(ann, annAttempt.id);
  });

  const wireMore = async (client: Client, id: string): Promise<void> => {
    expect(
      (await client.ask('POST', `/attempts/${id}/log`, { seq: 2, entry: { kind: 'supply', on: true } }))
        .status,
    ).toBe(201);
  };

  test('best or last counts; medians, spreads, records, and the columns of a grade book', async () => {
    const two = await ok(set({ exerciseId: lamp.id, counts: 'last', dueAt: at(-hour) }));
    const hand = async (wires: Exercise['reference']): Promise<string> => {
      const attempt = await ok(ann.ask('POST', `/assignments/${two.id}/attempts`, {}));
      await wire(ann, attempt.id, wires);
      await ok(ann.ask('POST', `/attempts/${attempt.id}/hand-in`, {}));
      await marked(ann, attempt.id);
      return attempt.id as string;
    };
    await hand(lamp.reference);
    const worse = await hand(lamp.reference.slice(1));
    const book = await ok(first.ask('GET', `/classes/${classId}/marks`));
    const column = book.assignments.findIndex(({ id }: any) => id === two.id);
    const row = book.students.find(({ name }: any) => name === 'Person ann');
    expect(row.cells[column]).toMatchObject({
      attemptId: worse,
      attempts: 2,
      late: true,
      result: { passed: false },
    });
    await ok(first.ask('PATCH', `/assignments/${two.id}`, { counts: 'best' }));
    const better = await ok(first.ask('GET', `/classes/${classId}/marks`));
    expect(better.students.find(({ name }: any) => name === 'Person ann').cells[column].result.passed).toBe(
      true,
    );
    expect(better.assignments[column].spread).toMatchObject({ median: 100, passed: 1 });
    const record = await ok(first.ask('GET', `/classes/${classId}/students/${row.id as string}`));
    const mine = record.exercises.find(({ assignmentId }: any) => assignmentId === two.id);
    expect(mine.attempts.map(({ counts }: any) => counts)).toEqual([true, false]);
    expect(mine.criteria.length).toBeGreaterThan(2);
    const troubles = await ok(first.ask('GET', '/troubles'));
    const trouble = troubles.find(({ exerciseId }: any) => exerciseId === lamp.id);
    expect(trouble.wires[0].what).toMatch(/ not joined to /);
    expect(trouble.losses.length).toBeGreaterThan(0);
    const csv = (await first.ask('GET', `/classes/${classId}/marks.csv?form=gradebook`)).body as string;
    expect(csv.split('\r\n')[0]).toContain(`Last name,First name,Username`);
    expect(csv).toContain(`${lamp.title} [Total points: 100]`);
  });
});

test('the command line makes the first administrator', async () => {
  const { execFileSync } = await import('node:child_process');
  const { join } = await import('node:path');
  const run = (...words: string[]) =>
    execFileSync(process.execPath, [join(import.meta.dirname, '..', 'dist', 'admin.mjs'), ...words], {
      env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: url },
      encoding: 'utf8',
    });
  const password = /password (\S+)/.exec(run('create', 'boss', 'Olla', 'Weir'))?.[1] ?? '';
  await new Client(server.base).signIn('boss', password);
  expect(run('people')).toContain('boss');
  const other = /password (\S+)/.exec(run('reset', 'boss'))?.[1] ?? '';
  await until(
    async () =>
      (await new Client(server.base).ask('POST', '/session', { login: 'boss', password: other })).status ===
      201,
  );
  expect(() => run('create', 'boss', 'Twice')).toThrow();
});
