import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { BoardOnPage, reference, signIn } from './place.js';

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
  await page.goto(`/bench/${id}`);
  await page.locator('[data-lead]').first().waitFor();
  return new BoardOnPage(page);
}

const view = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click();

test('bench-wiring', async ({ page }) => {
  await openBench(page, 'brine-pump-emergency-stop', 19);
  await view(page, 'Drawing');
  await shot(page, 'bench-wiring');
});
test('fault-desk', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.goto('/faults?board=salt-harrow-electrical-interlock');
  await page.locator('.faults button').nth(5).waitFor();
  await page.locator('.faults button').filter({ hasText: 'KM1:21-22 does not' }).first().click();
  await page.locator('.fault-story li').first().waitFor();
  await page.getByRole('button', { name: 'Play' }).first().click();
  await page.waitForTimeout(3500);
  await page.locator('.fault-stage').scrollIntoViewIfNeeded();
  await shot(page, 'fault-desk');
});

test('slip', async ({ page }) => {
  await openBench(page, 'brine-pump-emergency-stop', 21);
  await page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('button', { name: 'Replay' }).first().click();
  await page.waitForTimeout(7000);
  await shot(page, 'slip');
});
test('zz-hint', async ({ page }) => {
  await openBench(page, 'brine-pump-emergency-stop', 20);
  await page.getByRole('button', { name: 'Hint' }).click();
  await page.getByRole('button', { name: /What goes wrong/ }).click();
  await page.getByRole('button', { name: /Where to look/ }).click();
  await page.getByRole('button', { name: /Which lead/ }).waitFor();
  await shot(page, 'zz-hint');
});
test('machine', async ({ page }) => {
  const board = await openBench(page, 'brine-pump-emergency-stop');
  await page.getByRole('button', { name: /switch on/ }).click();
  await board.push('S2');
  await board.shows('KM1', 'in');
  await page.waitForTimeout(3000);
  // Opened after the start: it is there all the same.
  await view(page, 'Machine');
  await page.getByRole('button', { name: 'Last start' }).click();
  await view(page, 'Sequence');
  await shot(page, 'machine');
});
test('zz-sheets', async ({ page }) => {
  await openBench(page, 'brine-pump-emergency-stop');
  await view(page, 'Drawing');
  await page.getByRole('button', { name: 'Sheets …' }).click();
  await page.locator('.sheets-pages img').first().waitFor();
  await shot(page, 'zz-sheets');
});
test('floor', async ({ page, baseURL }) => {
  // The class at work, hurried: a lead every second or so.
  const program = join(import.meta.dirname, '..', 'packages', 'server', 'dist', 'class.mjs');
  const working = spawn(process.execPath, [program], {
    env: { ...process.env, BASE: baseURL, PACE: '0.1' },
    stdio: 'ignore',
  });
  await signIn(page, INSTRUCTOR);
  await page.waitForTimeout(34_000);
  await page.goto('/floor');
  await page.locator('.mini-lead').nth(60).waitFor();
  await page.locator('.bench-tile[data-state="asks"]').first().waitFor();
  await page.waitForTimeout(5500);
  await shot(page, 'floor');
  working.kill();
});

test('exercises', async ({ page }) => {
  await signIn(page, INSTRUCTOR);
  await page.locator('.exercise-card .sheet').nth(5).waitFor();
  await shot(page, 'zz-exercises-instructor');
  await page.getByRole('button', { name: /: account$/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click();
  await signIn(page, STUDENT);
  await page.locator('.exercise-card .sheet').nth(5).waitFor();
  await shot(page, 'exercises');
});
