import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test, type College } from './college.js';
import { BoardOnPage, accessible, leadsOf, signIn } from './place.js';

/** A program is written where its board is wired, run, and marked. */

/** A student's bench of an exercise with its program beside the board. */
async function programOpened(page: Page, college: College, id: string) {
  const attempt = await college.wired(await college.set(id), []);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await page.getByRole('button', { name: 'Program', exact: true }).click();
  return { attempt, board: new BoardOnPage(page), dock: page.getByRole('region', { name: 'Program' }) };
}

/** A copy of an exercise in the Setter, once it stands there. */
async function copied(page: Page, id: string): Promise<void> {
  await page.goto(`/exercises/${id}`);
  await page.getByRole('button', { name: 'Copy to the Setter' }).click();
  await expect(page.getByRole('tab', { name: /Check and publish/ })).toHaveAttribute('aria-selected', 'true');
}

test('a student names what is wired, writes the rung, works the board and is marked', async ({
  page,
  college,
  faults,
}) => {
  const { attempt, board, dock } = await programOpened(page, college, 'brine-pump-controller-program');
  await dock.getByRole('button', { name: /Add wired terminals/ }).click();
  for (const [at, name] of [
    ['S1', 'Stop'],
    ['S2', 'Start'],
    ['F2', 'Trip'],
    ['KM1_in', 'Runs'],
  ] as const) {
    await dock.getByLabel(`Name of ${at}`, { exact: true }).fill(name);
    await dock.getByLabel(`Name of ${at}`, { exact: true }).press('Enter');
    await expect(dock.getByLabel(`Name of ${name}`, { exact: true })).toBeVisible();
  }
  await dock.getByText('Text', { exact: true }).click();
  const text = await dock.getByLabel('Structured text').inputValue();
  await dock
    .getByLabel('Structured text')
    .fill(text.replace('END_PROGRAM', 'KM1 := Stop AND Trip AND (Start OR Runs) AND Bad;\nEND_PROGRAM'));
  await dock.getByRole('button', { name: 'Apply' }).click();
  await expect(dock.getByText('"Bad" is not declared')).toBeVisible();
  await dock
    .getByLabel('Structured text')
    .fill(text.replace('END_PROGRAM', '(* runs until Stop *)\nKM1 := Stop AND Trip AND Start;\nEND_PROGRAM'));
  await dock.getByRole('button', { name: 'Apply' }).click();
  // The seal is drawn with the keyboard.
  await dock.getByText('Ladder', { exact: true }).click();
  await dock.getByRole('button', { name: 'NO Start' }).focus();
  await page.keyboard.press('b');
  await dock.getByLabel('Variable of the contact').click();
  await page.getByTitle('Runs', { exact: true }).click();
  await expect(dock.getByRole('button', { name: 'NO Runs' })).toBeVisible();
  await accessible(page);

  await college.permit(attempt);
  await page.getByRole('button', { name: 'Supply is off: switch on' }).click();
  await expect(board.device('A1')).toHaveAttribute('data-state', 'run');
  await board.handle('S2', 'push').click();
  await expect(board.device('KM1')).toHaveAttribute('data-state', 'in');
  await expect(dock.locator('[data-lit]').first()).toBeVisible();
  await college.handIn(attempt);
  await page.goto(`/slip/${attempt}`);
  await expect(page.getByText('Passed').first()).toBeVisible();
  expect(faults).toEqual([]);
});

test('a program that is fitted is only looked at', async ({ page, college }) => {
  const { dock } = await programOpened(page, college, 'brine-pump-controller');
  await expect(dock.getByRole('button', { name: 'Coil Pump' })).toBeVisible();
  await expect(dock.getByRole('button', { name: /Add rung/ })).toHaveCount(0);
});

test('an instructor lets the student write the program, and changes it in the Setter', async ({
  page,
  college,
  faults,
}) => {
  await signIn(page, college.instructor);
  await copied(page, 'brine-pump-controller');
  await page.getByRole('tab', { name: /Board/ }).click();
  await page.getByRole('button', { name: 'Programmable controller A1', exact: true }).click();
  await page.getByText('writes the program', { exact: true }).click();
  await page.getByRole('button', { name: 'Edit program' }).click();
  const dialog = page.getByRole('dialog', { name: 'Program of A1' });
  await dialog.getByRole('button', { name: 'NO Start' }).focus();
  await page.keyboard.press('Enter');
  await dialog.getByLabel('Variable of the contact').click();
  await page.getByTitle('Trip', { exact: true }).click();
  await expect(dialog.getByRole('button', { name: 'NO Trip' })).toHaveCount(2);
  await accessible(page);
  await dialog.getByText('Variables', { exact: true }).click();
  await expect(dialog.getByText('S1 NC 21-22 (Stop)').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('✓ Saved')).toBeVisible();
  expect(faults).toEqual([]);
});

test('terminals become contacts by dragging; variables are found; a program goes to a file and comes back', async ({
  page,
  college,
  faults,
}) => {
  const { board, dock } = await programOpened(page, college, 'brine-pump-controller-program');
  await dock.getByRole('button', { name: /Add wired terminals/ }).click();
  await dock.getByText('Ladder', { exact: true }).click();
  await dock.getByRole('button', { name: /Add rung/ }).click();
  await board.drag(board.terminal('S1:22'), dock.locator('[data-rung="0"]'));
  await board.drag(board.terminal('A1:I0.2'), dock.locator('[data-rung="0"]'));
  await expect(dock.getByRole('button', { name: 'NO S1' })).toBeVisible();
  await expect(dock.getByRole('button', { name: 'NO F2' })).toBeVisible();
  await expect(board.leads).toHaveCount(leadsOf('brine-pump-controller-program'));
  // One step back, by the bench's own undo.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(dock.getByRole('button', { name: 'NO F2' })).toHaveCount(0);
  await dock.getByLabel('Find a variable').click();
  await page.getByTitle('S1', { exact: true }).click();
  await expect(dock.locator('[data-found]')).toHaveAttribute('aria-label', 'NO S1');
  await dock.getByText('Variables', { exact: true }).click();
  await dock.getByRole('button', { name: 'Rung 1, written' }).click();
  await expect(dock.locator('[data-found]')).toHaveAttribute('aria-label', 'Coil KM1');

  await dock.getByRole('button', { name: 'Save as' }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'IEC 61131-10 XML' }).click();
  const saved = await (await saving).path();
  const file = { name: 'pump.xml', mimeType: 'application/xml', buffer: readFileSync(saved) };
  await dock.getByRole('button', { name: 'Coil KM1' }).click();
  await dock.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(dock.locator('[data-rung]')).toHaveCount(0);
  await dock.getByLabel('Program file').setInputFiles({ ...file, buffer: Buffer.from('<project>') });
  await expect(page.getByRole('dialog').getByText(/^Line \d+:/)).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await dock.getByLabel('Program file').setInputFiles(file);
  await page.getByRole('button', { name: 'Replace 0 rungs by 1 rung' }).click();
  await expect(dock.getByRole('button', { name: 'NO S1' })).toBeVisible();
  expect(faults).toEqual([]);
});

test('an instructor runs the reference, holds an input and sees the pump start', async ({
  page,
  college,
  faults,
}) => {
  await signIn(page, college.instructor);
  await copied(page, 'brine-pump-controller-program');
  await page.getByRole('tab', { name: /Reference/ }).click();
  await page.getByRole('button', { name: 'Show program' }).click();
  const aside = page.getByRole('complementary', { name: 'Program' });
  await expect(aside.getByRole('button', { name: 'Coil Pump' })).toBeVisible();
  await page.getByRole('button', { name: 'Supply is off: switch on' }).click();
  const board = new BoardOnPage(page);
  await board.shows('A1', 'run');
  await aside.getByText('Variables', { exact: true }).click();
  await aside.getByLabel('Force I0.1').click();
  await page.getByTitle('on', { exact: true }).click();
  await board.shows('KM1', 'in');
  await expect(aside.getByText('1 value forced: wiring and program have no effect there.')).toBeVisible();
  await accessible(page);
  expect(faults).toEqual([]);
});
