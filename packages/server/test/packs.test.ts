import { createPublicKey, verify } from 'node:crypto';
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
import { keysOf, makeKey } from '../src/domain/records/keys.js';
import { exercise } from '../../core/test/help.js';
import { Client, College, marked, wire } from './help.js';

const pump = exercise('brine-pump-three-wire');
let college: College;

beforeAll(async () => {
  college = await College.started();
});

afterAll(() => college.server.kill('SIGTERM'));

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

const packOf = async (id: string, who = college.first) => {
  const response = await fetch(`${college.server.base}/api/attempts/${id}/pack.zip`, {
    headers: { cookie: who.cookie },
  });
  return { status: response.status, data: Buffer.from(await response.arrayBuffer()) };
};
const json = <T>(files: ReadonlyMap<string, Uint8Array>, name: string): T =>
  JSON.parse(Buffer.from(files.get(name)!).toString('utf8')) as T;

test('a pack is signed by the college’s key, says when a byte of it is other, and marks itself again', async () => {
  const id = await college.open(await college.set(pump.id));
  await wire(college.ann, id, pump.reference.slice(0, -2));
  expect(await packOf(id)).toMatchObject({ status: 409 });
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(college.ann, id);
  // Without a key there is none, and it is said how one is made.
  expect((await packOf(id)).data.toString()).toContain('npm run admin -- key');
  const made = await college.withDatabase(makeKey);
  expect(made).toMatch(/^([0-9a-f]{4} ){7}[0-9a-f]{4}$/);

  await college.first.ask('POST', `/attempts/${id}/points`, {
    part: 'behaviour',
    criterion: pump.behaviours[0]!.id,
    points: 1,
    reason: 'explained well',
  });
  const { status, data } = await packOf(id);
  expect(status).toBe(200);
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
  const id = await college.open(await college.set('coil-and-contact'));
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  await marked(college.ann, id);
  const before = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  await college.withDatabase(makeKey);
  const after = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  expect([checked(before).ok, checked(after).ok]).toEqual([true, true]);
  expect(checked(before).manifest!.key).not.toBe(checked(after).manifest!.key);
  const keys = await college.withDatabase(keysOf);
  expect(keys.map(({ retiredAt }) => retiredAt === null)).toEqual([true, false]);
  expect((await packOf(id, college.ann)).status).toBe(403);
  expect((await packOf(id, college.second)).status).toBe(404);
  expect(JSON.stringify((await college.first.ask('GET', '/audit')).body)).toContain('made an evidence pack');
});

test.each([
  ['questions-seal-in', 'answers'],
  ['find-seal-in', 'search'],
  ['brine-pump-momentary', 'wiring'],
])('%s, as a variant: its pack carries %s and is marked again as it was', async (of, kind) => {
  const id = await college.open(await college.set(of, { variants: true }));
  if (kind === 'search') await college.ann.ask('GET', `/attempts/${id}/search`);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const { report } = await marked(college.ann, id);
  const files = new Map(Object.entries(unzipSync((await packOf(id)).data)));
  expect(checked(files).ok).toBe(true);
  const work = json<PackWork>(files, 'work.json');
  expect(work.kind).toBe(kind);
  expect(markWork(json<Exercise>(files, 'exercise.json'), work).score).toBe(report.score);
});

test('a line of a certificate is checked by number and code, by nobody in particular; a changed mark has another', async () => {
  const id = await college.open(await college.set('rinse-pump-single-phase'));
  await wire(college.ann, id, exercise('rinse-pump-single-phase').reference);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  await marked(college.ann, id);
  await college.withDatabase(makeKey);
  const annId = await college.withDatabase(
    async (database) => (await database('people').where({ login: 'ann' }).first<{ id: string }>('id')).id,
  );
  const codeNow = async (): Promise<string> => {
    const { body } = await college.first.ask('GET', `/classes/${college.classId}/students/${annId}`);
    return body.exercises.find(({ title }: { title: string }) => title.startsWith('Single-phase')).code;
  };
  const stranger = new Client(college.server.base);
  const check = (code: string, number = id) => stranger.ask('GET', `/certificates/${number}/${code}`);
  const code = await codeNow();
  expect(code).toMatch(/^([0-9A-HJKMNP-TV-Z]{4}-){2}[0-9A-HJKMNP-TV-Z]{4}$/);
  expect((await check(code.toLowerCase())).body).toMatchObject({
    student: 'Person ann',
    className: '=Class 1',
    passed: true,
  });
  expect((await check('0000-0000-0000')).status).toBe(404);
  expect((await check(code, '6f1a1a0e-3f0f-4d34-9f5e-0c6f3b1d2a10')).status).toBe(404);
  // After another key the old code still holds; after a change of points it does not, and the new one does.
  await college.withDatabase(makeKey);
  expect((await check(code)).status).toBe(200);
  const change = { part: 'behaviour', criterion: 'holds', points: 0, reason: 'shown again at the bench' };
  const behaviours = exercise('rinse-pump-single-phase').behaviours;
  await college.first.ask('POST', `/attempts/${id}/points`, { ...change, criterion: behaviours[0]!.id });
  expect((await check(code)).status).toBe(404);
  expect((await check(await codeNow())).status).toBe(200);
});
