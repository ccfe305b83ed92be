import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, PASSWORD, accessible, reference, signIn, signOut } from './place.js';

const PUMP = reference('brine-pump-three-wire');
const SEAL_IN = PUMP.filter(({ from }) => from !== 'KM1:14');
const typed = ({ from, to, colour }: { from: string; to: string; colour?: string | undefined }) =>
  `${from.replace(':', ' ')} > ${to.replace(':', ' ')}${colour ? ` ${colour}` : ''}`;

test('the instructor reads an exercise and sets it to a class', async ({ page, college }) => {
  await signIn(page, college.instructor);
  await accessible(page);
  await page
    .locator('.exercise-card', { hasText: 'Brine pump, three-wire' })
    .getByRole('link', { name: 'Open' })
    .click();
  await expect(page.getByRole('heading', { name: 'Brine pump, three-wire', level: 1 })).toBeVisible();
  await page.getByText('Holds after Start is let go').click();
  await expect(page.getByText(/M1\.speed is at least 1400 and at most 1500/)).toBeVisible();
  await page.getByRole('tab', { name: 'Devices (8)' }).click();
  await expect(page.getByRole('cell', { name: '2.5 to 4 A, class 10' })).toBeVisible();
  await page.getByRole('tab', { name: 'Reference (21)' }).click();
  await expect(page.getByRole('cell', { name: 'KM1 13', exact: true })).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Assign to a class' }).click();
  await page.getByRole('combobox', { name: 'Class' }).click();
  await page.getByTitle(`${college.className} (1 student)`).click();
  await page.getByRole('button', { name: 'Assign', exact: true }).click();
  await expect(page.getByText(`Assigned to ${college.className}. The students see it now.`)).toBeVisible();
  await expect(page.getByText(`${college.className}: 0 of 1 handed in`)).toBeVisible();
});

test('a student wires with the mouse', async ({ page, college }) => {
  await college.set('brine-pump-three-wire');
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page
    .locator('.exercise-card', { hasText: 'Brine pump, three-wire' })
    .getByRole('button', { name: 'Start wiring' })
    .click();
  await expect(page.getByRole('heading', { name: 'Brine pump, three-wire', level: 1 })).toBeVisible();
  await board.click('G1:L1', 'Q1:1');
  await expect(board.leads).toHaveCount(1);
  await board.drag(board.terminal('G1:L2'), board.terminal('Q1:3'));
  await expect(board.leads).toHaveCount(2);
  // A lead follows the pointer.
  const from = await board.centre(board.terminal('G1:L3'));
  await page.mouse.click(from.x, from.y);
  await page.mouse.move(from.x + 200, from.y + 120);
  await expect(page.locator('.rubber')).toHaveAttribute('d', /^M/);
  await page.keyboard.press('Escape');
  // Wrong place, put right by moving its end.
  await board.click('G1:L3', 'Q1:6');
  await expect(board.leads).toHaveCount(3);
  await page.getByText('Leads (3)', { exact: true }).click();
  await page.getByRole('button', { name: 'G1 L3 – Q1 6', exact: true }).click();
  await board.drag(page.locator('[data-end="to"]'), board.terminal('Q1:5'));
  await expect(page.getByRole('button', { name: 'G1 L3 – Q1 5', exact: true })).toBeVisible();
  // Removed, and undone; and redone, and undone.
  await page.getByRole('button', { name: 'Remove lead G1:L1 to Q1:1' }).click();
  await expect(board.leads).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(board.leads).toHaveCount(3);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(board.leads).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(board.leads).toHaveCount(3);
  // Colours: of the next lead, and of one that is there.
  await page.getByRole('radio', { name: /^brown/ }).click();
  await board.click('Q1:2', 'KM1:1');
  await expect(page.locator('[data-lead="w4"] title')).toHaveText(/brown/);
});

test('and with the keyboard alone, and by typing; everything is stored as it is made', async ({
  page,
  college,
}) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), PUMP.slice(0, 3));
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await expect(board.leads).toHaveCount(3);
  await page.getByRole('application').focus();
  await page.keyboard.press('ArrowRight');
  const cursor = page.locator('.cursor-ring.keyboard');
  const over = async (ref: string) => {
    const goal = await board.centre(board.terminal(ref));
    for (let k = 0; k < 60; k += 1) {
      const here = await board.centre(cursor);
      const [dx, dy] = [goal.x - here.x, goal.y - here.y];
      if (Math.hypot(dx, dy) < 3) return;
      await page.keyboard.press(
        Math.abs(dx) > Math.abs(dy)
          ? dx > 0
            ? 'ArrowRight'
            : 'ArrowLeft'
          : dy > 0
            ? 'ArrowDown'
            : 'ArrowUp',
      );
    }
    throw new Error(`the arrow keys do not reach ${ref}`);
  };
  await over('Q1:4');
  await page.keyboard.press('Enter');
  await over('KM1:3');
  await page.keyboard.press('Enter');
  await expect(board.leads).toHaveCount(4);
  await page.keyboard.press('l');
  await page.keyboard.press('Delete');
  await expect(board.leads).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(board.leads).toHaveCount(4);
  await page.keyboard.press('/');
  await expect(page.getByLabel(/^Type a lead/)).toBeFocused();
  await board.type('Q1 99 > KM1 5');
  await expect(page.getByText('“Q1 99” is not a terminal of this board.')).toBeVisible();
  for (const wire of PUMP.slice(5, 9)) await board.type(typed(wire));
  await expect(board.leads).toHaveCount(8);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(board.leads).toHaveCount(8);
  await accessible(page);
});

test('the board shows what really happens; a short opens the breaker and says what met', async ({
  page,
  college,
}) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), SEAL_IN);
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await expect(board.leads).toHaveCount(20);
  await page.getByRole('button', { name: 'Supply is off: switch on' }).click();
  await board.shows('G1', 'closed');
  await expect(page.locator('[data-terminal="S1:21"]')).toHaveAttribute('data-live', '1');
  await expect(page.locator('[data-terminal="KM1:A1"]')).toHaveAttribute('data-live', '0');
  // Wiring with the supply on is refused.
  await board.click('KM1:14', 'KM1:A1');
  await expect(page.getByText('The supply is on. Switch it off before you change the wiring.')).toBeVisible();
  await expect(board.leads).toHaveCount(20);
  // It runs while Start is held, and drops: the seal-in is missing.
  const { x, y } = await board.centre(board.handle('S2', 'push'));
  await page.mouse.move(x, y);
  await page.mouse.down();
  await board.shows('KM1', 'in');
  await expect(board.device('M1')).toHaveAttribute('data-turning', 'forward');
  await page.mouse.up();
  await board.shows('KM1', 'out');
  await board.type('off');
  await board.shows('G1', 'open');
  await board.type('Q1 2 > Q1 4');
  await board.type('on');
  await board.shows('Q1', 'tripped');
  await expect(
    page.getByText(/Short circuit between two phases: G1 L1 met G1 L2 by way of Q1 1, Q1 2, Q1 4, Q1 3\./),
  ).toBeVisible();
  await accessible(page);
  await board.type('off');
  await board.type('cut Q1 2 > Q1 4');
  await board.handle('Q1', 'toggle').click();
  await board.shows('Q1', 'closed');
});

test('handed in without the seal-in: the slip says why it is not passed, proves each loss and plays it', async ({
  page,
  college,
}) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), SEAL_IN);
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText('Not passed')).toBeVisible();
  await expect(page.locator('.verdict-reason')).toHaveText(
    /^: “Holds after Start is let go” is not right: KM1 should be in and is out/,
  );
  await expect(page.getByText(/count at [\d.]+ %, the share that was earned of the behaviour/)).toBeVisible();
  await expect(page.getByText('Does not do the same as the reference.')).toBeVisible();
  await expect(
    page.getByText(
      'After press S2, release S2: reference KM1 in, M1.driven forward; this board KM1 out, M1.driven none.',
    ),
  ).toBeVisible();
  const loss = page.locator('.criteria li', { hasText: 'Holds after Start is let go' });
  await expect(loss).toContainText('press S2 → release S2 → wait 1 s: KM1 should be in and is out');
  const contactor = await board.watchStates('KM1');
  await loss.getByRole('button', { name: 'Replay' }).click();
  await expect(page.locator('.replay-steps li')).toHaveText(['press S2', 'release S2', 'wait 1 s']);
  await expect(page.locator('.replay-steps li').last()).toHaveAttribute('data-done', 'yes');
  expect((await contactor.shown()).slice(-2)).toEqual(['in', 'out']);
  await accessible(page);
});

test('a right board: it holds, stops, trips, and passes', async ({ page, college }) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), PUMP);
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await expect(board.leads).toHaveCount(21);
  await board.type('on');
  await board.push('S2');
  await board.shows('KM1', 'in');
  await expect(board.device('M1').locator('[data-text]')).toHaveText(/1[34]\d\d rpm/);
  await board.push('S1');
  await board.shows('KM1', 'out');
  await board.push('S2');
  await board.handle('F2', 'trip').click();
  await board.shows('F2', 'tripped');
  await board.shows('KM1', 'out');
  await board.push('S2');
  await board.shows('KM1', 'out');
  await board.handle('F2', 'reset').click();
  await board.shows('F2', 'healthy');
  // The keyboard works the buttons too.
  await board.handle('S2', 'push').focus();
  await page.keyboard.down(' ');
  await page.keyboard.up(' ');
  await board.shows('KM1', 'in');
  await board.handle('G1', 'supply').click();
  await board.shows('KM1', 'out');
  await board.handle('G1', 'supply').click();
  await board.shows('G1', 'closed');
  await board.shows('KM1', 'out');
  await page.getByRole('button', { name: 'Sequence' }).click();
  await expect(page.locator('.chart-names')).toContainText('KM1');
  await page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }).click();
  await expect(page.getByText('Passed', { exact: true })).toBeVisible();
  // Right, but nobody tested it dead before it was energised, and nobody was asked.
  await expect(page.locator('.score')).toHaveText('97.6 of 100');
  for (const lost of ['Dead test before the first energising', 'Energised only with permission'])
    await expect(page.locator('li.lost', { hasText: lost })).toBeVisible();
  await expect(
    page.getByText(
      /All \d+ situations this board can be in, and the [\d\s]+ moments between them, were tried\./,
    ),
  ).toBeVisible();
});

test('the instructor sees the mark, remarks, changes points with a reason, exports', async ({
  page,
  college,
}) => {
  const assignment = await college.set('brine-pump-three-wire');
  await college.handIn(await college.wired(assignment, SEAL_IN));
  await college.handIn(await college.wired(assignment, PUMP));
  await signIn(page, college.instructor);
  await page.getByRole('link', { name: 'Mark book' }).click();
  const row = page.getByRole('row', { name: new RegExp(college.studentName) });
  await expect(row).toContainText('97.6 of 100, 2 attempts');
  await accessible(page);
  await row.getByRole('link', { name: /97.6 of 100, 2 attempts/ }).click();
  await expect(page.getByText(college.studentName)).toBeVisible();
  await page.getByLabel('New remark').fill('Neat. Now the same with the overload after the coil.');
  await page.getByRole('button', { name: 'Add remark' }).click();
  await expect(page.locator('blockquote')).toContainText('Neat. Now the same');
  await page.getByRole('button', { name: /^Change points of At most 2/ }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/^Points/).fill('0.3');
  await dialog.getByLabel(/^Reason/).fill('Leads cross the motor plate');
  await dialog.getByRole('button', { name: 'Change' }).click();
  await expect(page.locator('.score')).toHaveText('96.6 of 100');
  await expect(
    page.getByText(new RegExp(`Changed from 1.3 to 0.3 by Instructor .*: Leads cross the motor plate`)),
  ).toBeVisible();
  await page.getByRole('link', { name: 'Mark book' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export CSV' }).click();
  await page.getByRole('link', { name: 'One row an attempt' }).click();
  const csv = readFileSync(await (await download).path(), 'utf8');
  expect(csv).toMatch(
    new RegExp(
      `${college.className},${college.studentName},${college.student},"Brine pump, three-wire",2,marked,[^,]+,96.6,100,96.6,yes,yes,Neat\\. Now the same`,
    ),
  );
});

test('beside the reference, a fault, the repair, and marking again', async ({ page, college }) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), SEAL_IN);
  await college.handIn(attempt);
  await signIn(page, college.instructor);
  await page.goto(`/slip/${attempt}`);
  await page.getByRole('button', { name: /^Replay F2:95-96 does not open/ }).click();
  await expect(page.locator('.replay-head h2')).toContainText('With F2:95-96 does not open');
  await page.getByRole('link', { name: 'Beside the reference' }).click();
  await page.getByRole('button', { name: 'Play on both' }).click();
  const [asWired, right] = [page.locator('.compare-side').nth(0), page.locator('.compare-side').nth(1)];
  await expect(page.locator('.replay-steps li').last()).toHaveAttribute('data-done', 'yes');
  await expect(asWired.locator('[data-device="KM1"]')).toHaveAttribute('data-state', 'out');
  await expect(right.locator('[data-device="KM1"]')).toHaveAttribute('data-state', 'in');
  await page.getByRole('tab', { name: 'Repair' }).click();
  await page.getByRole('button', { name: 'Find the fewest edits that make it pass' }).click();
  await page.locator('.repairs button').first().click();
  await expect(asWired.locator('[data-edit="new"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Run it repaired' }).click();
  await page.getByRole('button', { name: 'Both supplies on' }).click();
  await accessible(page);
  await page.getByRole('link', { name: 'Marking slip' }).click();
  await page.getByRole('button', { name: 'Mark again by the exercise as it is now' }).click();
  await expect(page.locator('.difference')).toContainText('every point is the same');
});

test('before switching on: dead tests, and the instructor’s permission', async ({ page, college }) => {
  const wires = reference('brine-pump-emergency-stop');
  const attempt = await college.wired(await college.set('brine-pump-emergency-stop'), wires);
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await expect(page.getByText('Ask your instructor for permission')).toBeVisible();
  const read = async (row: RegExp) => {
    await page.getByRole('button', { name: row }).click();
    await page.getByRole('button', { name: 'Read ohms' }).click();
  };
  await read(/G1 PE – M1 PE/);
  await expect(page.locator('.practice-meter output')).toHaveText('0 Ω');
  await read(/G1 L1 – G1 L2/);
  await expect(page.locator('.practice-meter output')).toHaveText('no connection');
  await read(/G1 L1 – G1 N$/);
  // With Shift a button stays held.
  await board.handle('S2', 'push').click({ modifiers: ['Shift'] });
  await read(/G1 L1 – G1 N, S2 held/);
  await expect(page.locator('.practice-meter output')).toHaveText(/\d Ω/);
  await board.handle('S2', 'push').click({ modifiers: ['Shift'] });
  await expect(page.getByText('✓ Tested dead')).toBeVisible();
  await accessible(page);
  await signOut(page);
  await signIn(page, college.instructor);
  await page.goto(`/slip/${attempt}`);
  await page.getByRole('button', { name: 'Give permission to energise' }).click();
  await expect(page.getByText(/^Permission to energise was given at/)).toBeVisible();
  await signOut(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await expect(page.getByText(/^✓ Permission given at/)).toBeVisible();
  await expect(page.getByText('✓ Tested dead')).toBeVisible();
  await board.type('cut S2 14 > KM1 A1');
  await expect(page.getByText('Ask your instructor for permission')).toBeVisible();
  await expect(page.getByText('○ Test dead: 0 of 4')).toBeVisible();
});

test('a session that ends at the bench loses nothing; another tab follows; the door is at the front', async ({
  page,
  college,
  context,
}) => {
  const attempt = await college.wired(await college.set('brine-pump-three-wire'), PUMP.slice(0, 2));
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  await page.goto(`/bench/${attempt}`);
  await board.type(typed(PUMP[2] as (typeof PUMP)[number]));
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  // Of this student alone: other stories run beside this one.
  await college.sql('delete from sessions where person_id = (select id from people where login = $1)', [
    college.student,
  ]);
  await board.type(typed(PUMP[3] as (typeof PUMP)[number]));
  await expect(page.getByText('You are signed out.')).toBeVisible();
  await expect(page.getByText(/One change is kept in this browser/)).toBeVisible();
  await page.getByLabel(`Password of ${college.student}`).fill(PASSWORD);
  await page.getByRole('button', { name: `Sign in as ${college.student}` }).click();
  await expect(page.getByText('You are signed out.')).toBeHidden();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(board.leads).toHaveCount(4);
  // A second tab follows live, and may take over.
  const other = await context.newPage();
  await other.goto(`/bench/${attempt}`);
  const there = new BoardOnPage(other);
  await expect(
    other.getByText('This board is open in another tab, which works on it. This one follows.'),
  ).toBeVisible();
  await board.type(typed(PUMP[4] as (typeof PUMP)[number]));
  await expect(there.leads).toHaveCount(5);
  await other.getByRole('button', { name: 'Work here' }).click();
  await expect(
    other.getByText('This board is open in another tab, which works on it. This one follows.'),
  ).toBeHidden();
  await there.type(typed(PUMP[5] as (typeof PUMP)[number]));
  await expect(there.leads).toHaveCount(6);
  await expect(board.leads).toHaveCount(6);
  await other.close();
  await page.bringToFront();
  await signOut(page);
  expect(new URL(page.url()).pathname).toBe('/');
});

test('a student finds nothing at an instructor’s address', async ({ page, college }) => {
  await signIn(page, college.student);
  for (const address of ['/exercises/brine-pump-three-wire', '/marks', '/nowhere']) {
    await page.goto(address);
    await expect(page.getByText('There is nothing at this address.')).toBeVisible();
  }
  await accessible(page);
});
