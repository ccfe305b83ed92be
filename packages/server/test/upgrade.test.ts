import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { exercise } from '../../core/test/help.js';
import { Hand } from './hand.js';
import { Client, freshDatabase, people, query, startProcess, type Server } from './help.js';

const pump = exercise('brine-pump-three-wire');

let url: string;
let old: Server;
let fresh: Server | null = null;
const hands: Hand[] = [];

beforeAll(async () => {
  url = await freshDatabase();
  old = await startProcess(url, { WEB_PROCESSES: '2', LOG_LEVEL: 'silent' });
  const { classId } = await people(url);
  const first = await new Client(old.base).signIn('first');
  const { body: setting } = await first.ask('POST', `/classes/${classId}/assignments`, {
    exerciseId: pump.id,
  });
  for (const login of ['ann', 'ben']) {
    const client = await new Client(old.base).signIn(login);
    const { body } = await client.ask('POST', `/assignments/${setting.id}/attempts`, {});
    hands.push(new Hand(client, body.id as string));
  }
});
afterAll(async () => {
  for (const server of [old, fresh])
    if (server && server.process.exitCode === null) await server.kill('SIGKILL');
});

/** Reads pages on and on, as windows that are open do; what was refused or broke is counted. */
function reading(base: () => string, cookie: string) {
  const failed: unknown[] = [];
  const state = { ended: false, read: 0 };
  const done = (async () => {
    while (!state.ended) {
      const client = new Client(base());
      client.cookie = cookie;
      const answer = await client.ask('GET', '/exercises').catch((error: unknown) => ({ status: 0, error }));
      if (answer.status === 200) state.read += 1;
      else failed.push(answer);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  const stop = async () => {
    state.ended = true;
    await done;
  };
  return { failed, state, stop };
}

test('a lesson goes on while a release takes the place of the one before it: no request fails, no entry is lost', async () => {
  // The schema as the release before has it; its processes run on.
  const admin = join(import.meta.dirname, '..', 'dist', 'admin.mjs');
  const back = spawnSync(process.execPath, [admin, 'back'], {
    env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: url },
    encoding: 'utf8',
  });
  expect(back.stdout).toContain('is taken back');
  const steps = await query<{ name: string }>(url, 'select name from knex_migrations order by id');
  const student = await new Client(old.base).signIn('ben');
  let base = old.base;
  const pages = reading(() => base, student.cookie);
  await Promise.all(hands.map((hand) => hand.goesOn(30)));

  // The new release beside it brings the schema up to date, under load.
  fresh = await startProcess(url, { WEB_PROCESSES: '2', LOG_LEVEL: 'silent' });
  expect(await query(url, 'select name from knex_migrations')).toHaveLength(steps.length + 1);
  await Promise.all(hands.map((hand) => hand.goesOn(30)));

  // A proxy sends what comes to the new one, and the old one ends once it has answered.
  base = fresh.base;
  for (const hand of hands) hand.moveTo(fresh.base);
  await Promise.all(hands.map((hand) => hand.goesOn(5)));
  await old.kill('SIGTERM');
  await Promise.all(hands.map((hand) => hand.goesOn(30)));
  await pages.stop();
  for (const hand of hands) await hand.stop();

  expect(pages.failed).toEqual([]);
  expect(pages.state.read).toBeGreaterThan(20);
  for (const hand of hands) {
    expect(hand.failed).toEqual([]);
    const rows = await query<{ seq: number }>(
      url,
      'select seq from attempt_log where attempt_id = $1 order by seq',
      [hand.attempt],
    );
    expect(rows.map(({ seq }) => seq)).toEqual(hand.acknowledged);
  }
});
