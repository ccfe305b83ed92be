/**
 * `npm run bench`: the speeds that Contactum promises, measured in the real thing: the engine as a bundle,
 * the server as a process over PostgreSQL, the browser application in Chromium. Prints each figure beside
 * what it must be.
 */
import { randomUUID } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { seeded } from '../packages/core/test/fixtures/seeded.mjs';
import { breakage } from './lib/breakages.mjs';
import { BROWSER } from './lib/browser.mjs';
import { buildServer, buildWeb } from './lib/build.mjs';
import { loadCore, value } from './lib/core.mjs';
import { checkNode, ensureChromium, ensurePackages, ensurePostgres } from './lib/install.mjs';
import { largeBoard, largePromela } from './lib/large-board.mjs';
import { openLargeBench, press } from './lib/live-bench.mjs';
import { quantile, watchStolen } from './lib/measure.mjs';
import { ROOT, dataFolder, tellAndExit } from './lib/paths.mjs';
import { ensureDatabase, findBinaries, startCluster } from './lib/postgres.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import { laying, putLog, sessionOf, shipped } from './lib/service.mjs';
import { faults, liveBenches } from './faults.mjs';
import { college } from './college.mjs';
import { doors } from './doors.mjs';
import { floods, soak } from './floods.mjs';
import { assessment } from './assessment.mjs';
import { memory } from './memory.mjs';
import { moment } from './moment.mjs';
import { paper } from './paper.mjs';
import { kills, service } from './service.mjs';
import { failover } from './failover.mjs';
import { scanner } from './scanner.mjs';
import { sitting } from './sitting.mjs';

const CASES = join(ROOT, 'packages', 'core', 'test', 'fixtures', 'cases');
const rows = [];

/** Kept for the table at the end, and told at once: the whole takes long. */
function keep(row) {
  rows.push(row);
  console.log(`${row.figure}: ${row.measured}, ${row['must be']}: ${row.verdict}`);
}

function report(figure, value, unit, limit) {
  const good = value <= limit;
  keep({
    figure,
    measured: `${value.toFixed(value < 10 ? 2 : 0)} ${unit}`,
    'must be': `under ${limit} ${unit}`,
    verdict: good ? 'met' : 'MISSED',
  });
}

function atLeast(figure, value, unit, limit) {
  keep({
    figure,
    measured: `${value.toFixed(0)} ${unit}`,
    'must be': `at least ${limit} ${unit}`,
    verdict: value >= limit ? 'met' : 'MISSED',
  });
}

/** Milliseconds of each of `rounds` calls after a warm-up. */
function times(work, rounds = 200, warm = 200) {
  for (let k = 0; k < warm; k += 1) work();
  return Array.from({ length: rounds }, () => {
    const begun = performance.now();
    work();
    return performance.now() - begun;
  });
}

async function engine() {
  const core = await loadCore();
  const load = (name) => JSON.parse(readFileSync(join(CASES, name), 'utf8'));
  const seal = load('run-seal-ref.json');
  const [bench, script] = [value(core.readBench(seal.bench)), value(core.readScript(seal.script))];
  report(
    'run of the seal-in script, median of 200',
    quantile(
      times(() => core.run(bench, script.steps)),
      0.5,
    ),
    'ms',
    5,
  );
  const reversing = value(core.readBench(load('prove-rev-electrical.json').bench));
  report(
    'prove of the reversing board, complete, median of 200',
    quantile(
      times(() => core.prove(reversing)),
      0.5,
    ),
    'ms',
    100,
  );
  const exercises = core.shippedExercises();
  boards(core, exercises);
  if (process.argv.includes('--boards')) return;
  proofs(core, exercises);
  explained(core, exercises, value(core.readBench(largeBoard(4))));
  const board = (count) => value(core.readBench(largeBoard(count)));
  starters(core, board);
  againstSpin(core, board);
  controllers(core, exercises);
  const wired = exercises.filter(({ reference }) => reference.length > 0);
  grades(core, wired);
  repairs(core, wired);
  engineInTime(core, value(core.readBench(load('run-sd-ref.json').bench)));
}

/** Proof and equivalence of every shipped board; the slowest board counts. */
function proofs(core, exercises) {
  let [prove, compare] = [0, 0];
  for (const exercise of exercises) {
    const bench = core.referenceBench(exercise);
    const median = (work) => quantile(times(work, 15, 60), 0.5);
    prove = Math.max(
      prove,
      median(() => core.prove(bench)),
    );
    compare = Math.max(
      compare,
      median(() => core.compare(bench, bench, { observe: exercise.observe })),
    );
  }
  report(`prove, slowest of ${exercises.length} shipped boards`, prove, 'ms', 2);
  report(`compare, slowest of ${exercises.length} shipped boards`, compare, 'ms', 5);
}

/**
 * What a student is told while wiring: the proof after each lead of each reference, in its order; and why
 * each coil, lamp and motor is as it is, at rest and after each hand of each behaviour.
 */
function explained(core, exercises, large) {
  const timed = (work) => times(work, 1, 0)[0];
  let slowest = 0;
  const why = [];
  for (const { bench, reference, behaviours } of exercises) {
    if (reference.length === 0) continue;
    const wirings = reference.map((_, k) => ({
      ...bench,
      wires: [...bench.wires, ...reference.slice(0, k + 1)],
    }));
    core.provedSoFar(wirings.at(-1) ?? bench, behaviours);
    const proofs = wirings.map((wiring) => timed(() => core.provedSoFar(wiring, behaviours)));
    slowest = Math.max(slowest, quantile(proofs, 0.95));
    const live = new core.LiveBench();
    live.load(wirings.at(-1) ?? bench, { supplyOn: true });
    const ask = () => {
      for (const { tag } of bench.devices) why.push(timed(() => core.whyNow(live, tag)));
    };
    ask();
    for (const step of behaviours.flatMap(({ steps }) => steps).filter((one) => !('expect' in one))) {
      live.work(step);
      ask();
    }
  }
  report(
    `live proof after a lead, p95 of the slowest of ${exercises.length} shipped boards`,
    slowest,
    'ms',
    100,
  );
  const p95 = quantile(
    times(() => core.provedSoFar(large, []), 20, 2),
    0.95,
  );
  report('live proof of a board of four reversing starters, 70 contacts, p95', p95, 'ms', 300);
  report(`explain, slowest of ${why.length} questions on shipped boards`, Math.max(...why), 'ms', 20);
}

/** Complete proofs of large boards against SPIN's compiled verifier on a model of the same board. */
function againstSpin(core, board) {
  if (spawnSync('sh', ['-c', 'command -v spin && command -v gcc']).status !== 0) {
    rows.push({
      figure: 'complete proof against SPIN',
      measured: 'spin or gcc is not installed',
      'must be': 'at least 1 times',
      verdict: 'not measured',
    });
    return;
  }
  const spun = (starters, ours) => {
    const place = join(ROOT, '.cache', 'bench', `spin-${starters}`);
    mkdirSync(place, { recursive: true });
    writeFileSync(join(place, 'board.pml'), largePromela(starters));
    const run = (command, args) => spawnSync(command, args, { cwd: place, encoding: 'utf8' });
    run('spin', ['-a', 'board.pml']);
    run('gcc', ['-O2', '-DSAFETY', '-o', 'pan', 'pan.c']);
    const rounds = Array.from({ length: 3 }, () => {
      const told = run('./pan', ['-m2000000', '-w22']).stdout;
      const states = Number(/(\d+) states, stored/.exec(told)?.[1] ?? Number.NaN);
      // Its own clock, which leaves out its start.
      const seconds = Number(/elapsed time ([\d.]+) seconds/.exec(told)?.[1] ?? Number.NaN);
      const rate = Number(/rate +([\d.]+) states/.exec(told)?.[1] ?? Number.NaN);
      return { states, seconds, rate };
    });
    const best = rounds.reduce((one, other) => (other.seconds < one.seconds ? other : one));
    return { ...best, ours: Math.min(...times(ours, 5, 2)) / 1000 };
  };
  for (const [starters, least] of [
    [4, 50],
    [5, 500],
  ]) {
    const bench = board(starters);
    const { states, seconds, ours } = spun(starters, () => core.prove(bench));
    atLeast(
      `complete proof of ${starters} starters, ${(ours * 1000).toFixed(1)} ms, against SPIN's ${states} states in ${seconds} s`,
      seconds / ours,
      'times',
      least,
    );
  }
  // One starter has too few states for SPIN's clock: four, worked as one part, stand for the rate.
  const four = board(4);
  const { situations } = core.prove(four, { asOne: true });
  const { states, seconds, rate, ours } = spun(4, () => core.prove(four, { asOne: true }));
  const theirs = Number.isFinite(rate) ? rate : states / seconds;
  atLeast(
    `situations a second without parts, four starters (${situations}), against SPIN's ${states}`,
    situations / ours / theirs,
    'times',
    3,
  );
}

/** What one more starter costs: each is a part of its own. */
function starters(core, board) {
  for (const [count, most] of [
    [1, 10],
    [4, 10],
    [5, 15],
    [8, 40],
    [12, 100],
  ]) {
    const bench = board(count);
    const taken = quantile(
      times(() => core.prove(bench), 15, 5),
      0.5,
    );
    report(`complete proof of ${count} reversing starters behind one Stop, median of 15`, taken, 'ms', most);
  }
}

/** Boards whose logic is in a controller. */
function controllers(core, exercises) {
  for (const [id, most] of [
    ['salt-harrow-controller', 100],
    ['blower-controller-star-delta', 200],
  ]) {
    const bench = core.referenceBench(exercises.find((one) => one.id === id));
    const taken = quantile(
      times(() => core.prove(bench), 9, 3),
      0.5,
    );
    report(`prove of ${id}`, taken, 'ms', most);
  }
  const solver = new core.Solver(
    core.compile(core.referenceBench(exercises.find((one) => one.id === 'brine-pump-controller'))),
  );
  report('200 live benches with a running program', manyBenches(core, solver), 'of a core', 0.5);
}

/** Processor of 200 benches at thirty updates a second, each pressed every three seconds, of a core. */
function manyBenches(core, solver, begin = () => new core.Simulation(solver)) {
  const benches = Array.from({ length: 200 }, begin);
  const cpu = process.cpuUsage();
  for (let k = 0; k < 300; k += 1) {
    benches.forEach((simulation, n) => {
      const control = n % 2 ? 'S1' : 'S2';
      if ((k + n) % 90 === 0) simulation.apply({ press: control });
      if ((k + n) % 90 === 6) simulation.apply({ release: control });
      simulation.advance(simulation.t + 1 / 30);
    });
  }
  const { user, system } = process.cpuUsage(cpu);
  return (user + system) / 1e6 / 10;
}

/** Whole reports with tolerance: each reference, and each with one wire wrong. */
/** Laying leads, and drawing what is wired. */
function boards(core, exercises) {
  const largest = core.referenceBench(exercises.find(({ id }) => id === 'blower-star-delta-reversing'));
  const leads = [];
  for (let k = 0; leads.length < 80; k += 1) {
    const { from, to } = largest.wires[k % largest.wires.length];
    leads.push({ key: `w${k}`, from, to });
  }
  report(
    'routing 80 leads, p95',
    quantile(
      times(() => core.layLeads(largest, leads), 60, 20),
      0.95,
    ),
    'ms',
    100,
  );
  const laid = core.layLeads(largest, leads);
  const more = [...leads, { key: 'more', from: 'S1:21', to: 'KM3:A1' }];
  report(
    'routing one more lead, p95',
    quantile(
      times(() => core.relayLeads(largest, laid, more), 100, 20),
      0.95,
    ),
    'ms',
    16,
  );
  const draws = exercises.flatMap((exercise) =>
    ['iec', 'us'].map((form) =>
      quantile(
        times(() => core.drawingOf(core.referenceBench(exercise), form), 5, 2),
        0.5,
      ),
    ),
  );
  report(
    `drawing, slowest of ${exercises.length} shipped boards in both forms`,
    Math.max(...draws),
    'ms',
    100,
  );
  const terminals = core.terminalsOf(largest);
  let seed = 7;
  const random = () => {
    seed = (seed * 16_807) % 2_147_483_647;
    return seed / 2_147_483_647;
  };
  const any = () => terminals[Math.floor(random() * terminals.length)];
  const wild = Array.from({ length: 40 }, () => {
    const wires = Array.from({ length: 70 }, () => ({ from: any(), to: any() })).filter(
      ({ from, to }) => from !== to,
    );
    const begun = performance.now();
    core.drawingOf({ ...largest, wires }, 'iec');
    return performance.now() - begun;
  });
  report('drawing of a random wiring of 70 leads, longest of 40', Math.max(...wild), 'ms', 300);
}

function grades(core, exercises) {
  const taken = [];
  for (const exercise of exercises) {
    const random = seeded(5);
    const boards = [
      core.referenceBench(exercise),
      ...Array.from({ length: 4 }, () => breakage(core, exercise, 1, random, () => true).bench),
    ];
    for (const bench of boards) taken.push(...times(() => core.grade(exercise, bench), 3, 1));
  }
  report(`grade with tolerance, p95 of ${taken.length}`, quantile(taken, 0.95), 'ms', 60);
}

/** Repair of boards with one, two and three wires wrong; every one must be found within as many edits. */
function repairs(core, exercises) {
  for (const [wrong, each, seconds] of [
    [1, 12, 0.05],
    [2, 8, 0.5],
    [3, 4, 2],
  ]) {
    const taken = [];
    let missed = 0;
    for (const exercise of exercises) {
      const random = seeded(100 + wrong);
      for (let k = 0; k < each; k += 1) {
        const fails = (bench) => !core.repair(core.repairTask(exercise, bench), { most: 0 }).found;
        const { bench } = breakage(core, exercise, wrong, random, fails);
        const begun = performance.now();
        if (!core.repair(core.repairTask(exercise, bench), { most: wrong }).found) missed += 1;
        taken.push((performance.now() - begun) / 1000);
      }
    }
    const longest = Math.max(...taken).toFixed(1);
    report(
      `repair of ${wrong} wrong, p95 of ${taken.length} (longest ${longest} s, not found ${missed})`,
      quantile(taken, 0.95),
      's',
      seconds,
    );
  }
}

/**
 * The engine in time: a start against ngspice's transient in the same run, steady running, many benches at
 * once.
 */
function engineInTime(core, starDelta) {
  const solver = new core.Solver(core.compile(starDelta));
  const start = () => {
    const simulation = new core.Simulation(solver);
    simulation.apply({ press: 'S2' });
    simulation.settle();
    simulation.apply({ release: 'S2' });
    simulation.advance(12);
    return simulation;
  };
  const ours = quantile(times(start, 30, 10), 0.5);
  const deck = join(
    ROOT,
    'packages',
    'core',
    'test',
    'fixtures',
    'ngspice',
    'transient',
    'star-delta-start.cir',
  );
  if (existsSync(deck) && spawnSync('sh', ['-c', 'command -v ngspice']).status === 0) {
    const begun = performance.now();
    const { status } = spawnSync('ngspice', ['-b', deck], { stdio: 'ignore' });
    const theirs = performance.now() - begun;
    if (status === 0)
      atLeast(
        `star-delta start of 12 s against ngspice (${ours.toFixed(1)} ms, ${(theirs / 1000).toFixed(1)} s)`,
        theirs / ours,
        'times',
        200,
      );
  }

  const running = start();
  report(
    'one hour of simulated running, median',
    quantile(
      times(() => running.advance(running.t + 3600), 20, 3),
      0.5,
    ),
    'ms',
    200,
  );

  // Thirty devices, running steadily, looked at thirty times a second as a live bench is.
  const lamps = Array.from({ length: 19 }, (_, k) => `H${k + 1}`);
  const large = {
    ...starDelta,
    devices: [
      ...starDelta.devices,
      ...lamps.map((tag) => ({ tag, type: 'lamp', options: { voltage: 230, kind: 'ac' }, settings: {} })),
    ],
    wires: [
      ...starDelta.wires,
      ...lamps.flatMap((tag) => [
        { from: 'KM1:14', to: `${tag}:X1` },
        { from: `${tag}:X2`, to: 'G1:N' },
      ]),
    ],
  };
  const live = new core.Simulation(new core.Solver(core.compile(large)));
  live.apply({ press: 'S2' });
  live.settle();
  live.advance(20);
  const begun = performance.now();
  const from = live.t;
  while (live.t < from + 2000) live.advance(live.t + 1 / 30);
  atLeast(
    `simulated seconds a second, ${large.devices.length} devices, steady, in steps of a thirtieth`,
    (live.t - from) / ((performance.now() - begun) / 1000),
    's',
    5000,
  );

  // Two hundred benches, thirty updates a second each, for ten seconds; each is pressed every three seconds.
  report('200 live benches at 30 updates a second', manyBenches(core, solver, start), 'of a core', 0.5);
}

/** A signed-in session over HTTP. */
async function session(base, login) {
  const response = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: 'tidewater' }),
  });
  const cookie = sessionOf(response.headers.getSetCookie());
  return async (method, path, body) => {
    const send = () =>
      fetch(`${base}/api${path}`, {
        method,
        headers: { cookie, ...(body ? { 'content-type': 'application/json' } : {}) },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
    // A connection that was idle may be closed by the server at the moment at which it is used again.
    const answer = await send().catch((error) => {
      if (error.cause?.code !== 'UND_ERR_SOCKET' && error.cause?.code !== 'ECONNRESET') throw error;
      return send();
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return answer.json();
  };
}

/** Two hundred attempts, one after another: from handing in until the slip is there. */
async function grading(base, databaseUrl) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const exercise = await shipped(client, 'salt-harrow-electrical-interlock');
  const { rows: found } = await client.query(
    "select a.id, p.id as student from assignments a join class_members m on m.class_id = a.class_id join people p on p.id = m.student_id where a.exercise_id = $1 and p.login = 'skerry'",
    [exercise.id],
  );
  const { id: assignment, student } = found[0];
  const ask = await session(base, 'skerry');
  const taken = [];
  for (let k = 0; k < 210; k += 1) {
    const attempt = randomUUID();
    await client.query(
      "insert into attempts (id, assignment_id, student_id, number, state) values ($1, $2, $3, $4, 'open')",
      [attempt, assignment, student, 1000 + k],
    );
    const wires = exercise.reference.filter((_, n) => k % 3 !== 0 || n !== k % exercise.reference.length);
    await putLog(client, attempt, laying(wires));
    const begun = performance.now();
    await ask('POST', `/attempts/${attempt}/hand-in`, {});
    for (;;) {
      const slip = await ask('GET', `/attempts/${attempt}/slip`);
      if (slip.report) break;
      await new Promise((resolve) => setTimeout(resolve, 15));
    }
    if (k >= 10) taken.push(performance.now() - begun);
  }
  report('grading one attempt on the server, hand-in to slip, p95 of 200', quantile(taken, 0.95), 'ms', 250);
  await allAtOnce({ base, client, exercise, assignment });
  await client.end();
}

/**
 * Two hundred hand-ins at one moment: until the last is marked, and how long the exercises page waits
 * meanwhile.
 */
async function allAtOnce({ base, client, exercise, assignment }) {
  // A class between them: one person who hands in two hundred times is asked to wait.
  const { rows: members } = await client.query(
    `select p.id, p.login from assignments a
       join class_members m on m.class_id = a.class_id join people p on p.id = m.student_id
       where a.id = $1 order by p.login`,
    [assignment],
  );
  const asks = await Promise.all(members.map(({ login }) => session(base, login)));
  const attempts = [];
  for (let k = 0; k < 200; k += 1) {
    const attempt = randomUUID();
    attempts.push(attempt);
    await client.query(
      "insert into attempts (id, assignment_id, student_id, number, state) values ($1, $2, $3, $4, 'open')",
      [attempt, assignment, members[k % members.length].id, 5000 + k],
    );
    const wires = exercise.reference.filter((_, n) => n !== k % exercise.reference.length);
    await putLog(client, attempt, laying(wires));
  }
  const page = await session(base, 'osier');
  const waits = [];
  let marked = false;
  const looking = (async () => {
    while (!marked) {
      const begun = performance.now();
      await page('GET', '/exercises');
      waits.push(performance.now() - begun);
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  })();
  // What is refused is told, not what comes of it for the page that looks on.
  looking.catch(() => undefined);
  const begun = performance.now();
  await Promise.all(
    attempts.map((attempt, k) => asks[k % asks.length]('POST', `/attempts/${attempt}/hand-in`, {})),
  );
  for (;;) {
    const { rows: left } = await client.query(
      "select count(*)::int as n from attempts where id = any($1) and state <> 'marked'",
      [attempts],
    );
    if (left[0].n === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  const seconds = (performance.now() - begun) / 1000;
  marked = true;
  await looking;
  report('200 hand-ins at one moment, until the last is marked', seconds, 's', 8);
  report(
    `the interface meanwhile, p95 of ${waits.length} requests (longest ${Math.max(...waits).toFixed(0)} ms)`,
    quantile(waits, 0.95),
    'ms',
    200,
  );
}

async function browser(base) {
  const { chromium } = await import('@playwright/test');
  const instance = await chromium.launch(BROWSER);
  try {
    const page = await (await instance.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(base);
    const id = await page.evaluate(async () => {
      const post = (path, body) =>
        fetch(`/api${path}`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        }).then((answer) => answer.json());
      await post('/session', { login: 'brine', password: 'tidewater' });
      const exercises = await fetch('/api/exercises').then((answer) => answer.json());
      const harrow = exercises.find((one) => one.id === 'salt-harrow-electrical-interlock');
      const attempt = await post(`/assignments/${harrow.assigned[0].id}/attempts`, {});
      const log = (await fetch(`/api/attempts/${attempt.id}`).then((answer) => answer.json())).log;
      // Sixty leads on the board.
      const poles = ['1', '2', '3', '4', '5', '6'];
      for (let k = log.length; k < 60; k += 1) {
        const wire = { from: `KM1:${poles[k % 6]}`, to: `KM2:${poles[(k * 5 + 1) % 6]}`, colour: 'red' };
        await post(`/attempts/${attempt.id}/log`, {
          seq: k + 1,
          entry: { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } },
        });
      }
      return attempt.id;
    });
    const scripts = new Map();
    page.on('response', async (response) => {
      const url = response.url();
      if (url.endsWith('.js')) scripts.set(url, await response.body().catch(() => Buffer.alloc(0)));
    });
    await page.goto(`${base}/bench/${id}`);
    await page.locator('[data-lead]').nth(59).waitFor();
    // The proof of what is wired already comes a moment after the board, and is counted.
    await page.waitForTimeout(5000);
    const bytes = [...scripts.values()].reduce((sum, body) => sum + gzipSync(body).length, 0);
    report(`JavaScript of the Bench's first load, gzip, ${scripts.size} files`, bytes / 1000, 'kB', 400);

    const at = async (ref) => {
      const box = await page.locator(`[data-terminal="${ref}"] .screw`).boundingBox();
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    };
    const from = await at('F1:1');
    await page.mouse.click(from.x, from.y);
    // Frames while the lead follows the pointer: five drags of three seconds each.
    const drags = [];
    for (let round = 0; round < 5; round += 1) drags.push(await drag(page, from));
    const all = drags.flatMap(({ gaps }) => gaps);
    const longest = drags.map(({ gaps }) => Math.max(...gaps));
    report('frame while dragging with 60 leads, median of all', quantile(all, 0.5), 'ms', 17);
    report('longest frame of a drag of three seconds, median of five', quantile(longest, 0.5), 'ms', 32);
    const late = all.filter((gap) => gap > 32).length;
    rows.push({
      figure: 'frames over 32 ms in all five drags',
      measured: `${late} of ${all.length}`,
      'must be': '',
      verdict: `longest ${longest.map((gap) => gap.toFixed(0)).join(', ')} ms`,
    });
    await liveBoard(base, instance);
  } finally {
    await instance.close();
  }
}

/** A large board that runs: 80 leads, four contactors that switch, a drawing beside it. */
async function liveBoard(base, instance) {
  const page = await openLargeBench(base, instance);
  await clicks(page);
  await views(page);
  await running(page);
}

/** From a click on a terminal until its answer is painted. */
async function clicks(page) {
  await page.evaluate(() => {
    window.answers = [];
    document
      .querySelector('.board')
      .addEventListener(
        'pointerdown',
        ({ timeStamp }) =>
          requestAnimationFrame(() => setTimeout(() => window.answers.push(performance.now() - timeStamp))),
        { capture: true },
      );
  });
  const screws = await page.locator('[data-terminal] .screw').all();
  for (const screw of screws.slice(0, 40)) {
    const box = await screw.boundingBox();
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await page.waitForTimeout(40);
    await page.keyboard.press('Escape');
  }
  const taken = await page.evaluate(() => window.answers);
  report(
    `click on a terminal to painted answer, p95 of ${taken.length}, 80 leads`,
    quantile(taken, 0.95),
    'ms',
    50,
  );
}

/** From the click on a view's name until the view is painted, its code loaded. */
async function views(page) {
  const change = async (name, shown) => {
    await page.locator('.view-bar').getByRole('button', { name }).click();
    await page.locator(shown).filter({ visible: true }).first().waitFor();
  };
  const kinds = [
    ['Drawing', '.drawing .sheet'],
    ['Machine', '.curve'],
    ['Meter', '.meter'],
  ];
  for (const [name, shown] of kinds) await change(name, shown);
  const taken = [];
  for (let round = 0; round < 4; round += 1)
    for (const [name, shown] of kinds)
      taken.push(
        await page.evaluate(
          ([label, selector]) =>
            new Promise((resolve) => {
              const begun = performance.now();
              [...document.querySelectorAll('.view-bar button')]
                .find((one) => one.textContent === label)
                .click();
              const look = () =>
                [...document.querySelectorAll(selector)].some((one) => one.checkVisibility())
                  ? requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)))
                  : requestAnimationFrame(look);
              look();
            }),
          [name, shown],
        ),
      );
  report(`change of view to painted, p95 of ${taken.length}, 80 leads`, quantile(taken, 0.95), 'ms', 100);
}

/** Frames while four contactors switch, the drawing live beside the board. */
async function running(page) {
  await page.locator('.view-bar').getByRole('button', { name: 'Drawing' }).click();
  await page.getByRole('button', { name: /switch on/ }).click();
  const frames = page.evaluate(
    () =>
      new Promise((resolve) => {
        const stamps = [];
        const begun = performance.now();
        const tick = (now) => {
          stamps.push(now);
          if (now - begun < 12_000) requestAnimationFrame(tick);
          else resolve(stamps.slice(1).map((stamp, k) => stamp - stamps[k]));
        };
        requestAnimationFrame(tick);
      }),
  );
  for (const tag of ['S2', 'S1', 'S4', 'S1', 'S2', 'S1', 'S4', 'S1']) {
    await press(page, tag);
    await page.waitForTimeout(1200);
  }
  const gaps = await frames;
  report('frame of a live board of 80 leads with its drawing, median', quantile(gaps, 0.5), 'ms', 17);
  report('frames over 20 ms', (100 * gaps.filter((gap) => gap > 20).length) / gaps.length, '%', 3);
}

/** Drags for three seconds and returns the time between frames. */
async function drag(page, from) {
  const frames = page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        const rubber = document.querySelector('.rubber');
        const stamps = [];
        const shapes = new Set();
        const begun = performance.now();
        const tick = (now) => {
          stamps.push(now);
          shapes.add(rubber.getAttribute('d'));
          if (now - begun < 3000) requestAnimationFrame(tick);
          else if (shapes.size < stamps.length / 2) reject(new Error('the lead did not follow the pointer'));
          else resolve({ gaps: stamps.slice(1).map((stamp, k) => stamp - stamps[k]) });
        };
        requestAnimationFrame(tick);
      }),
  );
  const begun = performance.now();
  for (let k = 0; performance.now() - begun < 2900; k += 1)
    await page.mouse.move(from.x + 200 * Math.sin(k / 9), from.y + 150 + 140 * Math.cos(k / 7));
  return frames;
}

const stolen = watchStolen();

/** The table, and how far its times are those of this machine alone. */
function printTable() {
  console.table(rows);
  const share = stolen();
  if (share !== null) console.log(`Other machines took ${share.toFixed(1)} % of the processor's time.`);
}

const cleanup = [];
try {
  checkNode();
  ensurePackages();
  ensurePostgres(findBinaries);
  ensureChromium();
  await buildServer();
  await buildWeb();
  console.log(
    `Processor: ${cpus()[0]?.model ?? 'unknown'}, ${cpus().length} cores; Node.js ${process.versions.node}`,
  );
  const PARTS = [
    '--server',
    '--browser',
    '--service',
    '--kills',
    '--faults',
    '--college',
    '--paper',
    '--floods',
    '--soak',
    '--memory',
    '--assessment',
    '--sitting',
    '--scanner',
    '--doors',
    '--failover',
    '--moment',
  ];
  if (!PARTS.some((flag) => process.argv.includes(flag))) await engine();
  if (process.argv.includes('--engine') || process.argv.includes('--boards')) {
    printTable();
    process.exit(rows.some(({ verdict }) => verdict === 'MISSED') ? 1 : 0);
  }
  const cluster = await startCluster(dataFolder('bench'));
  cleanup.push(() => cluster.stop());
  const databaseUrl = await ensureDatabase(cluster, `bench_${randomUUID().replaceAll('-', '')}`);
  const note = (figure, measured, wanted) => rows.push({ figure, measured, 'must be': wanted, verdict: '' });
  const only = (flag) => process.argv.includes(flag) || !PARTS.some((one) => process.argv.includes(one));
  if (only('--faults')) {
    const core = await loadCore();
    faults(core, { report, note });
    const own = await ensureDatabase(cluster, `benches_${randomUUID().replaceAll('-', '')}`);
    await liveBenches({ core, report, databaseUrl: own, cluster });
  }
  if (only('--college')) await college({ core: await loadCore(), report, note, cluster, ensureDatabase });
  if (only('--paper')) await paper({ core: await loadCore(), report, cluster, ensureDatabase });
  if (only('--assessment')) await assessment({ report, cluster, ensureDatabase });
  if (only('--scanner')) await scanner({ report });
  if (only('--doors')) await doors({ report, cluster, ensureDatabase });
  if (only('--moment')) await moment({ report, note });
  if (only('--failover')) await failover({ report, note, count: Number(process.env.KILLS ?? 10) });
  if (only('--sitting')) await sitting({ report, note, count: Number(process.env.KILLS ?? 20) });
  if (only('--service')) await service({ report, note, cluster, ensureDatabase });
  if (only('--floods')) await floods({ report, note, cluster, ensureDatabase });
  // Hours: only where they are asked for.
  if (process.argv.includes('--soak')) await soak({ report, note, cluster, ensureDatabase });
  if (process.argv.includes('--memory'))
    await memory({ core: await loadCore(), report, note, cluster, ensureDatabase, launch: BROWSER });
  if (only('--kills')) await kills({ report, note, count: Number(process.env.KILLS ?? 50) });
  if (!only('--server') && !only('--browser')) {
    printTable();
    for (const undo of cleanup.reverse()) await undo();
    process.exit(rows.some(({ verdict }) => verdict === 'MISSED') ? 1 : 0);
  }
  const { child, base } = await launchDemo(cluster, databaseUrl, 1);
  cleanup.push(() => halt(child));
  if (only('--server')) await grading(base, databaseUrl);
  if (only('--browser')) await browser(base);
  printTable();
  for (const undo of cleanup.reverse()) await undo();
  process.exit(rows.some(({ verdict }) => verdict === 'MISSED') ? 1 : 0);
} catch (error) {
  for (const undo of cleanup.reverse()) await undo();
  tellAndExit(error);
}
