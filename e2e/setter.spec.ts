import { expect, type Page } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, accessible, reference, signIn } from './place.js';

/**
 * What a person who sees it for the first time takes between two things, milliseconds; nothing where only
 * the way counts.
 */
const NO_PAUSE = 0;
const FIRST_TIME = 2_500;

async function choose(page: Page, field: string, value: string): Promise<void> {
  await page.getByRole('combobox', { name: field, exact: true }).click();
  await page.getByTitle(value, { exact: true }).click();
}

/** The Setter's templates, the first of them shown. */
async function templatesOpened(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Setter' }).click();
  await expect(page.getByRole('img', { name: 'The board of the template, wired' })).toBeVisible();
}

/** The draft becomes an exercise, under its title. */
async function published(page: Page, title: string): Promise<void> {
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
}

/** The published exercise goes to a class. */
async function assigned(page: Page, className: string, think: () => Promise<void>): Promise<void> {
  await page.getByRole('button', { name: 'Assign to a class' }).click();
  await page.getByRole('combobox', { name: 'Class' }).click();
  await page.getByTitle(new RegExp(`^${className}`)).click();
  await think();
  await page.getByRole('button', { name: 'Assign', exact: true }).click();
  await expect(page.getByText(`Assigned to ${className}. The students see it now.`)).toBeVisible();
}

/** From a template to an exercise that is set to a class. */
async function templateToSet(page: Page, className: string, pause: number): Promise<void> {
  const think = () => page.waitForTimeout(pause);
  await templatesOpened(page);
  await think();
  await choose(page, 'Family', 'Reversing');
  await think();
  await page.getByRole('checkbox', { name: 'mechanical' }).check();
  await think();
  await page.getByRole('checkbox', { name: 'tripped' }).check();
  await think();
  await expect(page.getByText('11 devices')).toBeVisible();
  await page.getByRole('button', { name: 'Create exercise' }).click();
  await expect(page.getByText('The reference stands up to everything that is asked.')).toBeVisible();
  await think();
  await page.getByLabel('Title').fill('Salt harrow of ours');
  await think();
  await page.getByRole('button', { name: /Mark sixty wirings/ }).click();
  await expect(page.getByText(/\d+ wirings marked: every mark says what it should/)).toBeVisible();
  await think();
  await page.locator('.trials button').first().click();
  await think();
  await published(page, 'Salt harrow of ours');
  await think();
  await assigned(page, className, think);
}

const PUMP = reference('brine-pump-three-wire');

/**
 * From nothing to an exercise that is published: devices from the shelf, their options, leads, behaviours.
 */
async function emptyToPublished(page: Page, pause: number): Promise<void> {
  const think = () => page.waitForTimeout(pause);
  await page.getByRole('link', { name: 'Setter' }).click();
  await page.getByRole('button', { name: 'Start with an empty board' }).click();
  const shelf = page.getByRole('complementary', { name: 'Devices' });
  const take = async (name: string) => {
    await shelf.getByRole('button', { name, exact: true }).click();
    await think();
  };
  for (const name of [
    'Three-phase',
    'Breaker',
    'Fuse',
    'Contactor',
    'Overload',
    'Motor, 3-phase',
    'Button',
    'Button',
  ])
    await take(name);
  await expect(page.getByRole('button', { name: 'Button S2' })).toHaveAttribute('aria-pressed', 'true');
  await choose(page, 'Duty', 'Start');
  await think();
  await page.getByRole('button', { name: 'Button S1' }).click();
  await choose(page, 'Duty', 'Stop');
  await page.getByRole('button', { name: 'Add a NC contact' }).click();
  await think();
  await page.getByRole('tab', { name: /Reference/ }).click();
  const board = new BoardOnPage(page);
  // S1 has its NC contact beside an NO: the next free number.
  const leads = PUMP.map(({ from, to, colour }) => ({ from, to, colour }));
  for (const { from, to, colour } of leads) {
    await board.type(`${from.replace(':', ' ')} > ${to.replace(':', ' ')}${colour ? ` ${colour}` : ''}`);
    await page.waitForTimeout(pause / 2);
  }
  await expect(board.leads).toHaveCount(PUMP.length);
  await page.getByRole('tab', { name: /Behaviours/ }).click();
  await page.getByRole('button', { name: 'Propose from the reference' }).click();
  await expect(page.getByText(/behaviours proposed from the reference/)).toBeVisible();
  await think();
  await page.getByRole('tab', { name: /Check and publish/ }).click();
  await expect(page.getByText('The reference stands up to everything that is asked.')).toBeVisible();
  await page.getByLabel('Title').fill('Brine pump from nothing');
  await think();
  await published(page, 'Brine pump from nothing');
}

test('a template becomes an exercise that proves clean, is tried dry, published, set, and changed as a new version', async ({
  page,
  college,
}) => {
  await signIn(page, college.instructor);
  await templateToSet(page, college.className, NO_PAUSE);
  await page.getByRole('button', { name: 'Next version' }).click();
  // The exercise's own page has a tab of the same name.
  await expect(page.getByText('next after version 1')).toBeVisible();
  await page.getByRole('tab', { name: /Behaviours/ }).click();
  await accessible(page);
  await page.getByRole('spinbutton', { name: 'Points' }).fill('9');
  await page.getByRole('spinbutton', { name: 'Points' }).press('Tab');
  // A value that is not so on the reference is shown at once, and refuses publishing.
  const cell = page.getByRole('combobox', { name: 'KM1 after step 2' });
  await cell.fill('out');
  await cell.press('Tab');
  await expect(page.getByText('is in', { exact: true })).toBeVisible();
  await page.getByRole('tab', { name: /Check and publish/ }).click();
  await expect(page.getByText('It cannot be set as it is.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Publish' })).toBeDisabled();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('The reference stands up to everything that is asked.')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('dialog').getByText('Against version 1:')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('tab', { name: 'Versions' }).click();
  await expect(page.getByText(/Assigned to Class/)).toBeVisible();
  await accessible(page);
});

test('the board is built by mouse and by keyboard, and every step is taken back', async ({
  page,
  college,
}) => {
  await signIn(page, college.instructor);
  await page.goto('/exercises/brine-pump-three-wire');
  await page.getByRole('button', { name: 'Copy to the Setter' }).click();
  await page.getByRole('tab', { name: /Board/ }).click();
  const grip = (name: string) => page.getByRole('button', { name, exact: true });
  await expect(grip('Contactor KM1')).toBeVisible();
  await accessible(page);
  // A lamp from the shelf onto the door, before Stop.
  const board = new BoardOnPage(page);
  await board.drag(
    page.getByRole('complementary', { name: 'Devices' }).getByRole('button', { name: 'Lamp' }),
    grip('Button S1'),
  );
  await expect(grip('Lamp H1')).toHaveAttribute('aria-pressed', 'true');
  const above = async () =>
    ((await grip('Lamp H1').boundingBox())?.y ?? 0) < ((await grip('Button S2').boundingBox())?.y ?? 0);
  expect(await above()).toBe(true);
  // By keyboard: down the door, once more, a new name, away.
  await grip('Lamp H1').focus();
  await page.keyboard.press('Control+d');
  await expect(grip('Lamp H2')).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('textbox', { name: 'Designation' }).fill('H9');
  await page.getByRole('textbox', { name: 'Designation' }).press('Enter');
  await expect(grip('Lamp H9')).toBeVisible();
  await grip('Lamp H9').focus();
  await page.keyboard.press('Delete');
  await expect(grip('Lamp H9')).toBeHidden();
  for (let k = 0; k < 4; k += 1) await page.keyboard.press('Control+z');
  await expect(grip('Lamp H1')).toBeHidden();
  await expect(page.getByText('✓ Saved')).toBeVisible();
});

test('@long a first-time instructor: from a template to a set exercise in three minutes, from an empty board in ten', async ({
  page,
  college,
}) => {
  test.setTimeout(900_000);
  await signIn(page, college.instructor);
  const begun = Date.now();
  await templateToSet(page, college.className, FIRST_TIME);
  const template = (Date.now() - begun) / 1000;
  const again = Date.now();
  await emptyToPublished(page, FIRST_TIME);
  const empty = (Date.now() - again) / 1000;
  console.log(
    `template to set: ${template.toFixed(0)} s of 180; empty board to published: ${empty.toFixed(0)} s of 600`,
  );
});

/** The three-wire starter with a controller in place of its chain of contacts: tried, and set to a class. */
async function convertedToSet(page: Page, className: string, pause: number): Promise<void> {
  const think = () => page.waitForTimeout(pause);
  await templatesOpened(page);
  await think();
  await choose(page, 'Logic', 'by controller');
  await think();
  await expect(page.getByText('10 devices')).toBeVisible();
  await page.getByRole('button', { name: 'Create exercise' }).click();
  await expect(page.getByText('The reference stands up to everything that is asked.')).toBeVisible();
  await think();
  await page.getByLabel('Title').fill('Brine pump with a controller of ours');
  await think();
  // The program beside the board, as it runs.
  await page.getByRole('tab', { name: /Reference/ }).click();
  await page.getByRole('button', { name: 'Show program' }).click();
  const aside = page.getByRole('complementary', { name: 'Program' });
  await expect(aside.getByRole('button', { name: 'Coil Motor' })).toBeVisible();
  await think();
  await page.getByRole('button', { name: 'Supply is off: switch on' }).click();
  const board = new BoardOnPage(page);
  await board.shows('A1', 'run');
  await think();
  await board.push('S2');
  await board.shows('KM1', 'in');
  await think();
  await page.getByRole('button', { name: /switch off/ }).click();
  // Who writes the program.
  await page.getByRole('tab', { name: /Board/ }).click();
  await page.getByRole('button', { name: 'Programmable controller A1', exact: true }).click();
  await think();
  await page.getByText('writes the program', { exact: true }).click();
  await think();
  await page.getByRole('tab', { name: /Check and publish/ }).click();
  await expect(page.getByText('The reference stands up to everything that is asked.')).toBeVisible();
  await think();
  await published(page, 'Brine pump with a controller of ours');
  await think();
  await assigned(page, className, think);
}

test('@long a first-time instructor converts the three-wire starter to a controller in five minutes', async ({
  page,
  college,
  faults,
}) => {
  await signIn(page, college.instructor);
  const begun = Date.now();
  await convertedToSet(page, college.className, FIRST_TIME);
  const taken = (Date.now() - begun) / 1000;
  console.log(`three-wire starter converted to a controller and set: ${taken.toFixed(0)} s of 300`);
  expect(faults).toEqual([]);
});
