/**
 * `npm run bench -- --sitting`: 300 people sit an assessment, each with a variant, while processes and the
 * database are killed: how long an act takes, and whether one is lost.
 */
import { randomUUID } from 'node:crypto';
import { seeded } from '../packages/core/test/fixtures/seeded.mjs';
import { pause, quantile } from './lib/measure.mjs';
import { Caller, agent, editing, lost, makeStudents, signIn, signInAll } from './lib/service.mjs';
import { calmOf, killAtRandom, killedWords, onePassword, startedService } from './service.mjs';

const PEOPLE = 300;
const BOARD = 'brine-pump-three-wire';
/** A window tells that it is there, milliseconds. */
const PULSE_MS = 5000;
/** A hand that wires lays a lead in some seconds; this is a busy one. */
const ACTS_A_SECOND = 1;
const WARM_SECONDS = 20;
const QUIET_SECONDS = 40;

const PLAN = {
  title: 'Practical test',
  minutes: 120,
  tasks: [{ kind: 'exercise', exerciseId: BOARD, weight: 100, variants: true }],
};

/** Asks until it is answered: processes die meanwhile. */
async function answered(caller, method, path, body) {
  for (let tries = 0; ; tries += 1) {
    const answer = await caller.ask(method, path, body, 60_000).catch(() => null);
    if (answer && answer.status < 300) return JSON.parse(answer.text || 'null');
    if (answer && answer.status < 500 && answer.status !== 429)
      throw new Error(`${method} ${path}: ${answer.status} ${answer.text.slice(0, 200)}`);
    if (tries > 200) throw new Error(`${method} ${path}: not answered`);
    await pause(200);
  }
}

export async function sitting({ report, note, count = 20 }) {
  const running = await startedService('sitting');
  const shared = agent();
  try {
    const client = await running.connect();
    const load = await makeStudents(client, PEOPLE, BOARD);
    await onePassword(client, load.students);
    await signInAll(running.base, load.students, shared);
    const id = await begun({ client, load, base: running.base, shared });
    await client.end();
    let isOver = false;
    const pulses = windows(load.students, id, () => isOver);
    // What has just been started is slow until it is warm; that is no act of a lesson.
    await editing(load, WARM_SECONDS, ACTS_A_SECOND);
    const quiet = await editing(load, QUIET_SECONDS, ACTS_A_SECOND);
    report(
      `${PEOPLE} people sitting, an act stored, p99 of ${quiet.length}`,
      quantile(
        quiet.map(({ ms }) => ms),
        0.99,
      ),
      'ms',
      250,
    );
    const killing = killAtRandom(running, count, seeded(11));
    const taken = [];
    while (!killing.ended) taken.push(...(await editing(load, 5, ACTS_A_SECOND)));
    isOver = true;
    await Promise.all([killing.done, pulses]);
    await told({ report, note, taken, killed: killing.killed, running, load });
    await handedIn({ report, running, load, id });
  } finally {
    shared.destroy();
    await running.end();
  }
}

/** Sets the assessment, starts everybody, and opens everybody's variant. */
async function begun({ client, load, base, shared }) {
  const instructor = new Caller(base, shared);
  instructor.cookie = (await signIn(base, 'brack')).cookie;
  const { rows } = await client.query('select class_id from assignments where id = $1', [load.assignment]);
  const { id } = await answered(instructor, 'POST', `/classes/${rows[0].class_id}/assessments`, PLAN);
  await answered(instructor, 'POST', `/assessments/${id}/invigilation`, { do: 'start' });
  await Promise.all(
    load.students.map(async (student) => {
      const { attemptId } = await answered(student.caller, 'POST', `/sittings/${id}/tasks/task-1`, {});
      student.attempt = attemptId;
    }),
  );
  const { rows: own } = await client.query('select id, document from attempts where id = any($1)', [
    load.students.map(({ attempt }) => attempt),
  ]);
  const documents = new Map(own.map((row) => [row.id, row.document]));
  for (const student of load.students) student.exercise = documents.get(student.attempt);
  return id;
}

/** Everybody's window asks how the clock stands, until it is over. */
const windows = (students, id, isOver) =>
  Promise.all(
    students.map(async ({ caller }, k) => {
      const window = randomUUID();
      await pause((k / students.length) * PULSE_MS);
      while (!isOver()) {
        await caller.ask('POST', `/sittings/${id}/here`, { window }, 10_000).catch(() => null);
        await pause(PULSE_MS);
      }
    }),
  );

async function told({ report, note, taken, killed, running, load }) {
  const client = await running.connect();
  const ms = (list) => list.map((one) => one.ms);
  const calm = calmOf(taken, killed);
  note(
    `SIGKILLs under ${PEOPLE} people sitting (${taken.length} acts stored)`,
    killedWords(killed),
    `${killed.length}`,
  );
  report('acts lost', await lost(client, load.students), '', 0.5);
  note(
    `acts outside 10 s after a kill, p50 and p99 of ${calm.length}`,
    `${quantile(ms(calm), 0.5).toFixed(0)}, ${quantile(ms(calm), 0.99).toFixed(0)} ms`,
    '',
  );
  note(
    `all acts, those in the seconds after a kill included, p50 and p99 of ${taken.length}`,
    `${quantile(ms(taken), 0.5).toFixed(0)}, ${quantile(ms(taken), 0.99).toFixed(0)} ms`,
    '',
  );
  await client.end();
}

/** Everybody ends the sitting at once, and everything is marked once. */
async function handedIn({ report, running, load, id }) {
  const from = performance.now();
  await Promise.all(
    load.students.map(({ caller }) => answered(caller, 'POST', `/sittings/${id}/hand-in`, {})),
  );
  const client = await running.connect();
  const attempts = load.students.map(({ attempt }) => attempt);
  for (;;) {
    const { rows } = await client.query(
      "select count(*) filter (where state = 'marked')::int as marked, count(*)::int as n from attempts where id = any($1)",
      [attempts],
    );
    if (rows[0].marked === rows[0].n) break;
    await pause(500);
  }
  report(
    `${PEOPLE} sittings ended at once, until all are marked`,
    (performance.now() - from) / 1000,
    's',
    120,
  );
  await client.end();
}
