/**
 * `npm run bench -- --moment`: a term's data goes through the continuous archive, more is written while the
 * clock runs, and a moment in the midst of that is restored. The copy is from before the term: the whole of it
 * comes out of the log, which is the slowest there is.
 */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer } from './lib/build.mjs';
import { fillTerm } from './college.mjs';
import { connected, createDatabase, onMachines, PASSWORD, urlOf } from './lib/machines.mjs';
import { pause } from './lib/measure.mjs';
import * as pair from './lib/pair.mjs';
import { seed, serverEnvironment } from './lib/server.mjs';

/** Entries that are written one after the other around the moment. */
const ENTRIES = 200;
const MOMENT = 120;

export const moment = ({ report, note }) =>
  onMachines(['one', 'restored'], ([machine, restored], home) =>
    restoredTo({ machine, restored, archive: join(home, 'archive') }, { report, note }),
  );

async function restoredTo({ machine, restored, archive }, { report, note }) {
  await buildServer();
  pair.makePrimary({ ...machine, archive });
  await createDatabase(machine);
  seed(serverEnvironment({ databaseUrl: urlOf([machine]), sessionSecret: 'a secret of the bench', port: 0 }));
  pair.baseBackup({ of: machine, data: machine.data, into: archive, password: PASSWORD });
  // Copies are named by the second.
  await pause(1100);
  const client = await connected(machine);
  const { attempts, entries, size } = await fillTerm(client);
  note('a term through the archive: attempts, entries of logs, size', `${attempts}, ${entries}, ${size}`, '');
  await client.query('create table written (n int primary key, at timestamptz not null)');
  let at = null;
  for (let n = 1; n <= ENTRIES; n += 1) {
    await client.query('insert into written values ($1, clock_timestamp())', [n]);
    if (n !== MOMENT) continue;
    await pause(30);
    at = new Date((await client.query('select clock_timestamp() as at')).rows[0].at);
    await pause(30);
  }
  const { rows } = await client.query('select pg_walfile_name(pg_current_wal_lsn()) as file');
  await pair.switchLog(machine);
  while (!existsSync(join(archive, rows[0].file))) await pause(100);
  await client.end();
  const begun = performance.now();
  await pair.restoreTo({
    archive,
    moment: at,
    data: restored.data,
    port: restored.port,
    password: PASSWORD,
  });
  report(
    'restore to a moment in a term’s data, all of it out of the log',
    (performance.now() - begun) / 1000,
    's',
    600,
  );
  const again = await connected(restored);
  const found = await again.query(
    'select (select count(*)::int from written) as written, (select max(n) from written) as last, (select count(*)::int from attempts) as attempts',
  );
  await again.end();
  const { written, last } = found.rows[0];
  report(
    'entries too many or too few at that moment',
    Math.abs(written - MOMENT) + Math.abs(last - MOMENT),
    '',
    0.5,
  );
  if (found.rows[0].attempts < attempts) throw new Error(`${found.rows[0].attempts} attempts were restored`);
}
