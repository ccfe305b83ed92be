import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { BoardOnPage, programOf, reference, signIn, signOut } from './place.js';

/**
 * The pictures of README and manual, from the demo as `npm start` begins with: `npm run pictures`, or with
 * `-- --grep NAME` one of them. They lie in `docs/screenshots/`, or in the folder that PICTURES names.
 */
const FOLDER = process.env.PICTURES ?? join(import.meta.dirname, '..', 'docs', 'screenshots');
const INSTRUCTOR = 'brack';
const STUDENT = 'ashore';

/** Takes a picture once nothing moves that comes and goes by itself. */
async function shot(page: Page, name: string): Promise<void> {
  await expect(page.locator('.ant-spin-spinning, .ant-message-notice')).toHaveCount(0);
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
}

interface Assigned {
  readonly id: string;
  readonly assigned: readonly { readonly id: string }[];
}

/** Opens a bench of an exercise that is set, with the first leads of its reference laid. */
async function openBench(
  page: Page,
  exercise: string,
  most = Number.POSITIVE_INFINITY,
): Promise<BoardOnPage> {
  await signIn(page, STUDENT);
  const all = (await (await page.request.get('/api/exercises')).json()) as Assigned[];
  const assignment = all.find(({ id }) => id === exercise)?.assigned[0];
  if (!assignment) throw new Error(`${exercise} is not set to ${STUDENT}`);
  const opened = await page.request.post(`/api/assignments/${assignment.id}/attempts`, { data: {} });
  const { id } = (await opened.json()) as { id: string };
  for (const [k, wire] of reference(exercise).slice(0, most).entries())
    await page.request.post(`/api/attempts/${id}/log`, {
      data: { seq: k + 1, entry: { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } } },
    });
  // Whoever has been here before.
  await page.evaluate(() => {
    const person = JSON.parse(localStorage.getItem('contactum.last') ?? '{}') as { id?: string };
    localStorage.setItem(`contactum.first-steps.${person.id ?? ''}`, '3');
  });
  await page.goto(`/bench/${id}`);
  await page.locator('[data-lead]').first().waitFor();
  return new BoardOnPage(page);
}

const view = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click();

/** A bench that runs. */
async function runningBench(page: Page): Promise<BoardOnPage> {
  const board = await openBench(page, 'brine-pump-emergency-stop');
  await page.getByRole('button', { name: /switch on/ }).click();
  await board.push('S2');
  await board.shows('KM1', 'in');
  return board;
}

/** Hands a board in and waits for its slip; returns the address. */
async function handedIn(page: Page, exercise: string, most: number): Promise<string> {
  await openBench(page, exercise, most);
  await page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('button', { name: 'Replay' }).first().waitFor();
  return new URL(page.url()).pathname;
}

test('bench-wiring', async ({ page }) => {
  const board = await openBench(page, 'brine-pump-emergency-stop', 19);
  await view(page, 'Drawing');
  const { x, y } = await board.centre(board.terminal('S2:14'));
  await page.mouse.click(x, y);
  await page.mouse.move(x - 60, y - 50, { steps: 3 });
  await shot(page, 'bench-wiring');
});

test('bench-running', async ({ page }) => {
  const board = await runningBench(page);
  await view(page, 'Drawing');
  await view(page, 'Sequence');
  await page.getByRole('combobox', { name: 'Explain a device' }).selectOption('KM1');
  await board.shows('KM1', 'in');
  await shot(page, 'bench-running');
});

test('proof', async ({ page }) => {
  await openBench(page, 'brine-pump-emergency-stop', 18);
  await view(page, 'Proof');
  await page.waitForTimeout(1500);
  await shot(page, 'proof');
});

test('machine', async ({ page }) => {
  await runningBench(page);
  await page.waitForTimeout(2500);
  // Opened after the start: it is there all the same.
  await view(page, 'Machine');
  await page.getByRole('button', { name: 'Last start' }).click();
  await shot(page, 'machine');
});

test('meter', async ({ page }) => {
  const board = await runningBench(page);
  await view(page, 'Meter');
  await page.getByRole('button', { name: 'red probe' }).first().click();
  const at = async (ref: string) => board.centre(board.terminal(ref));
  const [a, b] = [await at('KM1:A1'), await at('KM1:A2')];
  await page.mouse.click(a.x, a.y);
  await page.getByRole('button', { name: 'black probe' }).first().click();
  await page.mouse.click(b.x, b.y);
  await page.getByRole('button', { name: 'Read', exact: true }).click();
  await shot(page, 'meter');
});

test('slip', async ({ page }) => {
  await handedIn(page, 'brine-pump-emergency-stop', 21);
  await page.getByRole('button', { name: 'Replay' }).first().click();
  await page.waitForTimeout(5000);
  await shot(page, 'slip');
});

test('compare', async ({ page }) => {
  const slip = await handedIn(page, 'salt-harrow-electrical-interlock', 36);
  await page.goto('/');
  await signOut(page);
  await signIn(page, INSTRUCTOR);
  await page.goto(slip.replace('/slip/', '/compare/'));
  await page.locator('[data-lead]').nth(50).waitFor();
  await page.getByRole('tab', { name: /Leads that differ/ }).click();
  await shot(page, 'compare');
});

test('exercises', async ({ page }) => {
  await signIn(page, STUDENT);
  await page.locator('.exercise-card .sheet').nth(3).waitFor();
  await shot(page, 'exercises');
});

test('exercise', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.goto('/exercises/blower-star-delta-main-from-start');
  await page.locator('[data-lead]').nth(30).waitFor();
  await shot(page, 'exercise');
});

test('fault-desk', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.goto('/faults?board=salt-harrow-electrical-interlock');
  await page.locator('.faults button').filter({ hasText: 'KM1:21-22 does not open' }).click();
  await page.locator('.fault-story li').first().waitFor();
  await page.getByRole('button', { name: 'Play' }).first().click();
  await page.waitForTimeout(4000);
  await shot(page, 'fault-desk');
});

test('search', async ({ page }) => {
  await signIn(page, STUDENT);
  await page.getByRole('button', { name: 'Start searching' }).first().click();
  await page.waitForURL(/search/);
  await page.locator('[data-lead]').nth(10).waitFor();
  await page.getByRole('button', { name: /switch on/ }).click();
  await page.waitForTimeout(1500);
  await shot(page, 'search');
});

test('setter', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.goto('/setter');
  await page.locator('.template-board [data-lead]').nth(10).waitFor();
  await shot(page, 'setter');
});

test('mark-book', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.goto('/marks');
  await page.getByRole('table').first().waitFor();
  await shot(page, 'mark-book');
});

test('plate-room', async ({ page }) => {
  await signIn(page, STUDENT);
  await page.goto('/plate');
  await shot(page, 'plate-room');
});

test('sheet', async ({ page }) => {
  await signIn(page, STUDENT);
  await page.goto('/exercises');
  await page.getByRole('link', { name: 'Bench sheet for a physical board' }).nth(1).click();
  await page.getByRole('button', { name: 'New sheet' }).first().click();
  await page.waitForURL(/sheets\/.+/);
  await shot(page, 'sheet');
});

test('floor', async ({ page, baseURL }) => {
  // The class at work, hurried: a lead every second or so.
  const program = join(import.meta.dirname, '..', 'packages', 'server', 'dist', 'class.mjs');
  const working = spawn(process.execPath, [program], {
    env: { ...process.env, BASE: baseURL, PACE: '0.1' },
    stdio: 'ignore',
  });
  await signIn(page, INSTRUCTOR);
  await page.waitForTimeout(30_000);
  await page.goto('/floor');
  await page.locator('.mini-lead').nth(60).waitFor();
  await page.locator('.bench-tile[data-state="asks"]').first().waitFor();
  await page.waitForTimeout(5500);
  await shot(page, 'floor');
  working.kill();
});

test('program', async ({ page }) => {
  await page.addInitScript(() => localStorage.setItem('contactum.dark', 'yes'));
  await signIn(page, INSTRUCTOR);
  const classes = (await (await page.request.get('/api/classes')).json()) as { id: string }[];
  for (const { id } of classes)
    await page.request.post(`/api/classes/${id}/assignments`, {
      data: { exerciseId: 'salt-harrow-controller' },
    });
  await signOut(page);
  const board = await openBench(page, 'salt-harrow-controller');
  const attempt = new URL(page.url()).pathname.split('/').at(-1) ?? '';
  const leads = reference('salt-harrow-controller').length;
  const edit = { do: 'program', device: 'A1', from: null, to: programOf('salt-harrow-controller', 'A1') };
  await page.request.post(`/api/attempts/${attempt}/log`, {
    data: { seq: leads + 1, entry: { kind: 'edit', edit } },
  });
  await page.reload();
  await page.locator('[data-lead]').first().waitFor();
  await page.getByRole('button', { name: /switch on/ }).click();
  await board.push('S2');
  await board.shows('KM1', 'in');
  await view(page, 'Program');
  await page.locator('[data-lit]').first().waitFor();
  await shot(page, 'program');
});

/** Opens the assessment of the demo's first class. */
async function openAssessment(page: Page): Promise<void> {
  await signIn(page, INSTRUCTOR);
  await page.goto('/assessments');
  await page.getByRole('link', { name: 'Practical test: reversing starter' }).click();
  await page.getByRole('tab', { name: 'Marks' }).waitFor();
}

test('assessment', async ({ page }) => {
  await openAssessment(page);
  await shot(page, 'assessment');
});

test('look-back', async ({ page }) => {
  await openAssessment(page);
  await page.getByRole('tab', { name: 'Analysis' }).click();
  await page.getByRole('heading', { name: 'Spread' }).waitFor();
  await shot(page, 'look-back');
});
