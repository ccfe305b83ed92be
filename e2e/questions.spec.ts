import { expect, type Locator, type Page } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, accessible, askedBy, shownStates, signIn } from './place.js';

const HARROW = 'questions-reversing';

/** Chooses a cell of a table of states. */
async function choose(page: Page, question: Locator, cell: string, value: string): Promise<void> {
  await question.getByRole('combobox', { name: cell, exact: true }).click();
  await page.locator('.ant-select-dropdown:visible').getByTitle(value, { exact: true }).click();
}

test('an instructor makes questions about a board, saves them and assigns them', async ({
  page,
  college,
}) => {
  await signIn(page, college.instructor);
  await page.goto('/exercises/rinse-pump-single-phase/questions');
  await page.getByRole('button', { name: 'Save as exercise' }).click();
  await expect(page.getByRole('heading', { name: 'Single-phase line starter: questions 2.1' })).toBeVisible();
  await expect(page.getByRole('tab', { name: 'Questions (6)' })).toBeVisible();
  await expect(page.locator('.exercise-left .steps > li')).toHaveCount(6);
  await expect(page.getByText('the right answers are worked out on it')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Assign to a class' }).click();
  await page.getByRole('combobox', { name: 'Class' }).click();
  await page.getByTitle(`${college.className} (1 student)`).click();
  await page.getByRole('button', { name: 'Assign', exact: true }).click();
  await expect(page.getByText(`${college.className}: 0 of 1 handed in`)).toBeVisible();
});

test('a draft in the Setter is asked about as it was saved last', async ({ page, college }) => {
  await signIn(page, college.instructor);
  await page.goto('/exercises/button-lamp-no');
  await page.getByRole('button', { name: 'Copy to the Setter' }).click();
  await page.getByRole('button', { name: 'Ask about this board' }).click();
  await expect(page.getByRole('heading', { name: 'Questions about this board' })).toBeVisible();
  await expect(
    page.getByRole('region', { name: 'Questions' }).locator('.questions > li').first(),
  ).toBeVisible();
  await page.getByRole('link', { name: /^Setter: / }).click();
  await expect(page.getByRole('tab', { name: '2 Reference (3)' })).toBeVisible();
  await page.goto('/parts/relay');
  await expect(page.getByRole('heading', { name: 'Relay' })).toBeVisible();
  await accessible(page);
});

test('a student answers by tapping, choosing and working the board; each wrong cell plays on the slip', async ({
  page,
  college,
}) => {
  await college.set(HARROW);
  await signIn(page, college.student);
  await page.getByRole('button', { name: 'Start answering' }).click();
  await expect(page.getByRole('heading', { name: 'Salt harrow without interlock: questions' })).toBeVisible();
  const items = page.locator('.answering > li');
  await expect(items).toHaveCount(8);
  await expect(page.getByText('0 of 8 answered, saved')).toBeVisible();
  await accessible(page);

  // The danger: worked on the board, which stays as it is; what is too much is taken out again.
  const danger = items.filter({ hasText: 'makes a short circuit' });
  await danger.click();
  await page.locator('.question-board').getByText('Board', { exact: true }).click();
  const board = new BoardOnPage(page);
  for (const button of ['S2', 'S3']) await board.push(button);
  const order = danger.getByRole('list', { name: 'Order of working' }).getByRole('listitem');
  await expect(order).toHaveCount(4);
  await danger.getByRole('button', { name: 'Remove step 4, release S3' }).click();
  await danger.getByRole('button', { name: 'Remove step 2, release S2' }).click();
  await expect(order).toHaveText(['press S2 Remove', 'press S3 Remove']);
  await expect(page.getByText('1 of 8 answered, saved')).toBeVisible();

  // A table of states: right but for its last cell. What is answered is there after the page was lost.
  const [first = ''] = askedBy(HARROW, 'states');
  const place = Number(first.slice(1)) - 1;
  const cells = shownStates(HARROW, first);
  for (const { cell, value } of cells.slice(0, -1)) await choose(page, items.nth(place), cell, value);
  await expect(items.nth(place)).toHaveAttribute('data-filled', 'some');
  await expect(page.getByText('1 of 8 answered, saved')).toBeVisible();
  await page.reload();
  await expect(order).toHaveCount(2);
  const last = cells.at(-1)!;
  await choose(page, items.nth(place), last.cell, last.value === 'open' ? 'closed' : 'open');
  await expect(page.getByText('2 of 8 answered, saved')).toBeVisible();

  // Contacts are tapped on the drawing; a second tap takes one out.
  const [path = ''] = [...askedBy(HARROW, 'holds'), ...askedBy(HARROW, 'blocks')];
  const contacts = items.nth(Number(path.slice(1)) - 1);
  await contacts.locator('p').first().click();
  await page.locator('.question-board [data-at="S1:21"]').click();
  await expect(contacts.getByTitle('S1 21-22')).toBeVisible();
  await page.locator('.question-board [data-at="S1:21"]').click();
  await expect(contacts.getByTitle('S1 21-22')).toHaveCount(0);

  await page.getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText(/Not fully answered: /)).toBeVisible();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText('Not passed')).toBeVisible();
  const answers = page.getByRole('region', { name: 'Answers' });
  await expect(answers.locator('.criteria > li')).toHaveCount(8);
  await expect(answers.locator('.criteria > li', { hasText: 'makes a short circuit' })).toContainText(
    '5 of 5',
  );
  const wrong = answers.locator('.criteria > li').nth(place);
  await expect(wrong).toContainText(`right is ${last.value}`);
  await wrong.getByRole('button', { name: 'Replay' }).click();
  await expect(page.locator('.replay-steps li').last()).toHaveAttribute('data-done', 'yes');
  await accessible(page);
});
