import { expect, type Page } from '@playwright/test';
import { loadScanner } from '../scripts/lib/stand-ins.mjs';
import { test } from './college.js';
import { accessible, boardOf, reference, signIn } from './place.js';

const EXERCISE = 'brine-pump-three-wire';
const { board, readings } = boardOf(EXERCISE);
const wires = reference(EXERCISE);

/** Adds a board on the page of trainer boards; its token is shown this once. */
async function added(page: Page, name: string): Promise<string> {
  await page.goto('/sheets');
  await page.getByRole('link', { name: 'Trainer boards' }).click();
  await page.getByRole('textbox', { name: 'Name of the board' }).fill(name);
  await page.getByRole('button', { name: 'Add' }).click();
  const token = await page.locator('.trainer-board-token').innerText();
  await page.goto('/sheets/boards');
  await expect(page.locator('.trainer-board-token')).toHaveCount(0);
  return token;
}

test('a physical board comes to life on the Bench, is read with its devices worked and marked', async ({
  browser,
  college,
  page,
}) => {
  const assignment = await college.set(EXERCISE);
  const attempt = await college.wired(assignment, []);
  const teacher = await (await browser.newContext()).newPage();
  await signIn(teacher, college.instructor);
  const name = `Bench ${college.className}`;
  const token = await added(teacher, name);
  const { Gateway, SimulatedBox } = await loadScanner();
  const box = new SimulatedBox(board);
  const port = await box.listen();
  const stop = new AbortController();
  const running = new Gateway({
    address: `127.0.0.1:${port}`,
    server: process.env.BASE_URL ?? '',
    token,
    until: stop.signal,
  }).run();
  try {
    await expect(teacher.getByRole('row', { name: new RegExp(name) })).toContainText('being read');

    await signIn(page, college.student);
    await page.goto(`/bench/${attempt}`);
    await page.getByRole('button', { name: 'Trainer board' }).click();
    const pane = page.getByRole('region', { name: 'Trainer board' });
    await expect(pane).toContainText('no safety function');
    const row = pane.getByRole('listitem').filter({ hasText: name });
    await row.getByRole('button', { name: 'Connect' }).click();
    await expect(pane).toContainText('being read');

    // Lead by lead: each is on the board soon after it is plugged.
    const late: number[] = [];
    const leads = page.locator('[data-lead]');
    for (let k = 1; k <= 8; k += 1) {
      const begun = Date.now();
      box.plug(wires.slice(0, k));
      await page.waitForFunction((n) => document.querySelectorAll('[data-lead]').length === n, k, {
        polling: 'raf',
      });
      late.push(Date.now() - begun);
    }
    console.log('a lead plugged to the lead on screen, ms:', late.join(' '));
    // The mouse may not contradict the board.
    box.work([{ press: 'S2' }]);
    await expect(pane).toContainText('Operated by hand: press S2');
    box.work([]);
    await expect(pane).not.toContainText('Operated by hand');

    // A lead past the Stop button is not seen at rest.
    box.plug([...wires, { from: 'S1:21', to: 'S1:22' }]);
    await expect(leads).toHaveCount(wires.length);
    await pane.getByRole('button', { name: 'Read with devices operated' }).click();
    for (const [k, own] of readings.entries()) {
      // A hand stays until its reading is taken.
      await expect(pane).toContainText(
        k === readings.length - 1 ? 'The last reading' : `${readings.length - k} readings`,
      );
      box.work(own);
      await pane.getByRole('button', { name: 'Take reading' }).click();
    }
    await expect(leads).toHaveCount(wires.length + 1);
    box.work([]);

    await accessible(page);
    await accessible(teacher);
    // It is marked like any board: Stop that does not stop is proved.
    const { rows } = await college.sql(
      "select body->>'source' as source, count(*)::int as times from attempt_log where attempt_id = $1 group by 1 order by 1",
      [attempt],
    );
    expect(rows.map(({ source }) => source)).toEqual(['board', 'scan']);
    expect(rows[0]?.times).toBe(8);
    await college.handIn(attempt);
    await page.goto(`/slip/${attempt}`);
    await expect(page.locator('body')).toContainText('Stop');
  } finally {
    stop.abort();
    await running;
    await box.stop();
    // Other stories have no trainer board.
    await college.sql('delete from scanners where name = $1', [name]);
  }
});
