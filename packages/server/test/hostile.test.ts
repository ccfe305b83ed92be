import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import sharp from 'sharp';
import { WebSocket } from 'ws';
import type { SheetToTake } from '@contactum/contract';
import { exercise } from '../../core/test/help.js';
import { openDatabase } from '../src/database/database.js';
import {
  Client,
  connect,
  freshDatabase,
  marked,
  people,
  startProcess,
  until,
  wire,
  type Server,
} from './help.js';

/** What somebody who means harm sends, and what becomes of everybody else meanwhile. */
const pump = exercise('brine-pump-three-wire');
let url: string;
let server: Server;
let classId: string;
let first: Client, ann: Client, ben: Client;

beforeAll(async () => {
  url = await freshDatabase();
  // Sign-ins that are wrong cost waiting from the third on.
  server = await startProcess(url, { SIGN_IN_LIMIT: '2' });
  ({ classId } = await people(url));
  [first, ann, ben] = (await Promise.all(
    ['first', 'ann', 'ben'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client];
});
afterAll(() => server.kill('SIGTERM'));

const set = async (exerciseId: string): Promise<string> =>
  (await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId })).body.id as string;
const begin = async (client: Client, setting: string): Promise<string> =>
  (await client.ask('POST', `/assignments/${setting}/attempts`, {})).body.id as string;

/** A socket with what it was told, and why it was closed. */
class Line {
  readonly told: any[] = [];
  readonly closed: Promise<{ code: number; reason: string }>;
  code = 0;

  private constructor(readonly socket: WebSocket) {
    socket.on('message', (data: Buffer) => this.told.push(JSON.parse(data.toString('utf8'))));
    this.closed = new Promise((resolve) =>
      socket.once('close', (code, reason) => {
        this.code = code;
        resolve({ code, reason: reason.toString('utf8') });
      }),
    );
    socket.on('error', () => undefined);
  }

  static open({ base, cookie }: Client, path: string): Promise<Line> {
    const line = new Line(
      new WebSocket(`${base.replace('http', 'ws')}/api${path}`, { headers: { cookie, origin: base } }),
    );
    return new Promise((resolve, reject) => {
      line.socket.once('open', () => resolve(line));
      line.socket.once('error', reject);
    });
  }

  say(what: unknown): void {
    this.socket.send(typeof what === 'string' ? what : JSON.stringify(what));
  }

  hears(is: (one: any) => boolean): Promise<any> {
    return until(() => Promise.resolve(this.told.find(is)));
  }
}

describe('bodies', () => {
  /** Sends the head of a request and a piece of its body, and waits for the answer. */
  const unfinished = (path: string, headers: Record<string, string>): Promise<number> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(server.base);
      const sent = request({ hostname, port, path: `/api${path}`, method: 'POST', headers }, (answer) => {
        resolve(answer.statusCode ?? 0);
        sent.destroy();
      });
      sent.on('error', reject);
      sent.write('x'.repeat(1000));
    });

  test('nobody’s body is read: who is not signed in is refused before it is sent, whatever its length', async () => {
    const zip = { 'content-type': 'application/zip' };
    for (const headers of [
      { ...zip, 'content-length': '15000000' },
      { ...zip, 'transfer-encoding': 'chunked' },
    ])
      expect(await unfinished('/library', headers)).toBe(401);
    const json = { 'content-type': 'application/json' };
    expect(await unfinished('/session', { ...json, 'content-length': '500000' })).toBe(413);
    expect(await unfinished('/session', { ...json, 'transfer-encoding': 'chunked' })).toBe(413);
    expect(
      (await new Client(server.base).ask('POST', '/session', { login: 'ann', password: 'x' })).status,
    ).toBe(401);
  });

  test('brackets within brackets are refused before they are parsed, in requests and over sockets', async () => {
    const deep = `{"document":${'['.repeat(30_000)}${']'.repeat(30_000)},"seq":0}`;
    const draft = (await first.ask('POST', '/drafts', { from: pump.id })).body.id as string;
    for (const [method, path] of [
      ['PUT', `/drafts/${draft}`],
      ['POST', '/library'],
      ['POST', '/practice'],
    ] as const)
      expect((await first.ask(method, path, deep)).status).toBe(400);
    const line = await Line.open(first, `/classes/${classId}/floor`);
    line.say(`${'['.repeat(4000)}${']'.repeat(4000)}`);
    expect(await line.hears(({ kind }) => kind === 'refused')).toMatchObject({ why: 'is nested too deeply' });
    // Brackets in a text are no brackets.
    const text = `${'['.repeat(200)}\\"${'{'.repeat(200)}`;
    expect((await first.ask('POST', `/classes`, `{"name":"${text.slice(0, 60)}"}`)).status).toBe(201);
    line.socket.terminate();
  });
});

describe('archives', () => {
  const send = async (body: Uint8Array): Promise<{ status: number; message: string }> => {
    const answer = await fetch(`${server.base}/api/library?name=lib.zip`, {
      method: 'POST',
      headers: { cookie: first.cookie, 'content-type': 'application/zip' },
      body: body as BodyInit,
    });
    const told = (await answer.json()) as { error?: { message: string } };
    return { status: answer.status, message: told.error?.message ?? JSON.stringify(told) };
  };

  /** Writes another length into every head of a zip: what is unpacked is counted, not what is said. */
  function lying(zip: Uint8Array, size: number): Uint8Array {
    const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
    for (let k = 0; k + 30 < zip.length; k += 1) {
      const mark = view.getUint32(k, true);
      if (mark === 0x04034b50) view.setUint32(k + 22, size, true);
      if (mark === 0x02014b50) view.setUint32(k + 24, size, true);
    }
    return zip;
  }

  test('one that unpacks to more than it says is refused, and others are answered meanwhile', async () => {
    const bomb = lying(zipSync({ 'a.exercise.json': new Uint8Array(80_000_000) }, { level: 9 }), 100);
    expect(bomb.length).toBeLessThan(200_000);
    const sent = send(bomb);
    const answers = await Promise.all(Array.from({ length: 20 }, () => ann.ask('GET', '/session')));
    expect(answers.every(({ status }) => status === 200)).toBe(true);
    expect(await sent).toMatchObject({ status: 400, message: /too large/ });
    const many = zipSync(
      Object.fromEntries(Array.from({ length: 600 }, (_, k) => [`${k}.exercise.json`, strToU8('{}')])),
    );
    expect(await send(many)).toMatchObject({ status: 400, message: /too large/ });
    const whole = zipSync({ 'a.exercise.json': strToU8(JSON.stringify(pump)) });
    expect(await send(whole.subarray(0, whole.length / 2))).toMatchObject({ status: 400 });
    expect(await send(Uint8Array.from([0x50, 0x4b, 1, 2, 3]))).toMatchObject({ status: 400 });
    const nested = zipSync({ 'a.exercise.json': strToU8('['.repeat(60_000)) });
    expect(await send(nested)).toMatchObject({ status: 200, message: /nested too deeply/ });
    expect(await send(whole)).toMatchObject({ status: 200, message: /"problem":null/ });
  });
});

describe('photographs', () => {
  let settingId: string;
  let paper: SheetToTake;
  beforeAll(async () => {
    settingId = await set(pump.id);
    paper = (await first.ask('GET', `/assignments/${settingId}/sheet`)).body as SheetToTake;
  });
  const send = (base64: string, type = 'image/jpeg') =>
    first.ask('POST', `/assignments/${settingId}/sheets`, {
      id: randomUUID(),
      studentId: paper.students[0]!.id,
      entries: { dead: {}, functions: {}, settings: {}, checks: {} },
      photo: { type, base64 },
      anyway: true,
    });
  const shown = async (attemptId: string): Promise<Buffer> =>
    Buffer.from(
      await (
        await fetch(`${server.base}/api/attempts/${attemptId}/sheet/photo`, {
          headers: { cookie: first.cookie },
        })
      ).arrayBuffer(),
    );
  const picture = () =>
    sharp({ create: { width: 400, height: 200, channels: 3, background: 'seagreen' } })
      .withExif({
        IFD0: { Make: 'CAMERA-NAME' },
        IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '54/1 30/1 0/1' },
      })
      .jpeg()
      .toBuffer();

  test('nothing is kept of one but the picture: no place, no camera', async () => {
    const sent = await picture();
    expect(sent.includes('CAMERA-NAME')).toBe(true);
    const { status, body } = await send(sent.toString('base64'));
    expect(status).toBe(201);
    const kept = await shown(body.attemptId as string);
    expect(await sharp(kept).metadata()).toMatchObject({ format: 'jpeg', width: 400, height: 200 });
    expect((await sharp(kept).metadata()).exif).toBeUndefined();
    expect(kept.includes('CAMERA-NAME')).toBe(false);
  });

  test('what is no picture, or too large a one, is refused whatever it is called', async () => {
    const page = Buffer.from('<html><script>alert(1)</script></html>').toString('base64');
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>').toString(
      'base64',
    );
    const wide = await sharp({ create: { width: 15_000, height: 5_000, channels: 3, background: 'black' } })
      .png({ compressionLevel: 9 })
      .toBuffer();
    for (const data of [
      page,
      svg,
      wide.toString('base64'),
      (await picture()).subarray(0, 300).toString('base64'),
    ])
      expect(await send(data, 'image/png')).toMatchObject({
        status: 400,
        body: { error: { problems: [{ path: 'photo' }] } },
      });
  });

  test('one of an earlier version is cleaned when it is looked at first, and thrown away where it is none', async () => {
    const database = openDatabase(url);
    const old = async (photo: Buffer): Promise<string> => {
      const { body } = await send((await picture()).toString('base64'));
      await database('bench_sheets')
        .where({ attempt_id: body.attemptId })
        .update({ photo, photo_type: 'image/png', photo_clean: false });
      return body.attemptId as string;
    };
    const camera = await old(await picture());
    expect((await shown(camera)).includes('CAMERA-NAME')).toBe(false);
    const { rows } = await database.raw<{ rows: { photo: Buffer }[] }>(
      'select photo from bench_sheets where attempt_id = ?',
      [camera],
    );
    expect(rows[0]!.photo.includes('CAMERA-NAME')).toBe(false);
    const page = await old(Buffer.from('<html><script>alert(1)</script></html>'));
    expect((await first.ask('GET', `/attempts/${page}/sheet/photo`)).status).toBe(404);
    await database.destroy();
  });
});

describe('the floor', () => {
  let attemptId: string;
  beforeAll(async () => {
    attemptId = await begin(ann, await set('brine-pump-two-stations'));
  });

  test('how a bench stands is told by its log: what a browser says of it is not heard', async () => {
    const floor = await Line.open(first, `/classes/${classId}/floor`);
    const bench = await Line.open(ann, `/attempts/${attemptId}/floor`);
    bench.say({ kind: 'status', status: { step: 'hand-in', shown: 200, functions: 20, leads: 999 } });
    bench.say({ kind: 'frame', frame: { states: null } });
    await wire(ann, attemptId, exercise('brine-pump-two-stations').reference.slice(0, 2));
    const at = exercise('brine-pump-two-stations').bench.wires.length + 2;
    const news = () => floor.told.flatMap((one) => one.benches ?? []).filter((one) => one.status);
    await until(() => Promise.resolve(news().some(({ status }) => status.leads === at)));
    for (const { status } of news()) {
      expect(status.leads).toBeLessThanOrEqual(at);
      expect(status).toMatchObject({ step: 'wire', shown: 0 });
      expect(status.functions).toBe(exercise('brine-pump-two-stations').behaviours.length);
    }
    // A lead that is moved leaves as many as before, and another board: whoever looks on asks for it anew.
    const before = news().at(-1).status.edits;
    const [, moved] = exercise('brine-pump-two-stations').reference;
    await ann.ask('POST', `/attempts/${attemptId}/log`, {
      seq: 3,
      entry: { kind: 'edit', edit: { do: 'cut', lead: 'w2', wire: moved } },
    });
    await ann.ask('POST', `/attempts/${attemptId}/log`, connect(4, { ...moved!, to: 'KM1:2' }, 'w3'));
    await until(() =>
      Promise.resolve(news().some(({ status }) => status.leads === at && status.edits === before + 2)),
    );
    expect(floor.told.some(({ kind }) => kind === 'frame')).toBe(false);
    // While somebody looks on, it is shown as it is.
    floor.say({ kind: 'watch', attemptId });
    const { frame } = await floor.hears(({ kind }) => kind === 'frame');
    expect(frame).toMatchObject({ supplyOn: false, states: expect.any(Array), closed: expect.any(String) });
    for (const line of [floor, bench]) line.socket.terminate();
  });

  test('a student writes and is answered; nobody floods the floor, and no other class hears it', async () => {
    const bench = await Line.open(ann, `/attempts/${attemptId}/floor`);
    const floor = await Line.open(first, `/classes/${classId}/floor`);
    floor.say({ kind: 'watch', attemptId });
    await floor.hears(({ kind }) => kind === 'words');
    bench.say({ kind: 'word', text: '   ' });
    bench.say({ kind: 'word', text: 'x'.repeat(301) });
    bench.say({ kind: 'word', text: ' Where does 14 go? ' });
    const { word } = await floor.hears(({ kind }) => kind === 'word');
    expect(word).toMatchObject({
      text: 'Where does 14 go?',
      by: 'Person ann',
      isStudents: true,
      isToClass: false,
    });
    const waiting = async () => {
      const again = await Line.open(first, `/classes/${classId}/floor`);
      const { benches } = await again.hears(({ kind }) => kind === 'benches');
      again.socket.terminate();
      return benches.find((one: { attemptId: string }) => one.attemptId === attemptId).word;
    };
    expect(await waiting()).toEqual(word);
    floor.say({ kind: 'word', attemptId, text: 'To A1 of the coil?' });
    await bench.hears((one) => one.kind === 'word' && one.word.text === 'To A1 of the coil?');
    await until(async () => (await waiting()) === null);
    // A message to the class is no answer to a question.
    bench.say({ kind: 'word', text: 'And then?' });
    await until(async () => (await waiting())?.text === 'And then?');
    floor.say({ kind: 'word', attemptId: null, text: 'Ten minutes left.' });
    await bench.hears((one) => one.kind === 'word' && one.word.isToClass);
    expect((await waiting())?.text).toBe('And then?');
    floor.say({ kind: 'heard', attemptId });
    await until(async () => (await waiting()) === null);
    // Whoever looks on later is shown the whole of it, in its order.
    const later = await Line.open(first, `/classes/${classId}/floor`);
    later.say({ kind: 'watch', attemptId });
    const { words } = await later.hears(({ kind }) => kind === 'words');
    expect(words.map(({ text }: { text: string }) => text)).toEqual([
      'Where does 14 go?',
      'To A1 of the coil?',
      'And then?',
      'Ten minutes left.',
    ]);
    for (let k = 0; k < 20; k += 1) bench.say({ kind: 'word', text: `Hello ${k}` });
    const { why, text } = await bench.hears(({ kind }) => kind === 'unsent');
    expect([why, text]).toEqual([expect.stringMatching(/many messages/), expect.stringMatching(/^Hello/)]);
    floor.say({ kind: 'heard', attemptId });
    for (const line of [bench, floor, later]) line.socket.terminate();
  });

  test('a yes is said to the one who asked, and to nobody else', async () => {
    const second = await new Client(server.base).signIn('second');
    await first.ask('POST', `/classes/${classId}/instructors`, { login: 'second' });
    const bench = await Line.open(ann, `/attempts/${attemptId}/floor`);
    const [one, other] = [
      await Line.open(first, `/classes/${classId}/floor`),
      await Line.open(second, `/classes/${classId}/floor`),
    ];
    one.say({ kind: 'ask-lead', attemptId });
    const asked = await bench.hears(({ kind }) => kind === 'lead-asked');
    expect(asked.by).toBe('Person first');
    other.say({ kind: 'ask-lead', attemptId });
    expect(await other.hears(({ kind }) => kind === 'refused')).toMatchObject({
      why: 'Person first has asked already.',
    });
    const { id: secondId } = (await second.ask('GET', '/session')).body as { id: string };
    bench.say({ kind: 'consent', yes: true, to: secondId });
    bench.say({ kind: 'consent', yes: true, to: asked.id });
    expect(await one.hears(({ kind }) => kind === 'lead')).toMatchObject({ yes: true });
    other.say({ kind: 'hand', attemptId, hand: { do: 'act', stimulus: { press: 'S1' } } });
    await until(() =>
      Promise.resolve(other.told.some(({ why }) => why === 'You do not have the lead at this bench.')),
    );
    expect(other.told.some(({ kind }) => kind === 'lead')).toBe(false);
    expect(bench.told.some(({ kind }) => kind === 'hand')).toBe(false);
    for (const line of [bench, one, other]) line.socket.terminate();
  });

  test('who says more than a page does is closed with the reason; the others are answered', async () => {
    const bench = await Line.open(ann, `/attempts/${attemptId}/floor`);
    for (let k = 0; k < 2_000; k += 1) bench.say({ kind: 'asks', yes: k % 2 === 0 });
    const [closed, other] = await Promise.all([bench.closed, ben.ask('GET', '/exercises')]);
    expect(closed).toEqual({ code: 1008, reason: 'Too much was sent at once.' });
    expect(other.status).toBe(200);
    // The same session is not let in again at once; another one of the same person is.
    await expect(Line.open(ann, `/attempts/${attemptId}/floor`)).rejects.toThrow('429');
    const elsewhere = await new Client(server.base).signIn('ann');
    const large = await Line.open(elsewhere, `/attempts/${attemptId}/floor`);
    for (let k = 0; k < 60; k += 1) large.say({ kind: 'refused', why: 'x'.repeat(15_000) });
    expect((await large.closed).code).toBe(1008);
  });
});

describe('guesses', () => {
  test('eighty wrong passwords at once keep nobody out whose password is right', async () => {
    const wrong = Array.from({ length: 80 }, (_, k) =>
      new Client(server.base).ask('POST', '/session', { login: 'cora', password: `guess ${k}` }),
    );
    // From a browser that is new: in after its wait. From one in which she signed in before: without one.
    await expect(new Client(server.base).signIn('cora')).resolves.toBeDefined();
    expect(new Set((await Promise.all(wrong)).map(({ status }) => status))).toEqual(new Set([401]));
  });

  test('a browser that is known for a name waits for nobody’s guesses, and is known for that name alone', async () => {
    const signIn = (login: string, password: string, cookie: string) =>
      fetch(`${server.base}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...(cookie ? { cookie } : {}) },
        body: JSON.stringify({ login, password }),
      });
    const delays = openDatabase(url);
    await delays('sign_in_failures').delete();
    const before = await signIn('ben', 'low water', '');
    const device = before.headers.getSetCookie().find((one) => one.startsWith('contactum.device='))!;
    expect(device).toMatch(/HttpOnly/i);
    const [known = ''] = device.split(';');
    for (let k = 0; k < 5; k += 1) await signIn('ben', `guess ${k}`, '');
    const counted = async (like: string): Promise<number> =>
      Number((await delays('sign_in_failures').where('key', 'like', like).max('count as n'))[0]?.n ?? 0);
    expect(await counted('name ben')).toBeGreaterThan(2);
    expect((await signIn('ben', 'low water', known)).status).toBe(201);
    // Wrong ones at it count for itself, and a cookie that was changed, or is another name's, is none.
    expect((await signIn('ben', 'wrong', known)).status).toBe(401);
    expect(await counted('device %')).toBe(1);
    await signIn('ann', 'wrong', known);
    await signIn('ben', 'wrong', `${known}x`);
    expect(await counted('device %')).toBe(1);
    await delays.destroy();
  });

  test('codes of classes are not tried out, by whoever is signed in either', async () => {
    const database = openDatabase(url);
    for (let k = 0; k < 4; k += 1)
      expect((await ann.ask('POST', '/join', { code: `NOSUCH${k}` })).status).toBe(400);
    const [row] = await database('sign_in_failures')
      .where('key', 'like', 'person % join person %')
      .select('count');
    expect(Number(row!.count)).toBeGreaterThan(3);
    await database.destroy();
  });
});

test('a database that takes no changes is told as such, and everything goes on when it does again', async () => {
  const database = openDatabase(url);
  const { name } = (await database.raw<{ rows: { name: string }[] }>('select current_database() as name'))
    .rows[0]!;
  const ready = async () => {
    const answer = await fetch(`${server.base}/readyz`);
    return { status: answer.status, body: (await answer.json()) as { why?: string } };
  };
  const readOnly = async (on: boolean) => {
    await database.raw(`alter database ${name} set default_transaction_read_only = ${on ? 'on' : 'off'}`);
    await database
      .raw(
        'select pg_terminate_backend(pid) from pg_stat_activity where datname = ? and pid <> pg_backend_pid()',
        [name],
      )
      .catch(() => undefined);
  };
  const attempt = await begin(ben, await set('sluice-gate-jog-relay'));
  const [lead] = exercise('sluice-gate-jog-relay').reference;
  const lay = () =>
    ben.ask('POST', `/attempts/${attempt}/log`, {
      seq: 1,
      entry: { kind: 'edit', edit: { do: 'connect', lead: 'w1', wire: lead } },
    });
  await readOnly(true);
  const refused = await until(async () => {
    const answer = await lay();
    return answer.body.error?.message?.includes('takes no changes') ? answer : null;
  });
  expect(refused.status).toBe(503);
  expect(await until(async () => ((await ready()).status === 503 ? ready() : null))).toMatchObject({
    body: { why: /takes no changes/ },
  });
  // What can be read is read.
  expect(
    (
      await until(async () => {
        const answer = await ben.ask('GET', `/attempts/${attempt}`);
        return answer.status === 200 ? answer : null;
      })
    ).body.log,
  ).toEqual([]);
  await database.raw('set default_transaction_read_only = off');
  await readOnly(false);
  await until(async () => (await lay()).status === 201);
  await until(async () => (await ready()).status === 200);
  await ben.ask('POST', `/attempts/${attempt}/hand-in`, {});
  expect((await marked(ben, attempt)).attempt.state).toBe('marked');
  await database.destroy();
});
