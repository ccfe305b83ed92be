import { afterAll, beforeAll, expect, test } from '@jest/globals';
import pg from 'pg';
import { takeUpLost } from '../src/marking/background.js';
import { Client, freshDatabase, people, startProcess, type Server } from './help.js';

let url: string;
let server: Server;
let pool: pg.Pool;
let attempt: string;

/** A service that answers and does not mark: what is handed in waits. */
beforeAll(async () => {
  url = await freshDatabase();
  server = await startProcess(url, { SERVE: 'web' });
  pool = new pg.Pool({ connectionString: url, max: 2 });
  const { classId } = await people(url);
  const first = await new Client(server.base).signIn('first');
  const set = await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId: 'button-lamp-no' });
  const ann = await new Client(server.base).signIn('ann');
  attempt = (await ann.ask('POST', `/assignments/${set.body.id}/attempts`, {})).body.id;
  expect((await ann.ask('POST', `/attempts/${attempt}/hand-in`, {})).status).toBe(202);
});

afterAll(async () => {
  await pool.end();
  await server.kill('SIGTERM');
});

/** Attempts that are put into the queue again while the only job of the attempt is so. */
async function foundWhile(change: string): Promise<string[]> {
  await pool.query(change);
  const sent: string[] = [];
  const found = await takeUpLost(pool, {
    send: ((_: string, { attemptId }: { attemptId: string }) => {
      sent.push(attemptId);
      return Promise.resolve(null);
    }) as never,
  });
  expect(found).toBe(sent.length);
  return sent;
}

test('an attempt that waits for marks which nobody makes is put into the queue again, and no other', async () => {
  // Just handed in: its job may still be on its way.
  expect(await foundWhile("delete from jobs.job where name = 'nothing'")).toEqual([]);
  await pool.query("update attempts set handed_in_at = now() - interval '1 hour'");
  // Its job waits, is worked, or is to be tried again.
  expect(await foundWhile("update jobs.job set state = 'created' where name = 'marking'")).toEqual([]);
  expect(await foundWhile("update jobs.job set state = 'retry' where name = 'marking'")).toEqual([]);
  expect(
    await foundWhile("update jobs.job set state = 'active', started_on = now() where name = 'marking'"),
  ).toEqual([]);
  // The process that had begun it is gone; it was tried too often; there is none.
  expect(
    await foundWhile("update jobs.job set started_on = now() - interval '10 minutes' where name = 'marking'"),
  ).toEqual([attempt]);
  expect(await foundWhile("update jobs.job set state = 'failed' where name = 'marking'")).toEqual([attempt]);
  expect(await foundWhile("delete from jobs.job where name = 'marking'")).toEqual([attempt]);
  // What is marked waits for nothing.
  expect(await foundWhile("update attempts set state = 'marked'")).toEqual([]);
});
