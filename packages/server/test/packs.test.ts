import { createPublicKey, verify } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { unzipSync } from 'fflate';
import {
  MANIFEST,
  checkPack,
  markWork,
  packWarnings,
  type Exercise,
  type PackWork,
  type Report,
} from '@contactum/core';
import { openDatabase } from '../src/database/database.js';
import { keysOf, makeKey } from '../src/domain/records/keys.js';
import { exercise } from '../../core/test/help.js';
import { Client, freshDatabase, marked, people, startProcess, wire, type Server } from './help.js';

const pump = exercise('brine-pump-three-wire');
let databaseUrl: string;
let server: Server;
let first: Client;
let second: Client;
let ann: Client;
let classId: string;

beforeAll(async () => {
  databaseUrl = await freshDatabase();
  server = await startProcess(databaseUrl);
  ({ classId } = await people(databaseUrl));
  [first, second, ann] = (await Promise.all(
    ['first', 'second', 'ann'].map((login) => new Client(server.base).signIn(login)),
  )) as [Client, Client, Client];
});

afterAll(() => server.kill('SIGTERM'));

const keyBytes = (text: string) => Uint8Array.from(Buffer.from(text, 'base64'));
/** As OpenSSL checks it. */
const isSigned = (message: Uint8Array, signature: Uint8Array, key: Uint8Array): boolean =>
  verify(
    null,
    message,
    createPublicKey({
      key: { kty: 'OKP', crv: 'Ed25519', x: Buffer.from(key).toString('base64url') },
      format: 'jwk',
    }),
    signature,
  );
const checked = (files: ReadonlyMap<string, Uint8Array>) => checkPack(files, { verify: isSigned, keyBytes });

const packOf = async (id: string, who = first) => {
  const response = await fetch(`${server.base}/api/attempts/${id}/pack.zip`, {
    headers: { cookie: who.cookie },
  });
  return { status: response.status, data: Buffer.from(await response.arrayBuffer()) };
};
const json = <T>(files: ReadonlyMap<string, Uint8Array>, name: string): T =>
  JSON.parse(Buffer.from(files.get(name)!).toString('utf8')) as T;

const set = async (exerciseId: string, more: object = {}): Promise<string> =>
  (await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId, ...more })).body.id;
const open = async (assignment: string): Promise<string> =>
  (await ann.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id;

async function withDatabase<T>(work: (database: ReturnType<typeof openDatabase>) => Promise<T>): Promise<T> {
  const database = openDatabase(databaseUrl);
  try {
    return await work(database);
  } finally {
    await database.destroy();
  }
}

test('a pack is signed by the college’s key, says when a byte of it is other, and marks itself again', async () => {
  const id = await open(await set(pump.id));
  await wire(ann, id, pump.reference.slice(0, -2));
  expect(await packOf(id)).toMatchObject({ status: 409 });
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(ann, id);
  // Without a key there is none, and it is said how one is made.
  expect((await packOf(id)).data.toString()).toContain('npm run admin -- key');
  const made = await withDatabase(makeKey);
  expect(made).toMatch(/^([0-9a-f]{4} ){7}[0-9a-f]{4}$/);

  await first.ask('POST', `/attempts/${id}/points`, {
    part: 'behaviour',
    criterion: pump.behaviours[0]!.id,
    points: 1,
    reason: 'explained well',
  });
  const { status, data } = await packOf(id);
  expect(status).toBe(200);
  if (process.env.KEEP_PACK) writeFileSync(process.env.KEEP_PACK, data);
  const files = new Map(Object.entries(unzipSync(data)));
  expect([...files.keys()].sort()).toEqual([
    'changes.json',
    'drawing.svg',
    'exercise.json',
    'log.json',
    'manifest.json',
    'manifest.sig',
    'report.json',
    'slip.pdf',
    'work.json',
  ]);
  const check = checked(files);
  expect(check).toMatchObject({ ok: true, signed: true, changed: [], missing: [], added: [] });
  expect(check.manifest).toMatchObject({ number: id, student: 'Person ann', exercise: { id: pump.id } });
  expect(Buffer.from(files.get('slip.pdf')!.slice(0, 5)).toString()).toBe('%PDF-');
  expect(json<unknown[]>(files, 'log.json')).toHaveLength(pump.reference.length - 2);
  expect(json<{ changes: object[] }>(files, 'changes.json').changes).toMatchObject([
    { to: 1, reason: 'explained well' },
  ]);
  const again = markWork(json<Exercise>(files, 'exercise.json'), json<PackWork>(files, 'work.json'));
  expect(again.criteria).toEqual(json<Report>(files, 'report.json').criteria);
  expect(again.score).toBe(slip.report.score);

  // Whatever is changed is named; a list that was made anew is not signed.
  for (const name of files.keys()) {
    const other = new Map(files);
    const bytes = Uint8Array.from(files.get(name)!);
    bytes[bytes.length >> 1] = bytes[bytes.length >> 1]! ^ 1;
    other.set(name, bytes);
    const { ok, signed, changed } = checked(other);
    expect({ name, ok }).toEqual({ name, ok: false });
    if (!name.startsWith('manifest')) expect({ signed, changed }).toEqual({ signed: true, changed: [name] });
    const without = new Map(files);
    without.delete(name);
    expect(packWarnings(checked(without)).join(' ')).toMatch(/missing|no evidence pack/);
  }
  const forged = new Map(files);
  const own = Buffer.from(files.get(MANIFEST)!).toString('utf8').replace('"passed": false', '"passed": true');
  forged.set(MANIFEST, Buffer.from(own));
  expect(checked(forged)).toMatchObject({ ok: false, signed: false });
  expect(checked(new Map([...files, ['extra.txt', Buffer.from('x')]]))).toMatchObject({
    ok: false,
    added: ['extra.txt'],
  });
});

test('a new key signs from then on; what the old one signed stays good; nobody else gets a pack', async () => {
  const id = await open(await set('coil-and-contact'));
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  await marked(ann, id);
  const before = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  await withDatabase(makeKey);
  const after = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  expect([checked(before).ok, checked(after).ok]).toEqual([true, true]);
  expect(checked(before).manifest!.key).not.toBe(checked(after).manifest!.key);
  const keys = await withDatabase(keysOf);
  expect(keys.map(({ retiredAt }) => retiredAt === null)).toEqual([true, false]);
  expect((await packOf(id, ann)).status).toBe(403);
  expect((await packOf(id, second)).status).toBe(404);
  expect(JSON.stringify((await first.ask('GET', '/audit')).body)).toContain('made an evidence pack');
});

test.each([
  ['questions-seal-in', 'answers'],
  ['find-seal-in', 'search'],
  ['brine-pump-momentary', 'wiring'],
])('%s, as a variant: its pack carries %s and is marked again as it was', async (of, kind) => {
  const id = await open(await set(of, { variants: true }));
  if (kind === 'search') await ann.ask('GET', `/attempts/${id}/search`);
  await ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const { report } = await marked(ann, id);
  const files = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  expect(checked(files).ok).toBe(true);
  const work = json<PackWork>(files, 'work.json');
  expect(work.kind).toBe(kind);
  expect(markWork(json<Exercise>(files, 'exercise.json'), work).score).toBe(report.score);
});
