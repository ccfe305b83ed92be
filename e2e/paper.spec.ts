import { expect } from '@playwright/test';
import { test } from './college.js';
import { accessible, signIn } from './place.js';

// The application's own files come from its service worker without a network.
test.use({ serviceWorkers: 'allow' });

test('a bench sheet is taken along, entered without a network, sent when there is one, and ends in the slip and the logbook', async ({
  page,
  context,
  college,
}) => {
  await college.set('button-lamp-no');
  await signIn(page, college.instructor);
  await page.getByRole('link', { name: 'Classes' }).click();
  await page.getByRole('tab', { name: 'Assigned exercises' }).click();
  await page.getByRole('link', { name: 'Bench sheet', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Student' })).toBeVisible();
  await accessible(page);
  // The service worker has the files once it is in control.
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Bench sheets' })).toBeVisible();

  await context.setOffline(true);
  await page.reload();
  await expect(page.getByText(/No connection: sheets are saved here/)).toBeVisible();
  await page.getByRole('button', { name: 'New sheet' }).click();
  await page.getByLabel('Isolated, locked off and proved dead by').fill('N. Osier');
  await page.getByRole('button', { name: 'On to: Dead tests' }).click();
  const tests = page.locator('.sheet-rows > li');
  await expect(tests.first()).toContainText('not tested');
  for (const row of await tests.all()) {
    const right = await row.locator('.quiet').first().textContent();
    if (right?.includes('about')) {
      const ohms = /about ([\d.]+)/.exec(right)?.[1] ?? '';
      await row.getByRole('spinbutton').fill(ohms);
      await row.getByRole('spinbutton').press('Tab');
    } else await row.getByText(right?.includes('open') ? 'open' : 'closed', { exact: true }).click();
  }
  await expect(page.locator('.sheet-rows > li[data-right="yes"]')).toHaveCount(await tests.count());
  await accessible(page);
  await page.getByRole('button', { name: 'On to: Functions' }).click();
  await page.getByRole('checkbox', { name: /give permission to energise/ }).check();
  for (const all of await page.getByRole('button', { name: 'all as it should be' }).all()) await all.click();
  await page.getByRole('button', { name: 'On to: Checks' }).click();
  for (const row of await page.locator('.sheet-rows > li').all())
    if ((await row.getByText('kept', { exact: true }).count()) > 0)
      await row.getByText('kept', { exact: true }).click();
  // What was entered is there after the page was lost.
  await page.reload();
  await page.getByText('Dead tests', { exact: true }).click();
  await expect(page.locator('.sheet-rows > li[data-right="yes"]')).toHaveCount(await tests.count());
  await page.getByText('Done', { exact: true }).first().click();
  await page.getByRole('button', { name: /keep it to be sent/ }).click();
  await expect(page.getByText('● done, to be sent')).toBeVisible();

  await context.setOffline(false);
  await page.reload();
  await page.getByRole('button', { name: 'Send the sheet' }).click();
  await expect(page.getByText('✓ sent')).toBeVisible();
  await page.getByRole('link', { name: college.studentName }).click();
  await expect(page.locator('.verdict')).toContainText('Passed');
  await expect(page.getByRole('region', { name: 'At the bench' })).toContainText('A physical board');
  await accessible(page);

  const other = await context.browser()!.newContext();
  const student = await other.newPage();
  await signIn(student, college.student);
  await student.getByRole('link', { name: 'Logbook' }).click();
  await expect(student.getByRole('row', { name: /at the bench.*passed/ })).toBeVisible();
  const [pdf] = await Promise.all([
    student.waitForEvent('download'),
    student.getByRole('button', { name: 'As PDF, to be signed' }).click(),
  ]);
  expect(pdf.suggestedFilename()).toBe('logbook.pdf');
  await accessible(student);
  await other.close();
});

test('the planning paper of an exercise is read, struck off and saved', async ({ page, college }) => {
  await signIn(page, college.instructor);
  await page.goto('/paper/brine-pump-three-wire');
  await expect(page.getByRole('heading', { name: 'Bill of materials: devices' })).toBeVisible();
  await page.getByRole('tab', { name: 'Order by place' }).click();
  await page.getByRole('checkbox', { name: 'Lead 1 is laid' }).check();
  await expect(page.getByText(/1 of 21 done/)).toBeVisible();
  await page.getByRole('tab', { name: /^Dead tests/ }).click();
  await expect(page.getByText(/readings find \d+ of \d+ single wiring mistakes/)).toBeVisible();
  await accessible(page);
  for (const [name, file] of [
    ['This table as CSV', /dead-tests.*\.csv$/],
    ['PDF (A4)', /planning-paper\.pdf$/],
  ] as const) {
    const [saved] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name }).click(),
    ]);
    expect(saved.suggestedFilename()).toMatch(file);
  }
});

test('an instructor asks about a board: the board answers, and the same number asks the same', async ({
  page,
  college,
  faults,
}) => {
  await signIn(page, college.instructor);
  await page.goto('/exercises/salt-harrow-electrical-interlock');
  await page.getByRole('link', { name: 'Questions' }).click();
  await expect(page.getByRole('heading', { name: 'Questions about this board' })).toBeVisible();
  const questions = page.getByRole('region', { name: 'Questions' });
  await expect(questions.locator('.questions > li')).toHaveCount(6);
  const first = await questions.innerText();
  await page.getByRole('combobox', { name: 'Degree' }).click();
  await page.getByTitle('3: what holds, what blocks').click();
  await expect(questions.getByText(/through which contacts is KM\d energised/).first()).toBeVisible();
  await questions.getByRole('button', { name: 'Show answer' }).first().click();
  await expect(questions.locator('.right-answer')).toHaveCount(1);
  await questions.getByRole('button', { name: 'Show all answers' }).click();
  await expect(questions.locator('.right-answer')).toHaveCount(6);
  await accessible(page);
  await page.getByText('Board', { exact: true }).click();
  await expect(page.getByRole('img', { name: /board/i })).toBeVisible();
  await page.getByRole('button', { name: 'New questions' }).click();
  await page.getByRole('combobox', { name: 'Degree' }).click();
  await page.getByTitle('2: what happens next').click();
  await page.getByRole('spinbutton', { name: 'Seed' }).fill('1');
  await expect.poll(() => questions.innerText()).toBe(first);
  expect(faults).toEqual([]);
});
