/**
 * `npm run bench -- --scanner`: how long the reading of a board by its scanner takes, against the simulated box
 * over real Modbus TCP: some 120 terminals, a fifth of a millisecond each, without noise and with it.
 */
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { largeBoard } from './lib/large-board.mjs';
import { quantile } from './lib/measure.mjs';
import { value } from './lib/core.mjs';
import { ROOT } from './lib/paths.mjs';

const SCANS = 20;
/** A box drives a terminal for so long, milliseconds. */
const DRIVEN_MS = 0.2;

const CONTENTS = `export { Scanner } from './scanner/client.js';
export { SimulatedBox } from './scanner/simulated.js';
export { terminalsOf } from '@contactum/core';
export { readBench } from '@contactum/core/documents';`;

async function loaded() {
  const outfile = join(ROOT, 'packages', 'cli', 'dist', `scanner-${process.pid}.mjs`);
  await build({
    stdin: { contents: CONTENTS, resolveDir: join(ROOT, 'packages', 'cli', 'src'), loader: 'ts' },
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    external: ['modbus-serial'],
    conditions: ['@contactum/source'],
    logLevel: 'error',
  });
  try {
    return await import(outfile);
  } finally {
    rmSync(outfile, { force: true });
  }
}

const asOne = (lists) => JSON.stringify(lists.map((list) => [...list].sort()).sort());

export async function scanner({ report }) {
  const { Scanner, SimulatedBox, readBench, terminalsOf } = await loaded();
  const bench = value(readBench(largeBoard(2)));
  const count = terminalsOf(bench).length;
  const box = new SimulatedBox({ ...bench, wires: [] }, 5);
  box.plug(bench.wires);
  const port = await box.listen();
  const reader = await Scanner.open(`127.0.0.1:${port}`);
  try {
    for (const noise of [0, 0.05]) {
      box.set({ noise, passMs: DRIVEN_MS * count });
      const taken = [];
      let wrong = 0;
      let first = '';
      for (let k = 0; k < SCANS; k += 1) {
        const begun = performance.now();
        const { joined, doubtful } = await reader.scan();
        taken.push(performance.now() - begun);
        first ||= asOne(joined);
        if (doubtful.length === 0 && asOne(joined) !== first) wrong += 1;
      }
      report(
        `a scan of ${count} terminals with ${100 * noise} % of readings wrong, p95 of ${SCANS}`,
        quantile(taken, 0.95),
        'ms',
        1500,
      );
      report('of these scans with other nets and nothing named as doubtful', wrong, '', 0.5);
    }
    box.set({ noise: 0.05 });
    report(
      `a lead plugged or unplugged until that is told, p95 of ${2 * SCANS}`,
      await plugged(box, reader, bench),
      'ms',
      500,
    );
  } finally {
    await reader.close();
    await box.stop();
  }
}

/** Leads are unplugged and plugged again while the board is watched; milliseconds until each is told, p95. */
async function plugged(box, reader, bench) {
  const seen = [];
  let told = () => undefined;
  const over = new AbortController();
  const following = reader.follow(await reader.scan(), () => told(), over.signal);
  // Leads of motors: nothing else joins what they join.
  const ends = bench.wires.filter(({ from, to }) => /^M\d/.test(from) || /^M\d/.test(to));
  for (let k = 0; k < SCANS; k += 1) {
    const left = ends[k % ends.length];
    for (const wires of [bench.wires.filter((one) => one !== left), bench.wires]) {
      const begun = performance.now();
      const change = new Promise((resolve) => (told = resolve));
      box.plug(wires);
      await change;
      seen.push(performance.now() - begun);
    }
  }
  over.abort();
  await following;
  return quantile(seen, 0.95);
}
