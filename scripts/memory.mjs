/**
 * `npm run bench -- --memory`: what stays in memory after 2 000 markings (`MARKINGS`), and in a browser
 * after two hours at a large board that is worked all the time (`MEMORY_MINUTES`), each as a line over the
 * time. The service itself over an hour is `--soak`.
 */
import { randomUUID } from 'node:crypto';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { seeded } from '../packages/core/test/fixtures/seeded.mjs';
import { openLargeBench, press } from './lib/live-bench.mjs';
import { quantile } from './lib/measure.mjs';
import { halt, launchDemo } from './lib/server.mjs';

const MARKINGS = Number(process.env.MARKINGS ?? 2_000);
const MINUTES = Number(process.env.MEMORY_MINUTES ?? 120);
/** Points of a line that is printed. */
const POINTS = 12;
const MEGABYTE = 1024 * 1024;

export async function memory({ core, report, note, cluster, ensureDatabase, launch }) {
  markings(core, { report, note });
  await bench({ report, note, cluster, ensureDatabase, launch });
}

/** Tells a line, and how its last sixth lies over the second one, when everything was used once. */
function tell({ report, note }, what, seen) {
  const sixth = Math.max(1, Math.floor(seen.length / 6));
  const points = seen.filter((_, k) => k % Math.ceil(seen.length / POINTS) === 0);
  note(`${what}, by time`, points.map((mb) => mb.toFixed(1)).join(' '), 'MB, flat');
  const [early, late] = [seen.slice(sixth, 2 * sixth), seen.slice(-sixth)].map((part) => quantile(part, 0.5));
  report(`${what}, at the end over that after the first sixth`, late / early, 'times', 1.1);
}

/** Marks right and wrong wirings of every shipped exercise, as the marking process does. */
function markings(core, reporting) {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc');
  const exercises = core
    .shippedExercises()
    .filter(({ task, reference }) => task !== 'find' && reference.length);
  const random = seeded(11);
  const seen = [];
  for (let k = 0; k < MARKINGS; k += 1) {
    // Each marking has its documents from the database: nothing is the same object as before.
    const exercise = structuredClone(exercises[k % exercises.length]);
    const right = core.referenceBench(exercise);
    const wires = right.wires.filter(() => random() > 0.03);
    core.grade(exercise, { ...right, wires });
    if ((k + 1) % Math.max(1, Math.floor(MARKINGS / 60)) !== 0) continue;
    collect();
    seen.push(process.memoryUsage().heapUsed / MEGABYTE);
  }
  tell(reporting, `memory that ${MARKINGS} markings leave`, seen);
}

/** Works a large board in the browser: starts, reverses, stops, over and over, its drawing beside it. */
async function bench({ report, note, cluster, ensureDatabase, launch }) {
  const databaseUrl = await ensureDatabase(cluster, `memory_${randomUUID().replaceAll('-', '')}`);
  const { child, base } = await launchDemo(cluster, databaseUrl, 1);
  const { chromium } = await import('@playwright/test');
  const instance = await chromium.launch(launch);
  try {
    const page = await openLargeBench(base, instance);
    const devtools = await page.context().newCDPSession(page);
    await page.locator('.view-bar').getByRole('button', { name: 'Drawing' }).click();
    await page.getByRole('button', { name: /switch on/ }).click();
    const seen = [];
    const begun = performance.now();
    while (performance.now() - begun < MINUTES * 60_000) {
      const round = performance.now();
      while (performance.now() - round < (MINUTES * 60_000) / 60)
        for (const tag of ['S2', 'S1', 'S4', 'S1']) {
          await press(page, tag);
          await page.waitForTimeout(1000);
        }
      await devtools.send('HeapProfiler.collectGarbage');
      const { usedSize } = await devtools.send('Runtime.getHeapUsage');
      seen.push(usedSize / MEGABYTE);
    }
    tell({ report, note }, `memory of the page over ${MINUTES} minutes at the bench`, seen);
  } finally {
    await instance.close();
    await halt(child);
  }
}
