import { expect, type Locator, type Page } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, PASSWORD, reference } from './place.js';

/**
 * What a person takes, seconds. The operators of the keystroke-level model (Card, Moran and Newell, 1980;
 * from memory): M to make up one's mind, P to point, B a press or a release. Reading: 238 words a minute
 * (Brysbaert, 2019; from memory). Finding the next lead on a drawing and its two terminals on the board, and
 * the pause of an instructor who comes: common practice, no source.
 */
const M = 1.35;
const P = 1.1;
const B = 0.1;
const WORDS_PER_SECOND = 238 / 60;
const FIND_LEAD = 14;
const INSTRUCTOR = 90;

/**
 * Somebody who sees the page for the first time: does nothing that is not in sight, and takes a person's
 * time.
 */
class Newcomer {
  private person = 0;
  private readonly begun = Date.now();

  constructor(private readonly page: Page) {}

  /** Seconds since the beginning: the person's, and the page's own. */
  get seconds(): number {
    return this.person + (Date.now() - this.begun) / 1000;
  }

  waits(seconds: number): void {
    this.person += seconds;
  }

  /** Looks for something; where it is below the edge of a list, scrolls there. */
  async sees(what: Locator): Promise<void> {
    await expect(what).toBeVisible();
    await what.scrollIntoViewIfNeeded();
    await expect(what).toBeInViewport({ ratio: 0.6 });
    this.waits(M);
  }

  async reads(what: Locator): Promise<string> {
    await this.sees(what);
    const text = await what.innerText();
    this.waits(text.split(/\s+/).length / WORDS_PER_SECOND);
    return text;
  }

  async clicks(what: Locator, options: Parameters<Locator['click']>[0] = {}): Promise<void> {
    await this.sees(what);
    this.waits(P + 2 * B);
    await what.click(options);
  }

  async types(where: Locator, text: string): Promise<void> {
    await this.clicks(where);
    this.waits(text.length * 0.28);
    await where.fill(text);
  }

  /** Holds a handle of the board for a moment. */
  async holds(what: Locator): Promise<void> {
    await this.sees(what);
    const box = await what.boundingBox();
    if (!box) throw new Error('not on the page');
    await this.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await this.page.mouse.down();
    await this.page.waitForTimeout(400);
    await this.page.mouse.up();
    this.waits(P + 2 * B);
  }
}

/** What a hand does for a step as it is written in the job sheet. */
async function doStep(person: Newcomer, board: BoardOnPage, step: string, next: string): Promise<void> {
  const [verb = '', tag = ''] = step.split(' ').filter((word) => word !== 'off' && word !== 'on');
  if (verb === 'press') {
    if (next === `release ${tag}`) await person.holds(board.handle(tag, 'push'));
    else await person.clicks(board.handle(tag, 'push'), { modifiers: ['Shift'] });
  } else if (verb === 'trip' || verb === 'reset') await person.clicks(board.handle(tag, verb));
  else if (verb === 'switch') await person.clicks(board.handle(tag, 'supply'));
  else if (verb === 'wait') {
    person.waits(1);
    await board.page.waitForTimeout(1000);
  }
  // Nobody goes on before the eye has seen what the board did.
  await board.page.waitForTimeout(500);
}

test('@long somebody who was never told how wires, proves and hands in a three-wire starter in under fifteen minutes', async ({
  page,
  college,
}) => {
  test.setTimeout(600_000);
  await college.set('brine-pump-three-wire');
  await page.setViewportSize({ width: 1280, height: 800 });
  const person = new Newcomer(page);
  const board = new BoardOnPage(page);
  await page.goto('/');
  await person.types(page.getByLabel('Name'), college.student);
  await person.types(page.getByLabel('Password'), PASSWORD);
  await person.clicks(page.getByRole('button', { name: 'Sign in' }));
  const card = page.locator('.exercise-card', { hasText: 'Brine pump, three-wire' });
  await person.reads(card);
  await person.clicks(card.getByRole('button', { name: 'Start wiring' }));

  // The bench says how a lead is laid, and the job sheet what is asked.
  const steps = page.getByRole('region', { name: 'First steps' });
  expect(await person.reads(steps)).toContain('Click one terminal, then another.');
  const part = (name: RegExp) => page.getByRole('region', { name });
  expect(await person.reads(part(/^\d The job/))).toContain('S2');
  await person.clicks(page.getByText('House rules'));
  await person.reads(part(/^\d The job/));
  await person.clicks(page.getByRole('radio', { name: /^Automatic/ }));
  // Where the leads go stands in the drawing of the reference.
  await person.clicks(page.getByRole('button', { name: 'Reference' }));
  const drawing = page.getByRole('region', { name: 'Reference' });
  for (const { from, to } of reference('brine-pump-three-wire')) {
    person.waits(FIND_LEAD);
    for (const ref of [from, to]) {
      await expect(drawing.getByText(ref.split(':')[0] ?? '', { exact: true }).first()).toBeInViewport();
      await expect(board.terminal(ref)).toBeInViewport();
      person.waits(P + 2 * B);
    }
    await board.click(from, to);
  }
  await expect(part(/Wire it/)).toContainText(/(\d+) of \1 potentials complete/);
  await person.reads(part(/Wire it/));

  // Dead tests: each row lays the probes, and says what is to be held.
  const dead = part(/Test dead/);
  const rows = dead.locator('.practice-rows button');
  for (let k = 0; k < (await rows.count()); k += 1) {
    await person.reads(rows.nth(k));
    await person.clicks(rows.nth(k));
    const hold = dead.getByText(/^Hold S2 while you read: click it with Shift/);
    const isHeld = await hold.isVisible();
    if (isHeld) {
      await person.reads(hold);
      await person.clicks(board.handle('S2', 'push'), { modifiers: ['Shift'] });
      await expect(hold).toBeHidden();
    }
    await person.clicks(dead.getByRole('button', { name: 'Read ohms' }));
    await expect(rows.nth(k)).toHaveAttribute('data-taken', 'yes');
    if (isHeld) await person.clicks(board.handle('S2', 'push'));
  }
  await person.reads(dead.getByText('✓ Tested dead'));

  // The instructor comes, and permits it.
  await person.clicks(part(/Ask to energise/).getByRole('button', { name: 'Ask', exact: true }));
  person.waits(INSTRUCTOR);
  await college.permit(page.url().split('/').at(-1)!);
  await person.reads(page.getByText(/^✓ Permission given at/));
  await person.clicks(page.getByRole('button', { name: /switch on/ }));

  // The job sheet says how the next function is shown, until all are.
  const next = page.locator('.prove-steps');
  const shown = page.locator('.prove-list li[data-shown="yes"]');
  for (let before = await shown.count(); before < 5; before = await shown.count()) {
    const doing = (await person.reads(next)).split(' → ');
    for (const [k, step] of doing.entries()) await doStep(person, board, step, doing[k + 1] ?? '');
    // Whoever does what stands there has shown it.
    await expect.poll(() => shown.count()).toBeGreaterThan(before);
    if ((await board.device('S2').getAttribute('data-state')) === 'pressed')
      await person.clicks(board.handle('S2', 'push'));
    // What holds is stopped before the next one is begun.
    if ((await board.device('KM1').getAttribute('data-state')) === 'in')
      await person.holds(board.handle('S1', 'push'));
  }
  await expect(shown).toHaveCount(5);
  await person.clicks(page.getByRole('button', { name: /switch off/ }));
  await person.clicks(page.getByRole('button', { name: 'Hand in' }));
  await person.clicks(page.getByRole('tooltip').getByRole('button', { name: 'Hand in' }));
  await expect(page.getByText('Passed', { exact: true })).toBeVisible();
  await person.reads(page.locator('.score'));
  const minutes = person.seconds / 60;
  console.log(`first-time student: ${minutes.toFixed(1)} min of 15`);
  expect(minutes).toBeLessThan(15);
});
