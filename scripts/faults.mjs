/**
 * What fault finding costs: every fault of a board, candidates after an observation, pairs, the automatic
 * searcher; and live benches on the server.
 */
import { randomUUID } from 'node:crypto';
import { WebSocket } from 'ws';
import { quantile } from './lib/measure.mjs';
import { halt, launchDemo } from './lib/server.mjs';
import { signIn } from './lib/service.mjs';

const push = (tag) => [{ press: tag }, { release: tag }];

/** Figures of the engine. */
export function faults(core, { report, note }) {
  const exercise = core.shippedExercise('blower-star-delta-main-from-start');
  const circuit = core.referenceCircuitOf(exercise);
  const begun = performance.now();
  const effects = core.finished(core.faultEffects(circuit));
  report(
    `${effects.length} single faults of the star-delta board with what each does, first time in a process`,
    (performance.now() - begun) / 1000,
    's',
    3,
  );
  const volts = { mode: 'volts', between: ['KM3:A1', 'G1:N'] };
  const made = [
    { steps: [{ press: 'S2' }], see: { KM1: 'in' } },
    { steps: push('S2'), see: { KM1: 'in', KM2: 'in' } },
    { steps: [...push('S2'), { elapse: 'KT1' }], see: { KM2: 'out', KM3: 'out' } },
    { steps: [...push('S2'), { elapse: 'KT1' }], meter: volts, read: { min: 200, max: 250 } },
    { dead: true, steps: [], meter: { mode: 'ohms', between: ['KM3:A2', 'G1:N'] }, read: 'closed' },
    { dead: true, steps: [], meter: { mode: 'ohms', between: ['KM3:A1', 'KM3:A2'] }, read: 'open' },
  ];
  const taken = [];
  for (let round = 0; round < 5; round += 1) {
    const suspects = new core.Suspects(circuit);
    made.forEach((one, k) => {
      const from = performance.now();
      suspects.observe(one);
      // The first looks at every fault for the first time.
      if (k > 0) taken.push(performance.now() - from);
    });
  }
  report(`candidates after one more observation, longest of ${taken.length}`, Math.max(...taken), 'ms', 300);
  const suspects = new core.Suspects(circuit);
  for (const one of made) suspects.observe(one);
  const before = suspects.of;
  const from = performance.now();
  core.finished(suspects.pairs());
  report(`${suspects.of - before} pairs after six observations`, (performance.now() - from) / 1000, 's', 10);
  let [ratio, all] = [0, 0];
  for (const one of core.shippedExercises()) {
    const found = core.finished(core.faultEffects(core.referenceCircuitOf(one)));
    ratio += found.reduce((sum, { readings }) => sum + readings / Math.log2(found.length), 0);
    all += found.length;
  }
  report(
    `readings of an automatic searcher over log2 of the candidates, mean of ${all} faults`,
    ratio / all,
    'times',
    1.5,
  );
  note('boards', `${core.shippedExercises().length} shipped`, '');
}

/**
 * A hundred live benches, star-delta running, ten updates a second each; each is pressed every few seconds.
 */
export async function liveBenches({ core, report, databaseUrl, cluster }) {
  const { default: pg } = await import('pg');
  const { child, base } = await launchDemo(cluster, databaseUrl, 2);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { cookie, id: person } = await signIn(base, 'skerry');
    const document = core.shippedExercise('find-star-delta');
    const benches = [];
    for (let k = 0; k < 100; k += 1) {
      const id = randomUUID();
      await client.query(
        "insert into searches (id, person_id, document, hidden, title, complaint, minutes) values ($1, $2, $3, '[]', 'Bench', 'None', 60)",
        [id, person, JSON.stringify(document)],
      );
      benches.push(await open(base, cookie, id));
    }
    await Promise.all(benches.map(({ act }) => act({ close: 'G1' })));
    for (const { act } of benches) for (const step of push('S2')) await act(step);
    await pause(12_000);
    const frames = benches.reduce((sum, bench) => sum + bench.frames, 0);
    const taken = [];
    const begun = performance.now();
    const ends = begun + 30_000;
    await Promise.all(
      benches.map(async ({ act }, k) => {
        await pause(30 * k);
        for (let n = 0; performance.now() < ends; n += 1) {
          for (const step of push(n % 2 ? 'S2' : 'S1')) {
            const from = performance.now();
            await act(step);
            taken.push(performance.now() - from);
            await pause(300);
          }
          await pause(2400);
        }
      }),
    );
    const seconds = (performance.now() - begun) / 1000;
    const told = (benches.reduce((sum, bench) => sum + bench.frames, 0) - frames) / seconds / 100;
    report(
      `act to update on 100 live benches of the server, ${told.toFixed(1)} updates a second each, p99 of ${taken.length} (p50 ${quantile(taken, 0.5).toFixed(0)} ms)`,
      quantile(taken, 0.99),
      'ms',
      150,
    );
    for (const { socket } of benches) socket.terminate();
  } finally {
    await client.end();
    await halt(child);
  }
}

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A bench as a browser has it: `act` resolves with the answer, which comes when the act is written down. */
function open(base, cookie, id) {
  const socket = new WebSocket(`${base.replace('http', 'ws')}/api/searches/${id}/live`, {
    headers: { cookie },
  });
  const waiting = new Map();
  const bench = { socket, frames: 0, act: null };
  let n = 0;
  bench.act = (stimulus) =>
    new Promise((resolve) => {
      n += 1;
      waiting.set(n, resolve);
      socket.send(JSON.stringify({ n, entry: { kind: 'act', stimulus } }));
    });
  socket.on('message', (data) => {
    const text = String(data);
    if (text.startsWith('{"kind":"frame"')) {
      bench.frames += 1;
      return;
    }
    const news = JSON.parse(text);
    if (news.kind === 'answer') {
      waiting.get(news.n)?.();
      waiting.delete(news.n);
    }
  });
  return new Promise((resolve, reject) => {
    socket.once('open', () => resolve(bench));
    socket.once('error', reject);
  });
}
