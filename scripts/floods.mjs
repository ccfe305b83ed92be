/**
 * `npm run bench -- --floods`: what a class waits for its edits while one student, or nobody who is known, floods the service: with edits,
 * with a live search, with practices, over the Floor's socket, with uploads that never end, and with
 * guesses.
 */
import { randomUUID } from 'node:crypto';
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import pg from 'pg';
import { WebSocket } from 'ws';
import { pause, quantile } from './lib/measure.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import {
  agent,
  editing,
  makeStudents,
  processTree,
  residentMegabytes,
  signIn,
  signInAll,
} from './lib/service.mjs';

const EXERCISE = 'brine-pump-three-wire';
const SECONDS = Number(process.env.FLOOD_SECONDS ?? 60);
const STUDENTS = 30;

/**
 * A flood by a process of its own, which steps back behind the service: whoever floods does it from another
 * machine.
 */
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

const MINUTES = Number(process.env.SOAK_MINUTES ?? 60);
/** Seconds between two looks at the memory. */
const LOOK = 15;

/**
 * `npm run bench -- --soak`: a class of 60 at its benches with its instructor on the Floor, for an hour
 * (`SOAK_MINUTES`): the memory of the whole service at its end over that after the first sixth, when
 * everything was used once.
 */
export async function soak({ report, note, cluster, ensureDatabase }) {
  const databaseUrl = await ensureDatabase(cluster, `soak_${randomUUID().replaceAll('-', '')}`);
  const { child, base } = await launchDemo(cluster, databaseUrl, 2);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const shared = agent();
  const sockets = [];
  const open = (cookie, path) => {
    const socket = new WebSocket(`${base.replace('http', 'ws')}/api${path}`, { headers: { cookie } });
    socket.on('message', () => undefined);
    socket.on('error', () => undefined);
    sockets.push(socket);
    return socket;
  };
  try {
    const load = await makeStudents(client, 60, EXERCISE);
    await signInAll(base, load.students, shared);
    for (const { caller, attempt } of load.students) open(caller.cookie, `/attempts/${attempt}/floor`);
    const { cookie } = await signIn(base, 'brack');
    const { rows } = await client.query('select class_id from assignments where id = $1', [load.assignment]);
    const floor = open(cookie, `/classes/${rows[0].class_id}/floor`);
    const pids = processTree(child.pid);
    const seen = [];
    const begun = performance.now();
    const sampling = setInterval(() => {
      seen.push(residentMegabytes(pids));
      // Over another shoulder each time.
      const { attempt } = load.students[seen.length % load.students.length];
      if (floor.readyState === WebSocket.OPEN)
        floor.send(JSON.stringify({ kind: 'watch', attemptId: attempt }));
    }, LOOK * 1000);
    while (performance.now() - begun < MINUTES * 60_000) await editing(load, 30, 0.5);
    clearInterval(sampling);
    const sixth = Math.max(1, Math.floor(seen.length / 6));
    const early = quantile(seen.slice(sixth, 2 * sixth), 0.5);
    const late = quantile(seen.slice(-sixth), 0.5);
    note(
      `memory of the service by time, ${MINUTES} minutes of a class of 60`,
      seen
        .filter((_, k) => k % Math.ceil(seen.length / 12) === 0)
        .map((mb) => mb.toFixed(0))
        .join(' '),
      'MB, flat',
    );
    report('memory at the end over that after the first sixth', late / early, 'times', 1.1);
  } finally {
    for (const socket of sockets) socket.terminate();
    await client.end();
    shared.destroy();
    await halt(child);
  }
}
