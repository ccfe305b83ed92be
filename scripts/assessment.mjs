/**
 * `npm run bench -- --assessment`: what an assessment of a class takes the machine: 30 people start at one
 * moment, wire and hand in; everything is marked, judged, moderated, signed off and released, and the packs
 * of the class are made.
 */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { pause, quantile } from './lib/measure.mjs';
import { SERVER_DIST } from './lib/build.mjs';
import { halt, launchDemo, serverEnvironment } from './lib/server.mjs';
import { Caller, agent, makeStudents, signIn, signInAll } from './lib/service.mjs';

const PEOPLE = 30;
const BOARD = 'brine-pump-three-wire';
const PLAN = {
  title: 'Practical test',
  minutes: 60,
  tasks: [
    { kind: 'exercise', exerciseId: BOARD, weight: 70 },
    {
      kind: 'observed',
      title: 'At the bench',
      weight: 30,
      criteria: [
        {
          title: 'Proves dead',
          levels: [
            { title: 'no', points: 0 },
            { title: 'yes', points: 4 },
          ],
        },
      ],
    },
  ],
};

async function answered(caller, method, path, body) {
  const { status, text } = await caller.ask(method, path, body, 300_000);
  if (status >= 300) throw new Error(`${method} ${path}: ${status} ${text.slice(0, 200)}`);
  return text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text;
}

export async function assessment({ report, cluster, ensureDatabase }) {
  const databaseUrl = await ensureDatabase(cluster, `assessed_${randomUUID().replaceAll('-', '')}`);
  const { child, base } = await launchDemo(cluster, databaseUrl, 1);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const env = serverEnvironment({ databaseUrl, sessionSecret: 'bench', port: 0 });
    spawnSync(process.execPath, [join(SERVER_DIST, 'admin.mjs'), 'key'], { env });
    const shared = agent();
    const { students, assignment } = await makeStudents(client, PEOPLE, 'button-lamp-no');
    await signInAll(base, students, shared);
    const instructor = new Caller(base, shared);
    instructor.cookie = (await signIn(base, 'brack')).cookie;
    const { rows } = await client.query('select class_id from assignments where id = $1', [assignment]);
    const { id } = await answered(instructor, 'POST', `/classes/${rows[0].class_id}/assessments`, PLAN);
    await answered(instructor, 'POST', `/assessments/${id}/invigilation`, { do: 'start' });
    const begun = performance.now();
    const acts = [];
    await Promise.all(students.map((student) => sit(client, id, student, acts)));
    await marked(instructor, id);
    const inRoom = performance.now();
    await examined(instructor, id);
    const packs = await instructor.ask('GET', `/assessments/${id}/packs.zip`, undefined, 300_000);
    if (packs.status !== 200) throw new Error(`packs: ${packs.status} ${packs.text.slice(0, 200)}`);
    const seconds = (performance.now() - begun) / 1000;
    report(
      `${PEOPLE} people wire at once: a lead stored, p99 of ${acts.length}`,
      quantile(acts, 0.99),
      'ms',
      250,
    );
    report(
      `class of ${PEOPLE} marked (${((inRoom - begun) / 1000).toFixed(0)} s with wiring), judged, ` +
        'moderated, released, packs made',
      seconds,
      's',
      120,
    );
  } finally {
    await client.end();
    await halt(child);
  }
}

/** Wires the own variant right but for a lead of some, and hands in. */
async function sit(client, id, { caller }, acts) {
  const { attemptId } = await answered(caller, 'POST', `/sittings/${id}/tasks/task-1`, {});
  const { rows } = await client.query(
    "select document->'reference' as reference from attempts where id = $1",
    [attemptId],
  );
  const [{ reference }] = rows;
  const wires = Number.parseInt(attemptId.slice(0, 2), 16) % 3 === 0 ? reference.slice(0, -1) : reference;
  for (const [k, wire] of wires.entries()) {
    const sent = performance.now();
    await answered(caller, 'POST', `/attempts/${attemptId}/log`, {
      seq: k + 1,
      entry: { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } },
    });
    acts.push(performance.now() - sent);
  }
  await answered(caller, 'POST', `/sittings/${id}/hand-in`, {});
}

async function marked(instructor, id) {
  for (;;) {
    const { sittings } = await answered(instructor, 'GET', `/assessments/${id}`);
    if (sittings.every(({ attempts }) => attempts.every(({ state }) => state === 'marked'))) return;
    await pause(500);
  }
}

/** Everybody's level, the moderator's sample, sign-off and release. */
async function examined(instructor, id) {
  const { sittings } = await answered(instructor, 'GET', `/assessments/${id}`);
  for (const { student } of sittings)
    await answered(instructor, 'PUT', `/assessments/${id}/levels`, {
      student: student.id,
      task: 'task-2',
      criterion: 'criterion-1',
      level: 1,
    });
  const { sample } = await answered(instructor, 'GET', `/assessments/${id}`);
  for (const { id: student } of sample)
    await answered(instructor, 'PUT', `/assessments/${id}/reviews`, { student, verdict: 'confirmed' });
  await answered(instructor, 'POST', `/assessments/${id}/sign-off`, {});
  await answered(instructor, 'POST', `/assessments/${id}/release`, {});
}
