/** Machines of a database for a while: folders and ports of their own on this one, gone with what was measured. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import * as pair from './pair.mjs';
import { freePort } from './postgres.mjs';

export const PASSWORD = 'a password of the bench';

/** Address of the database of one machine, or of whichever of several takes changes. */
export const urlOf = (list, database = 'contactum') =>
  `postgres://contactum:${encodeURIComponent(PASSWORD)}@${list.map(({ port }) => `127.0.0.1:${port}`).join(',')}/${database}`;

export async function connected(machine, database) {
  const client = new pg.Client({ connectionString: urlOf([machine], database) });
  client.on('error', () => undefined);
  await client.connect();
  return client;
}

export async function createDatabase(machine) {
  const client = await connected(machine, 'postgres');
  await client.query('create database contactum');
  await client.end();
}

/** Does some work on machines of these names; what of them still runs after it is ended, and all is removed. */
export async function onMachines(names, work) {
  const home = mkdtempSync(join(tmpdir(), 'machines-'));
  chmodSync(home, 0o755);
  const machines = [];
  for (const name of names)
    machines.push({
      data: join(home, name, 'postgres'),
      port: await freePort(),
      host: '127.0.0.1',
      password: PASSWORD,
    });
  try {
    await work(machines, home);
  } finally {
    for (const { data } of machines) if (pair.isRunning(data)) pair.stop(data, 'immediate');
    rmSync(home, { recursive: true, force: true });
  }
}
