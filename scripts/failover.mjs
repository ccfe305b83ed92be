/**
 * `npm run bench -- --failover`: 300 students at two edits a second over a database on two machines, of which the
 * primary is ended for good again and again: the standby is promoted, the old one rebuilt.
 */
import { buildServer } from './lib/build.mjs';
import { connected, createDatabase, onMachines, PASSWORD, urlOf } from './lib/machines.mjs';
import { pause } from './lib/measure.mjs';
import * as pair from './lib/pair.mjs';
import { halt, launch, seed, serverEnvironment } from './lib/server.mjs';
import { agent, editing, lost, makeStudents, signInAll } from './lib/service.mjs';
import { onePassword } from './service.mjs';

const PEOPLE = 300;
const BOARD = 'brine-pump-three-wire';
/** Between two ends of a primary, seconds. */
const PEACE = 12;

export const failover = ({ report, note, count = 10 }) =>
  onMachines(['one', 'other'], (machines) => ended(machines, { report, note, count }));

async function ended(machines, { report, note, count }) {
  const shared = agent();
  let server = null;
  try {
    await buildServer();
    pair.makePrimary(machines[0]);
    await pair.makeStandby({ ...machines[1], from: machines[0] });
    await pair.setSynchronous(machines[0], true);
    await createDatabase(machines[0]);
    const env = (list) =>
      serverEnvironment({
        databaseUrl: urlOf(list),
        sessionSecret: 'a secret of the bench',
        port: 0,
        WEB_PROCESSES: '2',
        LOG_LEVEL: 'silent',
      });
    seed(env([machines[0]]));
    server = await launch(env(machines));
    const base = `http://127.0.0.1:${server.port}`;
    const client = await connected(machines[0]);
    const load = await makeStudents(client, PEOPLE, BOARD);
    await onePassword(client, load.students);
    await client.end();
    await signInAll(base, load.students, shared);
    await editing(load, 10);

    let isOver = false;
    const taken = [];
    const working = (async () => {
      while (!isOver) taken.push(...(await editing(load, 5)));
    })();
    let [primary, standby] = machines;
    for (let k = 0; k < count; k += 1) {
      await pause(1000 * PEACE);
      pair.stop(primary.data, 'immediate');
      await pair.promote(standby);
      await pair.rebuild({ data: primary.data, from: standby, password: PASSWORD });
      await pair.setSynchronous(standby, true);
      [primary, standby] = [standby, primary];
    }
    isOver = true;
    await working;
    const last = await connected(primary);
    note(
      `ends of the primary under ${PEOPLE} students (${taken.length} edits acknowledged)`,
      `${count}`,
      `${count}`,
    );
    report('acknowledged edits lost', await lost(last, load.students), '', 0.5);
    report('longest time without an acknowledged edit', longestGap(taken) / 1000, 's', 30);
    await last.end();
  } finally {
    shared.destroy();
    if (server) await halt(server.child);
  }
}

/** Longest time between two edits that were acknowledged, milliseconds. */
function longestGap(taken) {
  const times = taken.map(({ at }) => at).toSorted((a, b) => a - b);
  return times.slice(1).reduce((most, at, k) => Math.max(most, at - times[k]), 0);
}
