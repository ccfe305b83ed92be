import { expect } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, PASSWORD, accessible, reference, signIn } from './place.js';

const WIRES = reference('brine-pump-emergency-stop');

test('the floor sees a bench, permits it, says a word, and takes the lead when the student agrees', async ({
  page,
  browser,
  college,
}) => {
  const attempt = await college.wired(await college.set('brine-pump-emergency-stop'), WIRES.slice(0, 6));
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const student = await context.newPage();
  await signIn(student, college.student);
  await student.goto(`/bench/${attempt}`);
  const board = new BoardOnPage(student);
  await expect(board.leads).toHaveCount(6);

  await signIn(page, college.instructor);
  await page.getByRole('link', { name: 'Floor' }).click();
  const tile = page.locator('.bench-tile', { hasText: college.studentName });
  await expect(tile).toContainText('● at work');
  await expect(tile).toContainText('6 leads');
  await accessible(page);
  await student.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(tile).toHaveAttribute('data-state', 'asks');
  await tile.getByRole('button', { name: /^Permit/ }).click();
  await expect(student.getByText(/Permission given at/)).toBeVisible();
  await expect(tile).not.toHaveAttribute('data-state', 'asks');

  await tile.getByRole('button', { name: new RegExp(college.studentName) }).click();
  await expect(student.getByText(/looks on$/)).toBeVisible();
  await page.getByLabel('Message this bench').fill('Mind the overload contact.');
  await page.getByLabel('Message this bench').press('Enter');
  const box = student.getByRole('region', { name: 'Messages with your instructor' });
  await expect(box).toContainText('Mind the overload contact.');
  // The answer waits on the tile until the instructor writes again.
  await student.getByLabel('Message your instructor').fill('95-96 or 97-98?');
  await student.getByLabel('Message your instructor').press('Enter');
  await expect(tile).toContainText('“95-96 or 97-98?”');
  await expect(tile).toHaveAttribute('data-state', 'word');
  const shoulder = page.getByRole('region', { name: `Bench of ${college.studentName}` });
  await expect(shoulder.getByRole('log')).toContainText('95-96 or 97-98?');
  await accessible(page);
  await accessible(student);
  await page.getByLabel('Message this bench').fill('The one that opens.');
  await page.getByLabel('Message this bench').press('Enter');
  await expect(tile).not.toHaveAttribute('data-state', 'word');
  await expect(box).toContainText('The one that opens.');
  await box.getByRole('button', { name: 'Close messages' }).click();
  await expect(box).toBeHidden();
  // What the wiring can do so far is proved for the instructor, and follows each lead.
  const proof = shoulder.getByRole('region', { name: 'Proof' });
  await expect(proof).toContainText(/does \d of \d+ functions/);
  await board.type('G1 L1 > G1 L2');
  await expect(proof).toContainText('Would short as the supply comes on');
  await proof.getByRole('button', { name: 'Show proof' }).click();
  await expect(proof.locator('li[data-stands="broken"]')).not.toHaveCount(0);
  await accessible(page);
  await board.type('cut G1 L1 > G1 L2');
  await expect(proof).not.toContainText('Would short');
  // What the student does is seen as it is done.
  await student.getByRole('button', { name: /switch on/ }).click();
  await expect(tile).toContainText('● supply on');
  await student.getByRole('button', { name: /switch off/ }).click();
  await page.getByRole('button', { name: 'Ask for the lead' }).click();
  await student.getByRole('button', { name: 'Yes' }).click();
  await page.getByLabel('Type a lead for this bench').fill('G1 PE > M1 PE');
  await page.getByLabel('Type a lead for this bench').press('Enter');
  await expect(board.leads).toHaveCount(7);
  await expect(tile).toContainText('7 leads');
  await accessible(page);
  await student.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByRole('button', { name: 'Ask for the lead' })).toBeVisible();
  await context.close();
  await expect(tile).toContainText('○ away');
});

test('a class is enrolled by a list; a student sets a password, joins another by its code; all is in the records', async ({
  page,
  browser,
  college,
}) => {
  const login = `n${college.student}`;
  await signIn(page, college.instructor);
  await page.getByRole('link', { name: 'Classes' }).click();
  await page.getByRole('button', { name: 'Import class list' }).click();
  await page.getByLabel('List of students').fill(`Name,Login\nNina Groyne,${login}\nNobody,\n`);
  await page.getByRole('button', { name: 'Look at it' }).click();
  await expect(page.getByText('1 lines can be taken, 1 cannot.')).toBeVisible();
  await expect(page.getByText('no login')).toBeVisible();
  await page.getByRole('button', { name: 'Take 1 and leave 1 out' }).click();
  const first = await page.getByRole('dialog').locator('strong').textContent();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('cell', { name: 'has not signed in yet' })).toBeVisible();
  await page.getByRole('button', { name: 'Make one' }).click();
  const code = await page.getByLabel('Join code').textContent();
  await accessible(page);

  const context = await browser.newContext();
  const nina = await context.newPage();
  await nina.goto('/');
  await nina.getByLabel('Name').fill(login);
  await nina.getByLabel('Password').fill(first ?? '');
  await nina.getByRole('button', { name: 'Sign in' }).click();
  await expect(nina.getByRole('heading', { name: 'Welcome, Nina Groyne' })).toBeVisible();
  await accessible(nina);
  await nina.getByLabel('First password').fill(first ?? '');
  await nina.getByLabel('New password').fill(PASSWORD);
  await nina.getByRole('button', { name: 'Save and continue' }).click();
  await expect(nina.getByRole('heading', { name: 'Exercises', level: 1 })).toBeVisible();
  await nina.getByLabel('Class code').fill(code ?? '');
  await nina.getByRole('button', { name: 'Join' }).click();
  await expect(nina.getByText(`You are in ${college.className} now.`)).toBeVisible();
  await context.close();

  await page.getByRole('button', { name: /: account$/ }).click();
  await page.getByRole('menuitem', { name: 'Students and records' }).click();
  await page.getByRole('tab', { name: 'Records' }).click();
  await expect(page.getByText(`1 by a list in ${college.className}`)).toBeVisible();
  await expect(page.getByRole('cell', { name: 'joined by code' })).toBeVisible();
  await accessible(page);
});
