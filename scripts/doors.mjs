/**
 * `npm run bench -- --doors`: how long it takes from the click in a course of a learning platform until the
 * exercise is on screen, in a browser that has nothing of the application yet and in one that had it before,
 * and until the mark of a hand-in is in the platform's gradebook. The platform is the stand-in.
 */
import { randomUUID } from 'node:crypto';
import { BROWSER } from './lib/browser.mjs';
import { pause, quantile } from './lib/measure.mjs';
import { freePort } from './lib/postgres.mjs';
import { halt, launch, seed, serverEnvironment } from './lib/server.mjs';
import { loadDoors, registerPlatform } from './lib/stand-ins.mjs';

const STUDENTS = 7;
const EXERCISE = 'Brine pump, three-wire';

const COURSE = {
  id: 'course-measured',
  title: 'Brine pumps, first year',
  people: [
    { id: 't', name: 'Petra Sandell', login: 'petra.sandell', role: 'Instructor' },
    ...Array.from({ length: STUDENTS }, (_, k) => ({
      id: `s${k}`,
      name: `Student ${k + 1}`,
      login: `student.${k + 1}`,
      role: 'Learner',
    })),
  ],
};

export async function doors({ report, cluster, ensureDatabase }) {
  const { Gradebook } = await loadDoors();
  const port = await freePort();
  const tool = `http://localhost:${port}`;
  const platform = new Gradebook({ tool, courses: [COURSE] });
  await platform.start();
  const databaseUrl = await ensureDatabase(cluster, `doors_${randomUUID().replaceAll('-', '')}`);
  const env = serverEnvironment({
    databaseUrl,
    sessionSecret: cluster.sessionSecret,
    port,
    WEB_PROCESSES: '2',
    PUBLIC_URL: tool,
  });
  seed(env);
  registerPlatform(platform, env);
  const { child } = await launch(env);
  const { chromium } = await import('@playwright/test');
  const instance = await chromium.launch(BROWSER);
  try {
    await addExercise(await opened(instance), platform);
    await launches({ instance, platform, report });
  } finally {
    await instance.close();
    await halt(child);
    await platform.stop();
  }
}

const opened = async (instance) =>
  (await instance.newContext({ viewport: { width: 1280, height: 800 } })).newPage();

/** The instructor of the course adds the exercise to it. */
async function addExercise(page, platform) {
  await page.goto(platform.issuer);
  await page.getByRole('link', { name: 'Add from Contactum' }).click();
  await page.getByLabel('Search exercises').fill(EXERCISE);
  await page
    .getByRole('radio', { name: new RegExp(`^${EXERCISE}`) })
    .first()
    .check();
  await page.getByRole('button', { name: /^Add “/ }).click();
  await page.getByRole('columnheader', { name: EXERCISE }).waitFor();
  await page.context().close();
}

/** From the click on the platform's page until the board is there, milliseconds. */
async function launched(page, platform, name) {
  await page.goto(platform.issuer);
  const begun = performance.now();
  await page
    .getByRole('row', { name: new RegExp(`^${name} `) })
    .getByRole('link', { name: 'Open', exact: true })
    .click({ noWaitAfter: true });
  await page.locator('[data-terminal]').first().waitFor();
  return performance.now() - begun;
}

async function launches({ instance, platform, report }) {
  const [first, again, marks] = [[], [], []];
  for (const { id, name } of COURSE.people.slice(1)) {
    const page = await opened(instance);
    first.push(await launched(page, platform, name));
    for (let k = 0; k < 3; k += 1) again.push(await launched(page, platform, name));
    await page.getByRole('button', { name: 'Hand in' }).click();
    await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
    const begun = performance.now();
    while (!marked(platform, id)) await pause(20);
    marks.push(performance.now() - begun);
    await page.context().close();
  }
  const told = (list) => `${list.map((one) => (one / 1000).toFixed(2)).join(', ')} s`;
  report(
    `launch to the exercise on screen, a browser that has nothing yet, median (${told(first)})`,
    quantile(first, 0.5) / 1000,
    's',
    1.5,
  );
  report(
    `launch to the exercise on screen again, p95 of ${again.length}`,
    quantile(again, 0.95) / 1000,
    's',
    1.5,
  );
  report(
    `hand-in to the mark in the gradebook, longest of ${marks.length}`,
    Math.max(...marks) / 1000,
    's',
    5,
  );
}

const marked = (platform, id) =>
  [...platform.scores.values()].some((list) => list.some(({ userId }) => userId === id));
