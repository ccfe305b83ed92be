/**
 * `npm run bench -- --floods`: what a class waits for its edits while one student, or nobody who is known, floods the service: with edits,
 * with a live search, with practices, over the Floor's socket, with uploads that never end, and with guesses.
 */
import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import pg from 'pg';
import { WebSocket } from 'ws';
import { pause, quantile } from './lib/measure.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import { agent, editing, makeStudents, processTree, residentMegabytes, signInAll } from './lib/service.mjs';

const EXERCISE = 'brine-pump-three-wire';
const SECONDS = Number(process.env.FLOOD_SECONDS ?? 60);
const STUDENTS = 30;

/** Does something over and over, so many times at once, until it is told to stop. */
function flood(atOnce, work) {
  let ending = false;
  const loops = Array.from({ length: atOnce }, async (_, k) => {
    while (!ending) {
      try {
        await work(k, () => ending);
      } catch {
        await pause(20);
      }
    }
  });
  return async () => {
    ending = true;
    await Promise.all(loops);
  };
}

/** Says something over a socket as fast as it goes; one that is closed is opened again. */
const spam = (base, cookie, path, message) => (_, ended) =>
  new Promise((resolve) => {
    const socket = new WebSocket(`${base.replace('http', 'ws')}/api${path}`, { headers: { cookie } });
    let n = 0;
    const say = () => {
      if (ended()) socket.terminate();
      if (socket.readyState !== WebSocket.OPEN) return;
      for (let k = 0; k < 50; k += 1) socket.send(JSON.stringify(message((n += 1))));
      setTimeout(say, 5);
    };
    socket.once('open', say);
    socket.once('error', () => resolve());
    socket.once('close', () => resolve());
  });

/** Begins an upload and never ends it. */
const unfinished = (base, cookie) => (_, ended) =>
  new Promise((resolve) => {
    const { hostname, port } = new URL(base);
    const sent = request({
      hostname,
      port,
      path: '/api/library',
      method: 'POST',
      headers: { cookie, 'content-type': 'application/zip', 'content-length': 15_000_000 },
    });
    const timer = setInterval(() => (ended() ? sent.destroy() : sent.write(Buffer.alloc(200_000))), 50);
    const end = () => {
      clearInterval(timer);
      resolve();
    };
    sent.once('response', () => sent.destroy());
    sent.once('error', end);
    sent.once('close', end);
    sent.write('PK');
  });

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
    const FLOODS = {
      'edits, 30 at once': () =>
        flood(30, (k) =>
          one.caller.ask('POST', `/attempts/${one.attempt}/log`, {
            seq: k,
            entry: { kind: 'reading', from: 'G1:L1', to: 'G1:L2' },
          }),
        ),
      'a live search': () =>
        flood(
          3,
          spam(base, seeker.caller.cookie, `/searches/${search.id}/live`, (n) => ({
            n,
            entry: { kind: 'look', what: 'F1' },
          })),
        ),
      'practices, 10 at once': () =>
        flood(10, () =>
          one.caller.ask('POST', '/practice', { exerciseId: 'salt-harrow-electrical-interlock', degree: 2 }),
        ),
      'messages to the Floor': () =>
        flood(
          3,
          spam(base, one.caller.cookie, `/attempts/${one.attempt}/floor`, () => ({
            kind: 'asks',
            yes: true,
          })),
        ),
      'uploads that never end, by a student': () => flood(20, unfinished(base, one.caller.cookie)),
      'uploads that never end, by nobody': () => flood(20, unfinished(base, '')),
      'guesses at passwords, 20 at once': () =>
        flood(20, (k) => one.caller.ask('POST', '/session', { login: `guess-${k}`, password: 'guess' })),
    };
    for (const [name, begin] of Object.entries(FLOODS)) {
      const end = begin();
      await pause(1000);
      const ms = (await editing(load, SECONDS)).map((taken) => taken.ms);
      await end();
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
