import { expect } from '@playwright/test';
import { loadDoors } from '../scripts/lib/stand-ins.mjs';
import { test } from './college.js';
import { BoardOnPage, accessible, signIn } from './place.js';

const TOOL = process.env.BASE_URL ?? '';

test('a course of a learning platform: linked, launched, wired, and its mark in the gradebook there', async ({
  browser,
  college,
  page,
}) => {
  const { Gradebook } = await loadDoors();
  const platform = new Gradebook({ tool: TOOL });
  await platform.start();
  try {
    // An administrator registers the platform.
    await college.sql("update people set role = 'administrator' where login = $1", [college.instructor]);
    await signIn(page, college.instructor);
    await page.goto('/college');
    await page.getByRole('tab', { name: 'Learning platforms' }).click();
    await page.getByRole('button', { name: 'Add platform' }).click();
    const dialog = page.getByRole('dialog');
    const given = platform.registration as Record<string, string> & { deployments: string[] };
    const fields = [
      ['Name', given.name],
      ['Issuer', given.issuer],
      ['Client ID', given.clientId],
      ['Authentication request URL', given.authUrl],
      ['Access token URL', given.tokenUrl],
      ['Public keyset URL', given.keysUrl],
    ] as const;
    for (const [label, value] of fields) await dialog.getByLabel(label, { exact: true }).fill(value ?? '');
    await dialog.getByLabel('Deployment IDs').fill(given.deployments[0] ?? '');
    await dialog.getByLabel('Deployment IDs').press('Enter');
    await accessible(page);
    await dialog.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByRole('row', { name: /College platform/ })).toBeVisible();

    // Its instructor adds an exercise from the course.
    const teacher = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await teacher.goto(platform.issuer);
    await teacher
      .getByRole('row', { name: /Petra Sandell/ })
      .getByRole('link', { name: 'Add from Contactum' })
      .click();
    await expect(teacher.getByRole('heading', { name: 'Add to Brine pumps, first year' })).toBeVisible();
    await teacher.getByLabel('Search exercises').fill('brine pump, three-wire');
    await teacher.getByRole('radio', { name: /^Brine pump, three-wire wire/ }).check();
    await accessible(teacher);
    await teacher.getByRole('button', { name: /^Add “Brine pump/ }).click();
    await expect(teacher.getByRole('columnheader', { name: 'Brine pump, three-wire' })).toBeVisible();

    // A student launches it.
    const student = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await student.goto(platform.issuer);
    await student
      .getByRole('row', { name: /Iver Holm/ })
      .getByRole('link', { name: 'Open', exact: true })
      .click();
    const board = new BoardOnPage(student);
    await expect(student.getByRole('heading', { name: 'Brine pump, three-wire' })).toBeVisible();
    await expect(student.locator('[data-terminal]').first()).toBeVisible();
    await board.type('G1 L1 > Q1 1');
    await expect(board.leads).toHaveCount(1);
    await student.getByRole('button', { name: 'Hand in' }).click();
    await student.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
    await expect(student).toHaveURL(/\/slip\//);
    await expect(async () => {
      await teacher.goto(platform.issuer);
      await expect(teacher.getByRole('row', { name: /Iver Holm/ }).first()).toContainText(
        /\d+(\.\d)? of \d+/,
        { timeout: 50 },
      );
    }).toPass({ intervals: [100] });

    // The roster of the course.
    await teacher
      .getByRole('row', { name: /Petra Sandell/ })
      .getByRole('link', { name: 'Open the course' })
      .click();
    await expect(teacher).toHaveURL(/\/marks\//);
    await teacher.getByRole('link', { name: 'Classes' }).click();
    await teacher.getByRole('button', { name: 'Roster of the course' }).click();
    const roster = teacher.getByRole('dialog');
    await expect(roster.getByRole('row', { name: /Mads Terkel/ })).toContainText('gets an account');
    await roster.getByRole('button', { name: 'Enrol 2' }).click();
    await expect(teacher.getByRole('link', { name: 'Mads Terkel' })).toBeVisible();
  } finally {
    await platform.stop();
  }
});
