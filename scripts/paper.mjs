/** `npm run bench -- --paper`: dead-test tables, PDFs, and a day of bench sheets that is sent at once. */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { pause } from './lib/measure.mjs';
import { ROOT } from './lib/paths.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import { agent, makeStudents, Caller } from './lib/service.mjs';

const BOARDS = 40;
const STAR_DELTA = 'blower-star-delta-main-from-start';
/** Runs of which the quickest counts: the rest is what else the machine did. */
const RUNS = 3;

function tables(core, report) {
  const bench = core.referenceBench(core.shippedExercise(STAR_DELTA));
  let best = Number.POSITIVE_INFINITY;
  let table;
  for (let k = 0; k < RUNS; k += 1) {
    const begun = performance.now();
    table = core.deadTestTable(bench);
    best = Math.min(best, performance.now() - begun);
  }
  const { tests, bound, mistakes, unseen } = table;
  report(`dead-test table of the star-delta board, ${mistakes} single mistakes`, best / 1000, 's', 5);
  report(
    `its ${tests.length} readings over the ${bound} that no table is shorter than (${unseen.length} mistakes show on no dead board)`,
    tests.length / bound,
    'times',
    2,
  );
}

/** A bench sheet with its drawing: the command as a whole, and the writing of the PDF alone. */
function pdf(core, report) {
  const folder = mkdtempSync(join(tmpdir(), 'contactum-paper-'));
  try {
    for (const id of ['brine-pump-three-wire', STAR_DELTA]) {
      const file = join(folder, `${id}.json`);
      writeFileSync(file, JSON.stringify(core.shippedExercise(id)));
      const command = (...words) => {
        const begun = performance.now();
        const { status, stderr } = spawnSync(
          process.execPath,
          [join(ROOT, 'packages', 'cli', 'bin', 'contactum.mjs'), ...words],
          { encoding: 'utf8' },
        );
        if (status !== 0) throw new Error(stderr);
        return performance.now() - begun;
      };
      const least = (...words) => Math.min(...Array.from({ length: RUNS }, () => command(...words)));
      command('check', file);
      // What is before the sheet: the program is started, and the dead-test table is made.
      const before = least('export', file, '--to', 'dead-tests');
      const whole = least('export', file, '--to', 'sheet', '--out', join(folder, 'sheet.pdf'));
      report(
        `PDF of a bench sheet with drawing, ${id}, once its dead-test table is made`,
        (whole - before) / 1000,
        's',
        1.5,
      );
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** A day without a network: forty sheets with photographs, sent at once. */
async function day({ core, report, cluster, databaseUrl }) {
  const { child, base } = await launchDemo(cluster, databaseUrl, 1);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const shared = agent();
  try {
    const load = await makeStudents(client, BOARDS, 'brine-pump-three-wire');
    await client.query("update attempts set state = 'marked' where id = any($1)", [
      load.students.map(({ attempt }) => attempt),
    ]);
    const caller = new Caller(base, shared);
    await caller.ask('POST', '/session', { login: 'brack', password: 'tidewater' });
    const { sheet } = JSON.parse((await caller.ask('GET', `/assignments/${load.assignment}/sheet`)).text);
    const entries = {
      ...core.NOTHING_ENTERED,
      dead: Object.fromEntries(
        sheet.deadTests.tests.map(({ expect, ohms }, k) => [k, typeof expect === 'string' ? expect : ohms]),
      ),
      functions: Object.fromEntries(
        sheet.functions.map(({ id, rows }) => [
          id,
          Object.fromEntries(rows.map((_, k) => [k, 'as expected'])),
        ]),
      ),
      checks: Object.fromEntries(sheet.checks.map(({ part, id }) => [`${part}/${id}`, true])),
    };
    const photo = { type: 'image/jpeg', base64: Buffer.alloc(200_000, 7).toString('base64') };
    const begun = performance.now();
    const attempts = [];
    // One after another, as a tablet sends them.
    for (const { id: studentId } of load.students) {
      const answer = await caller.ask('POST', `/assignments/${load.assignment}/sheets`, {
        id: randomUUID(),
        studentId,
        entries,
        photo,
      });
      if (answer.status !== 201) throw new Error(answer.text);
      attempts.push(JSON.parse(answer.text).attemptId);
    }
    report(
      `${BOARDS} bench sheets with photographs of 200 kB sent, one after another`,
      (performance.now() - begun) / 1000,
      's',
      10,
    );
    let rows = [];
    for (let waited = 0; waited < 120 && rows.length < BOARDS; waited += 1) {
      await pause(250);
      ({ rows } = await client.query('select attempt_id from markings where attempt_id = any($1)', [
        attempts,
      ]));
    }
    report('of these not marked', BOARDS - rows.length, '', 0.5);
    report('until the last is marked', (performance.now() - begun) / 1000, 's', 30);
  } finally {
    await client.end();
    shared.destroy();
    await halt(child);
  }
}

export async function paper({ core, report, cluster, ensureDatabase }) {
  tables(core, report);
  pdf(core, report);
  const databaseUrl = await ensureDatabase(cluster, `paper_${randomUUID().replaceAll('-', '')}`);
  await day({ core, report, cluster, databaseUrl });
}
