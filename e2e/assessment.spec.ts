import { randomUUID } from 'node:crypto';
import { expect, type Page } from '@playwright/test';
import { test } from './college.js';
import { Hand } from './hand.js';
import { BoardOnPage, accessible, reference, signIn, signOut } from './place.js';

/** What the story sets: found by the instructor among all exercises. */
const PUMP = 'Brine pump, three-wire';
const HARROW = 'Salt harrow, electrical interlock';
/** Whoever sets the first one reads and looks for longer than the model has it, which is of practised people. */
const FIRST_TIME = 2;

/** Chooses an exercise: types the beginning of its title, and takes it from the list. */
async function choose(hand: Hand, page: Page, title: string): Promise<void> {
  await hand.type(page.getByRole('combobox', { name: 'Add an exercise', exact: true }), title.slice(0, 12));
  await hand.click(page.locator('.ant-select-dropdown:visible').getByTitle(`${title} (wire)`).first());
}

const act = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).click();

/** Gives the reason that is asked for. */
async function because(page: Page, label: string, why: string, button: string): Promise<void> {
  await page.getByRole('textbox', { name: label }).fill(why);
  await page.getByRole('dialog').getByRole('button', { name: button, exact: true }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
}

test('an assessment: set in a few minutes, sat under the clock, examined, released, appealed', async ({
  page,
  college,
  browser,
}) => {
  // Setting: a task with variants, one on the physical board, what is watched, and what passes.
  const hand = new Hand();
  await signIn(page, college.instructor);
  await page.getByRole('link', { name: 'Assessments' }).click();
  await page.goto('/assessments');
  await hand.click(page.getByRole('link', { name: 'Set an assessment' }));
  await hand.type(page.getByRole('textbox', { name: 'Title' }), 'Practical test 1');
  await choose(hand, page, PUMP);
  await choose(hand, page, HARROW);
  await hand.click(page.getByRole('checkbox', { name: 'Task 2 on the physical board' }));
  await hand.click(page.getByRole('button', { name: 'Add criteria to be observed' }));
  await expect(page.getByRole('list', { name: 'Tasks' }).locator('> li')).toHaveCount(3);
  await expect(page.getByRole('checkbox', { name: 'variants' })).toHaveCount(1);
  await hand.click(page.getByRole('checkbox', { name: 'must be passed' }).first());
  await hand.type(page.getByRole('spinbutton', { name: 'Weight of task 1' }), '80');
  await hand.type(page.getByRole('spinbutton', { name: 'Minutes of the whole' }), '60');
  await accessible(page);
  await hand.click(page.getByRole('button', { name: 'Set the assessment' }));
  expect(FIRST_TIME * hand.seconds).toBeLessThan(300);
  await expect(page.getByRole('heading', { name: 'Practical test 1' })).toBeVisible();
  await expect(page.getByText('not started').first()).toBeVisible();

  // The student waits; nothing is told yet.
  const other = await browser.newContext();
  const desk = await other.newPage();
  await signIn(desk, college.student);
  await desk.getByRole('link', { name: 'Assessments' }).click();
  await desk.getByRole('link', { name: 'Practical test 1' }).click();
  await expect(desk.getByText('The invigilator starts everybody at once.')).toBeVisible();
  await expect(desk.getByText(PUMP)).toHaveCount(0);
  await accessible(desk);

  // Started for all: the student's page goes on by itself.
  await act(page, /^.*Start all/);
  await expect(page.getByText('started for all')).toBeVisible();
  await expect(desk.getByRole('button', { name: 'Begin' })).toBeVisible();
  await expect(desk.locator('.countdown')).toContainText(/5\d:\d\d left|60:00 left/);
  await act(desk, 'Begin');
  await expect(desk.locator('.job-sheet')).toBeVisible();
  await expect(desk.getByRole('region', { name: 'Assessment' })).toBeVisible();
  // No aid that is not allowed.
  await expect(desk.getByRole('button', { name: 'Proof', exact: true })).toHaveCount(0);
  await expect(desk.getByRole('button', { name: 'Meter', exact: true })).toBeVisible();
  await act(desk, 'Hide the time');
  await expect(desk.locator('.countdown')).not.toContainText('left');

  // A fire alarm.
  await act(page, /Pause all/);
  await because(page, 'Reason', 'fire alarm', 'Stop the clock');
  await expect(desk.getByText('Paused')).toBeVisible({ timeout: 20_000 });
  await act(page, /Resume all/);
  await expect(desk.getByText('Paused')).toHaveCount(0, { timeout: 20_000 });
  await act(page, /More time for all/);
  await because(page, 'Reason', 'the alarm', 'More time');
  await expect(page.getByText('5 min more for all')).toBeVisible();

  // The board is the student's own variant: it is wired by what the server has of it.
  const attempt = desk.url().split('/').at(-1) ?? '';
  const { rows } = await college.sql('select document->$2 as reference from attempts where id = $1', [
    attempt,
    'reference',
  ]);
  const own = (rows as { reference: ReturnType<typeof reference> }[])[0]?.reference ?? [];
  expect(own.length).toBe(reference('brine-pump-three-wire').length);
  for (const [k, wire] of own.entries())
    await desk.request.post(`/api/attempts/${attempt}/log`, {
      data: { seq: k + 1, entry: { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire } } },
    });
  await desk.reload();
  await expect(new BoardOnPage(desk).leads).toHaveCount(own.length);
  await desk.getByRole('link', { name: 'All tasks' }).click();
  await expect(desk.getByText('under way')).toBeVisible();
  await expect(desk.getByText('wired on the physical board')).toBeVisible();
  await accessible(desk);
  await act(desk, 'End the assessment');
  await act(desk, 'End and hand in');
  await expect(desk.getByText('Marks are shown to everybody at one moment')).toBeVisible();

  // The bench sheet of the physical board: taken along from the room, and sent.
  const sheets = page.getByRole('list', { name: 'Bench sheets' });
  await expect(sheets.getByText('0 of 1 entered')).toBeVisible();
  const assessed = page.url();
  const setting = (await sheets.getByRole('link').getAttribute('href'))?.split('=')[1] ?? '';
  await sheets.getByRole('link').click();
  await expect(page.getByRole('region', { name: 'A new sheet' })).toBeVisible();
  const { rows: sitting } = await college.sql(
    'select student_id from assessment_sittings where started_at is not null',
    [],
  );
  const sent = await page.request.post(`/api/assignments/${setting}/sheets`, {
    data: {
      id: randomUUID(),
      studentId: (sitting as { student_id: string }[])[0]?.student_id,
      entries: { dead: {}, functions: {}, settings: {}, checks: {} },
      photo: null,
    },
  });
  expect(sent.status()).toBe(201);
  await page.goto(assessed);
  await page.getByRole('tab', { name: 'Room' }).click();
  await expect(sheets.getByText('1 of 1 entered')).toBeVisible();

  // Examining, moderation, sign-off, release.
  await page.getByRole('tab', { name: 'Examine' }).click();
  await page.getByText('done unasked (6)').click();
  await page.getByText('always (4)').click();
  await page.getByText('cleanly (4)').click();
  await expect(
    page.getByRole('combobox', { name: 'Student' }).locator('xpath=ancestor::div[1]'),
  ).toBeVisible();
  await page.getByRole('tab', { name: 'Marks' }).click();
  await expect(page.getByText('14 of 14')).toBeVisible();
  await act(page, 'Moderate');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Before it can be signed off:')).toHaveCount(0);
  await accessible(page);
  await act(page, 'Sign off');
  await page.locator('.ant-popconfirm').getByRole('button', { name: 'Sign off' }).click();
  await act(page, 'Release the marks');
  await page.locator('.ant-popconfirm').getByRole('button', { name: 'Release' }).click();
  await expect(page.getByText('The marks are released.')).toBeVisible();

  // The student reads them, and appeals.
  await expect(desk.locator('.verdict .score')).toContainText('%', { timeout: 20_000 });
  await desk.getByRole('button', { name: 'Appeal' }).last().click();
  await desk.getByRole('textbox', { name: 'Which criterion' }).fill('Leads are laid cleanly');
  await desk
    .getByRole('textbox', { name: 'Why it should be looked at again' })
    .fill('The leads of the motor were laid by somebody else.');
  await desk.getByRole('dialog').getByRole('button', { name: 'Send' }).click();
  await expect(desk.getByText('Not answered yet.')).toBeVisible();
  await page.getByRole('tab', { name: /Appeals/ }).click();
  await page.getByRole('radio', { name: 'Not upheld' }).check();
  await page.getByRole('textbox', { name: 'Reason' }).fill('The log shows who laid them: they are yours.');
  await act(page, 'Answer');
  await expect(desk.getByText('The log shows who laid them: they are yours.')).toBeVisible({
    timeout: 20_000,
  });
  await page.getByRole('tab', { name: 'Analysis' }).click();
  await expect(page.getByText('1 of 1 passed.')).toBeVisible();
  await accessible(page);
  await page.getByRole('tab', { name: 'Similarity' }).click();
  await act(page, 'Compare the class');
  await expect(page.getByText('too few to say what chance does')).toBeVisible();
  await other.close();
  await signOut(page);
});
