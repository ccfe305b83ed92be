import { expect } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, accessible, signIn } from './place.js';

/** What would tell a student what is hidden in the board of the first work order. */
const SECRETS = ['open-wire', 'KM1:14 S2:14 broken', 'wire KM1:14 to S2:14', '"hidden"', '"sets"'];

test('a student works, measures, isolates, names the fault, repairs and proves; nothing that the browser gets tells it', async ({
  page,
  college,
}) => {
  await college.set('find-seal-in');
  const told: string[] = [];
  const reading: Promise<unknown>[] = [];
  const scripts: string[] = [];
  page.on('response', (response) => {
    // Scripts know every kind of fault there is, and nothing of any board.
    const list = /\.(js|css|map)$/.test(new URL(response.url()).pathname) ? scripts : told;
    reading.push(
      response.text().then(
        (text) => list.push(text),
        () => undefined,
      ),
    );
  });
  page.on('websocket', (socket) => socket.on('framereceived', ({ payload }) => told.push(String(payload))));
  await signIn(page, college.student);
  await page
    .locator('.exercise-card', { hasText: 'Brine pump with lamps: find the fault' })
    .getByRole('button', { name: 'Start searching' })
    .click();
  const board = new BoardOnPage(page);
  await expect(page.getByText('The pump runs only while the green button is held.')).toBeVisible();
  await expect(board.leads).toHaveCount(29);
  await accessible(page);
  await page.getByRole('button', { name: /switch on/ }).click();
  await expect(page.getByRole('button', { name: /switch off/ })).toBeVisible();
  // Runs while held, and drops out.
  const start = page.locator('[data-handle="S2 push"]');
  const at = await board.centre(start);
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await expect(page.locator('[data-device="KM1"]')).toHaveAttribute('data-state', 'in');
  await page.mouse.up();
  await expect(page.locator('[data-device="KM1"]')).toHaveAttribute('data-state', 'out');
  // Two probes on the board.
  await board.click('KM1:13', 'G1:N');
  await page.getByRole('button', { name: 'Read', exact: true }).click();
  await expect(page.getByText('230.9 V AC')).toBeVisible();
  await page.getByRole('button', { name: /switch off/ }).click();
  await page.getByRole('button', { name: 'Lock off' }).click();
  await expect(page.getByRole('button', { name: /Locked off/ })).toBeVisible();
  await page.getByRole('button', { name: 'Read', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Meter' }).getByText('0 V')).toBeVisible();
  await page.getByRole('tab', { name: 'Notebook' }).click();
  await expect(page.getByText(/Volts KM1 13 to G1 N: 231 V/)).toBeVisible();
  await Promise.all(reading);
  for (const text of told) for (const secret of SECRETS) expect(text).not.toContain(secret);
  expect(scripts.length).toBeGreaterThan(3);
  for (const text of scripts) expect(text).not.toMatch(/KM1:14 S2:14|find-seal-in|KM1:14/);
  // The notebook tells what is left, by the exercise's leave.
  await page.getByRole('button', { name: 'Work them out' }).click();
  await expect(page.getByText(/^2 of 106 causes left$/)).toBeVisible();
  const choose = async (name: string, text: string): Promise<void> => {
    await page.getByRole('combobox', { name, exact: true }).fill(text);
    await page.keyboard.press('Enter');
  };
  await page.getByText('Ohms', { exact: true }).click();
  await board.click('KM1:14', 'S2:14');
  await page.getByRole('button', { name: 'Read', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Meter' }).getByText('no connection')).toBeVisible();
  await choose('Lead', 'KM1 14');
  await page.getByRole('button', { name: 'Renew' }).click();
  await expect(page.getByText(/lead KM1 14 – S2 14 renewed/)).toBeVisible();
  await page.getByRole('tab', { name: 'Verdict' }).click();
  await choose('Which device or lead', 'lead KM1 14');
  await page.getByRole('combobox', { name: 'What is wrong with it' }).click();
  await page.getByTitle('wire KM1:14 to S2:14 broken').click();
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByText(/^That is it\./)).toBeVisible();
  await page.getByRole('button', { name: /Locked off/ }).click();
  await page.getByRole('button', { name: /switch on/ }).click();
  await page.getByRole('tab', { name: 'Work order' }).click();
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await expect(page.locator('[data-device="KM1"]')).toHaveAttribute('data-state', 'in');
  await page.mouse.up();
  await expect(page.locator('.prove-list li[data-shown="yes"]').first()).toBeVisible();
  await page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByRole('heading', { name: 'The search' })).toBeVisible();
  await expect(page.getByText('The right cause is named')).toBeVisible();
  await expect(page.getByText(/It was: wire KM1:14 to S2:14 broken/)).toBeVisible();
  await accessible(page);
});

test('the instructor sees what each fault does, makes a set of them, and puts one into a bench', async ({
  page,
  browser,
  college,
}) => {
  await college.set('find-first-circuits');
  const student = await (await browser.newContext()).newPage();
  await signIn(student, college.student);
  await student
    .locator('.exercise-card', { hasText: 'Relay and lamp: find the fault' })
    .getByRole('button', { name: 'Start searching' })
    .click();
  await expect(student.locator('[data-lead]').first()).toBeAttached();
  await signIn(page, college.instructor);
  await page.goto('/faults?board=find-first-circuits');
  await page.getByRole('combobox', { name: 'Symptom' }).click();
  await page.getByTitle('A lamp is lit when it should not be.').click();
  // On a busy machine the list may stay open over what is clicked next.
  await page.getByRole('combobox', { name: 'Symptom' }).press('Escape');
  await page.getByRole('button', { name: /^K1:13-14 does not open/ }).click();
  await expect(
    page
      .getByRole('region', { name: 'What the chosen fault does' })
      .getByRole('heading', { name: 'K1:13-14 does not open' }),
  ).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Add to my set' }).click();
  await page.getByRole('tab', { name: 'Live benches' }).click();
  await page.getByRole('button', { name: 'All benches' }).click();
  await page.getByRole('button', { name: 'Watch' }).click();
  await page.getByRole('button', { name: 'Clear all faults' }).click();
  await expect(page.getByText('no faults')).toBeVisible();
  await page.getByRole('button', { name: /^Inject: K1:13-14/ }).click();
  await expect(page.locator('.bench-faults', { hasText: 'K1:13-14 does not open' })).toBeVisible();
  await student.getByRole('button', { name: /switch on/ }).click();
  await expect(student.locator('[data-device="H1"]')).toHaveAttribute('data-state', 'lit');
  await expect(page.getByText('switch on G2')).toBeVisible();
  await accessible(page);
  await student.context().close();
  await page.getByRole('tab', { name: 'My set (1)' }).click();
  await page.getByRole('button', { name: 'Save as a fault-finding exercise' }).click();
  await expect(page.getByRole('tab', { name: 'Work orders (1)' })).toBeVisible();
});

test('@long a board that stands on a bench is diagnosed at it, on a telephone', async ({ page, college }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, college.student);
  await page.goto('/diagnose/find-seal-in');
  const seen = async (word: string): Promise<void> => {
    await page.getByRole('combobox', { name: 'Device' }).click();
    await page.getByTitle('KM1', { exact: true }).last().click();
    await page.getByRole('radiogroup', { name: 'How it was' }).getByText(word, { exact: true }).click();
    await page.getByRole('button', { name: 'Enter', exact: true }).click();
  };
  await page.getByRole('button', { name: 'press S2' }).click();
  await seen('in');
  await page.getByRole('button', { name: 'let S2 go' }).click();
  await seen('out');
  await expect(page.getByRole('heading', { name: '3 of 106 causes agree' })).toBeVisible();
  await expect(page.getByText('Next:')).toBeVisible();
  // Nothing is wider than the telephone.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await accessible(page);
});
