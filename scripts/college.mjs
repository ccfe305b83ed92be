/**
 * `npm run bench -- --college`: a college's size: a term's data put back, a mark book in it, forty live
 * benches on the Floor, and dry runs.
 */
import { randomUUID } from 'node:crypto';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { tmpdir } from 'node:os';
import { chromium } from '@playwright/test';
import pg from 'pg';
import { WebSocket } from 'ws';
import { BROWSER } from './lib/browser.mjs';
import { backup, restore } from './lib/keeping.mjs';
import { pause, quantile } from './lib/measure.mjs';
import { halt, launch, launchDemo, serverEnvironment } from './lib/server.mjs';
import { agent, editing, makeStudents, signIn, signInAll } from './lib/service.mjs';

const [CLASSES, STUDENTS, SETTINGS, ATTEMPTS] = [30, 30, 15, 3];
const BENCHES = 40;

/**
 * A term like the demo's, many times over: its marked attempts with their logs and reports, in classes of
 * their own.
 */
export async function fillTerm(client) {
  await client.query(`
    create temp table sources as
      select t.id, a.exercise_id, row_number() over (order by t.id)::int as n
      from attempts t join assignments a on a.id = t.assignment_id join markings m on m.attempt_id = t.id;
    insert into classes (name, term, instructor_id)
      select 'Term ' || k, '2026 autumn', (select id from people where login = 'brack') from generate_series(1, ${CLASSES}) k;
  `);
  await client.query(`
    create temp table term_classes as select id, row_number() over (order by name)::int as k from classes where name like 'Term %';
    insert into people (login, name, role, password)
      select 'term-' || k || '-' || s, 'Student ' || k || ' ' || s, 'student', (select password from people where login = 'skerry')
      from generate_series(1, ${CLASSES}) k, generate_series(1, ${STUDENTS}) s;
    insert into class_members (class_id, student_id)
      select c.id, p.id from term_classes c join people p on p.login like 'term-' || c.k || '-%';
    create temp table chosen as
      select c.id as class_id, g as place, (select o.id from sources o where o.n = 1 + (c.k * 7 + g * 3) % (select count(*)::int from sources)) as source
      from term_classes c, generate_series(1, ${SETTINGS}) g;
    create temp table set_now as
      select gen_random_uuid() as id, c.class_id, c.place, s.exercise_id from chosen c join sources s on s.id = c.source;
    insert into assignments (id, class_id, exercise_id, document, set_by)
      select s.id, s.class_id, s.exercise_id, e.document, (select id from people where login = 'brack')
      from set_now s join exercises e on e.id = s.exercise_id;
    create temp table term as
      select gen_random_uuid() as id, s.id as assignment_id, m.student_id, k as number,
        (select o.id from sources o where o.exercise_id = s.exercise_id order by md5(o.id::text || m.student_id::text || k) limit 1) as source
      from set_now s join class_members m on m.class_id = s.class_id, generate_series(1, ${ATTEMPTS}) k;
    insert into attempts (id, assignment_id, student_id, number, state, started_at, handed_in_at, last_seq)
      select t.id, t.assignment_id, t.student_id, t.number, 'marked', now() - interval '1 day', now(), o.last_seq
      from term t join attempts o on o.id = t.source;
    insert into attempt_log (attempt_id, seq, body, at)
      select t.id, l.seq, l.body, l.at from term t join attempt_log l on l.attempt_id = t.source;
    insert into markings (attempt_id, report, marked_at, score, max, passed, reason, lost, joints)
      select t.id, m.report, m.marked_at, m.score, m.max, m.passed, m.reason, m.lost, m.joints from term t join markings m on m.attempt_id = t.source;
  `);
  const { rows } = await client.query(
    'select (select count(*)::int from term) as attempts, (select count(*)::int from attempt_log) as entries, pg_size_pretty(pg_database_size(current_database())) as size, (select id from term_classes where k = 5) as class',
  );
  return rows[0];
}

/** Backup and restore of a term, and a mark book in what was restored. */
async function term({ cluster, databaseUrl, report, note }) {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const { attempts, entries, size, class: classId } = await fillTerm(client);
  await client.end();
  note(
    'a term: 30 classes, 900 students; attempts, entries of logs, size',
    `${attempts}, ${entries}, ${size}`,
    '40 000 attempts',
  );
  const file = join(tmpdir(), `contactum-${randomUUID()}.backup`);
  let begun = performance.now();
  backup(databaseUrl, file);
  note('backup of it, read back', `${((performance.now() - begun) / 1000).toFixed(1)} s`, '');
  begun = performance.now();
  const { counts } = await restore(databaseUrl, file);
  report('restore of it', (performance.now() - begun) / 1000, 's', 300);
  rmSync(file);
  if (counts.attempts < attempts) throw new Error(`${counts.attempts} attempts were restored`);
  const { child, port } = await launch(
    serverEnvironment({ databaseUrl, sessionSecret: cluster.sessionSecret, port: 0, WEB_PROCESSES: '1' }),
  );
  try {
    const base = `http://127.0.0.1:${port}`;
    const { cookie } = await signIn(base, 'brack');
    const taken = [];
    for (let k = 0; k < 30; k += 1) {
      const from = performance.now();
      const response = await fetch(`${base}/api/classes/${classId}/marks`, { headers: { cookie } });
      const book = await response.json();
      taken.push(performance.now() - from);
      if (response.status !== 200 || book.students.length < STUDENTS) throw new Error('no mark book');
    }
    note('the first mark book asked of a fresh service', `${taken[0].toFixed(0)} ms`, '');
    report('mark book of a class of 30 in it (1 350 attempts), p95 of 30', quantile(taken, 0.95), 'ms', 300);
  } finally {
    await halt(child);
  }
}

/** Forty benches whose students edit twice a second, and the page of the instructor who walks among them. */
async function floor({ cluster, databaseUrl, report, note }) {
  const { child, base } = await launchDemo(cluster, databaseUrl, 2);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const browser = await chromium.launch(BROWSER);
  const benches = [];
  try {
    const load = await makeStudents(client, BENCHES, 'brine-pump-three-wire');
    const shared = agent();
    await signInAll(base, load.students, shared);
    for (const { caller, attempt } of load.students)
      benches.push(
        await new Promise((resolve, reject) => {
          const socket = new WebSocket(`${base.replace('http', 'ws')}/api/attempts/${attempt}/floor`, {
            headers: { cookie: caller.cookie },
          });
          socket.once('open', () => resolve(socket));
          socket.once('error', reject);
        }),
      );
    const { rows } = await client.query('select class_id from assignments where id = $1', [load.assignment]);
    const page = await browser.newPage({ baseURL: base, viewport: { width: 1280, height: 800 } });
    await page.goto('/');
    await page.getByLabel('Name').fill('brack');
    await page.getByLabel('Password').fill('tidewater');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('heading', { name: 'Exercises', level: 1 }).waitFor();
    await page.goto(`/floor/${rows[0].class_id}`);
    await page
      .locator('.bench-tile')
      .nth(BENCHES - 1)
      .waitFor();
    const watched = (seconds) =>
      page.evaluate(
        (milliseconds) =>
          new Promise((resolve) => {
            const tile = document.querySelectorAll('.bench-tile')[20];
            let updates = 0;
            let last = tile.textContent;
            const stamps = [];
            const begun = performance.now();
            const tick = (now) => {
              stamps.push(now);
              if (tile.textContent !== last) {
                updates += 1;
                last = tile.textContent;
              }
              if (now - begun < milliseconds) requestAnimationFrame(tick);
              else resolve({ updates, gaps: stamps.slice(1).map((stamp, k) => stamp - stamps[k]) });
            };
            requestAnimationFrame(tick);
          }),
        seconds * 1000,
      );
    const still = await watched(5);
    const working = editing(load, 16, 2);
    await page
      .locator('.bench-tile')
      .nth(BENCHES - 1)
      .waitFor();
    await pause(2000);
    const seen = await watched(10);
    await working;
    note(
      'Floor of 40 benches: updates a second that one tile shows',
      `${(seen.updates / 10).toFixed(1)}`,
      '2, as its student edits',
    );
    report('Floor of 40 benches: frame, median', quantile(seen.gaps, 0.5), 'ms', 17);
    const longer = ({ gaps }) => (100 * gaps.filter((gap) => gap > 20).length) / gaps.length;
    note(
      'the same page while nothing is told: frames over 20 ms',
      `${longer(still).toFixed(0)} %`,
      'what the machine itself makes',
    );
    report('Floor of 40 benches: frames over 20 ms', longer(seen), '%', 10);
    shared.destroy();
  } finally {
    for (const socket of benches) socket.terminate();
    await browser.close();
    await client.end();
    await halt(child);
  }
}

/** The dry run of one exercise of each family, as its worker does it. */
function dryRuns({ core, report }) {
  for (const id of ['brine-pump-three-wire', 'jog-relay', 'reversing', 'star-delta', 'sequence']) {
    const exercise = core.shippedExercises?.().find((one) => one.id.includes(id)) ?? core.shippedExercise(id);
    if (!exercise) continue;
    const begun = performance.now();
    const tried = [...core.dryRun(exercise)];
    report(`dry run of ${exercise.id}: ${tried.length} wirings`, (performance.now() - begun) / 1000, 's', 10);
  }
}

export async function college({ core, report, note, cluster, ensureDatabase }) {
  const fresh = (name) => ensureDatabase(cluster, `${name}_${randomUUID().replaceAll('-', '')}`);
  dryRuns({ core, report });
  await floor({ cluster, databaseUrl: await fresh('floor'), report, note });
  const databaseUrl = await fresh('term');
  const { child } = await launchDemo(cluster, databaseUrl, 1);
  await halt(child);
  await term({ cluster, databaseUrl, report, note });
}
