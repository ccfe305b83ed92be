import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { unzipSync, zipSync } from 'fflate';
import { command as run, ownFolder } from './help.js';

/**
 * An evidence pack as a service of an earlier day made it: by its own exercise it is worth the same for as
 * long as packs are read.
 */
const PACK = join(import.meta.dirname, 'fixtures', 'pack-1.zip');
const { file } = ownFolder('verify');

const files = unzipSync(readFileSync(PACK));
/** The pack with some of its files other, or left out. */
function other(name: string, change: Record<string, Uint8Array | null>): string {
  const left = Object.entries({ ...files, ...change }).filter(
    (one): one is [string, Uint8Array] => one[1] !== null,
  );
  const path = file(name, '');
  writeFileSync(path, zipSync(Object.fromEntries(left)));
  return path;
}
const text = (name: string): string => Buffer.from(files[name]!).toString('utf8');

test('an old pack is as it was signed, and is marked again by the exercise that it carries', async () => {
  const { status, out, error } = await run('verify', PACK, '--mark', '--json');
  expect({ status, error }).toEqual({ status: 0, error: '' });
  const manifest = JSON.parse(text('manifest.json')) as { score: number; passed: boolean };
  expect(JSON.parse(out)).toMatchObject({
    ok: true,
    signed: true,
    warnings: [],
    marked: { score: manifest.score, passed: manifest.passed },
    manifest: { student: 'Person ann', exercise: { id: 'brine-pump-three-wire' } },
  });
  const said = await run('verify', PACK);
  expect(said.out).toContain('Nothing was changed since it was signed.');
});

test('what was changed is named', async () => {
  const report = Buffer.from(text('report.json').replace('"passed": false', '"passed": true'));
  const cases: [Record<string, Uint8Array | null>, RegExp][] = [
    [{ 'report.json': report }, /report\.json was changed/],
    [{ 'log.json': null }, /log\.json is missing/],
    [{ 'note.txt': Buffer.from('x') }, /note\.txt was added/],
    [{ 'manifest.sig': Buffer.alloc(64) }, /signed with another key/],
    [{ 'manifest.json': Buffer.from('{}') }, /no evidence pack/],
    [
      { 'manifest.json': Buffer.from(text('manifest.json').replace('Person ann', 'Person ben')) },
      /list of files was changed/,
    ],
  ];
  for (const [k, [change, words]] of cases.entries()) {
    const { status, out } = await run('verify', other(`changed-${k}.zip`, change));
    expect(status).toBe(1);
    expect(out).toMatch(words);
  }
});

test('the key may be named by its fingerprint; what is no pack is refused', async () => {
  const { key } = JSON.parse((await run('verify', PACK, '--json')).out) as { key: string };
  expect(key).toMatch(/^([0-9a-f]{4} ){7}[0-9a-f]{4}$/);
  expect((await run('verify', PACK, '--key', key)).status).toBe(0);
  expect((await run('verify', PACK, '--key', key.replaceAll(' ', '').toUpperCase())).status).toBe(0);
  const wrong = await run('verify', PACK, '--key', '0000 0000');
  expect(wrong.status).toBe(1);
  expect(wrong.out).toContain('another key than was named');
  expect(await run('verify', file('no.zip', 'no zip'))).toMatchObject({ status: 2 });
  expect(await run('verify', '/nowhere.zip')).toMatchObject({ status: 2 });
});
