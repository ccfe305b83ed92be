import { afterEach, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client, freshDatabase, startProcess, until } from './help.js';

const folder = mkdtempSync(join(tmpdir(), 'logs-'));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('a log that cannot be written ends no process; one that can is nobody else’s to read', async () => {
  // A file stands where the folder of the logs should be: whoever runs the tests, root too, can write
  // nothing into it.
  const blocked = join(folder, 'blocked');
  writeFileSync(blocked, '');
  const server = await startProcess(await freshDatabase(), {
    LOG_FILE: join(blocked, 'contactum.log'),
    LOG_LEVEL: 'info',
  });
  for (let k = 0; k < 3; k += 1)
    expect((await new Client(server.base).ask('GET', '/exercises')).status).toBe(401);
  expect(server.process.exitCode).toBeNull();
  await server.kill('SIGTERM');

  const open = join(folder, 'open');
  const other = await startProcess(await freshDatabase(), {
    LOG_FILE: join(open, 'contactum.log'),
    LOG_LEVEL: 'info',
  });
  await new Client(other.base).ask('GET', '/exercises');
  const listed = () => spawnSync('ls', [open], { encoding: 'utf8' }).stdout.split('\n').filter(Boolean);
  const name = await until(() => Promise.resolve(listed().find((one) => /^contactum-.*\.log$/.test(one))));
  await until(() => Promise.resolve(readFileSync(join(open, name), 'utf8').includes('request')));
  expect(statSync(join(open, name)).mode & 0o077).toBe(0);
  await other.kill('SIGTERM');
});
