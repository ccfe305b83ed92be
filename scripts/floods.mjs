/**
 * `npm run bench -- --floods`: what a class waits for its edits while one student, or nobody who is known, floods the service: with edits,
 * with a live search, with practices, over the Floor's socket, with uploads that never end, and with guesses.
 */
import { randomUUID } from 'node:crypto';
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import pg from 'pg';
import { pause, quantile } from './lib/measure.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import { agent, editing, makeStudents, processTree, residentMegabytes, signInAll } from './lib/service.mjs';

const EXERCISE = 'brine-pump-three-wire';
const SECONDS = Number(process.env.FLOOD_SECONDS ?? 60);
const STUDENTS = 30;

/** A flood by a process of its own, which steps back behind the service: whoever floods does it from another machine. */
async function flooding(kind, given, work) {
  const child = fork(join(import.meta.dirname, 'lib', 'flood.mjs'), [kind, JSON.stringify(given)], {
    stdio: 'inherit',
  });
  await once(child, 'message');
  try {
    return await work();
  } finally {
    child.kill();
    await once(child, 'exit');
  }
}

export async function floods({ report, note, cluster, ensureDatabase }) {
  const databaseUrl = await ensureDatabase(cluster, `floods_${randomUUID().replaceAll('-', '')}`);
  const { child, base } = await launchDemo(cluster, databaseUrl, 2);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const shared = agent();
  const hostile = agent();
  try {
    const load = await makeStudents(client, STUDENTS, EXERCISE);
    const mean = await makeStudents(client, 1, EXERCISE);
    const finder = await makeStudents(client, 1, 'find-first-circuits');
    await signInAll(base, load.students, shared);
    await signInAll(base, [...mean.students, ...finder.students], hostile);
    const [one] = mean.students;
    const [seeker] = finder.students;
    const search = JSON.parse((await seeker.caller.ask('GET', `/attempts/${seeker.attempt}/search`)).text);
    const pids = processTree(child.pid);
    await editing(load, 5);
    const quiet = (await editing(load, SECONDS)).map(({ ms }) => ms);
    const calm = quantile(quiet, 0.95);
    note(
      `edit of ${STUDENTS} students while nobody floods, p95`,
      `${calm.toFixed(0)} ms`,
      'what the rest is measured by',
    );
    const resting = residentMegabytes(pids);
    const given = {
      base,
      cookie: one.caller.cookie,
      attempt: one.attempt,
      seeker: seeker.caller.cookie,
      search: search.id,
    };
    const FLOODS = {
      edits: 'edits, 30 at once',
      search: 'a live search',
      practices: 'practices, 10 at once',
      floor: 'messages to the Floor',
      uploads: 'uploads that never end, by a student',
      strangers: 'uploads that never end, by nobody',
      guesses: 'guesses at passwords, 20 at once',
    };
    for (const [kind, name] of Object.entries(FLOODS)) {
      const ms = await flooding(kind, given, async () => {
        await pause(1000);
        return (await editing(load, SECONDS)).map((taken) => taken.ms);
      });
      report(
        `the same during ${name}, p95 over that without`,
        quantile(ms, 0.95) / Math.max(calm, 5),
        'times',
        2,
      );
      await pause(3000);
    }
    report(
      'memory of all processes after the floods over that before',
      residentMegabytes(pids) / resting,
      'times',
      1.5,
    );
  } finally {
    await client.end();
    shared.destroy();
    hostile.destroy();
    await halt(child);
  }
}
