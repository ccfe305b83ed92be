import { afterEach, expect, test } from '@jest/globals';
import { freePort } from '../../cli/src/scanner/free-port.js';
import { freshDatabase, startProcess, until, type Server } from './help.js';

let server: Server | undefined;
afterEach(() => server?.kill('SIGTERM'));

/**
 * Runs in the first process: telling any of the others something fails, as where one is killed between asking
 * where to listen and the answer (`write EPIPE`, seen under load). What lives on after that says so.
 */
const FAILING = `
  import cluster from 'node:cluster';
  const fail = (one) => {
    one.process.emit('error', Object.assign(new Error('write EPIPE'), { code: 'EPIPE' }));
    process.stdout.write('lives on\\n');
  };
  if (cluster.isPrimary) cluster.on('online', (one) => setTimeout(fail, 200, one));
`;

test('a process that dies while it is told something ends nobody else', async () => {
  server = await startProcess(await freshDatabase(), {
    WEB_PROCESSES: '2',
    PORT: String(await freePort()),
    NODE_OPTIONS: `--import=data:text/javascript,${encodeURIComponent(FAILING)}`,
    LOG_LEVEL: 'silent',
  });
  const { process: first, base } = server;
  let said = '';
  first.stdout?.on('data', (chunk: Buffer) => (said += String(chunk)));
  // The second one that answers, and the one that marks; the first answers already.
  await until(() => Promise.resolve(first.exitCode !== null || said.split('lives on').length > 2));
  expect(first.exitCode).toBeNull();
  expect((await fetch(`${base}/api/session`)).status).toBe(200);
});
