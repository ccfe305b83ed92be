import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Locator, type Page } from '@playwright/test';
import { loadCore } from '../scripts/lib/core.mjs';

const core = await loadCore();

export const PASSWORD = 'tidewater';

interface Wire {
  readonly from: string;
  readonly to: string;
  readonly colour?: string | undefined;
}

/** The reference wiring of a shipped exercise. */
export function reference(id: string): Wire[] {
  const exercise = core.shippedExercise(id);
  if (!exercise) throw new Error(`no exercise ${id}`);
  return [...exercise.reference];
}

/** The board of a shipped exercise without its leads, and the readings that tell leads from its contacts. */
export function boardOf(id: string) {
  const exercise = core.shippedExercise(id);
  if (!exercise) throw new Error(`no exercise ${id}`);
  const board = { ...core.referenceBench(exercise), wires: [] };
  return { board, readings: core.readingsFor(board) };
}

/** The right program of a shipped exercise's controller. */
export const programOf = (id: string, tag: string): unknown => core.shippedExercise(id)?.program?.[tag];

/** Leads of the reference of a shipped exercise, with those that are on its board from the beginning. */
export const leadsOf = (id: string): number => {
  const exercise = core.shippedExercise(id);
  return exercise ? core.referenceBench(exercise).wires.length : 0;
};

/** The ids of the questions of a kind that a shipped exercise asks. */
export const askedBy = (id: string, kind: string): string[] =>
  (core.shippedExercise(id)?.questions ?? []).flatMap((one) => (one.ask === kind ? [one.id] : []));

/** What each device of a question about states shows after each of its steps, and where it is asked. */
export function shownStates(
  id: string,
  question: string,
): { readonly cell: string; readonly value: string }[] {
  const exercise = core.shippedExercise(id);
  const asked = exercise?.questions?.find((one) => one.id === question);
  if (!exercise || asked?.ask !== 'states') throw new Error(`${id} does not ask ${question} for states`);
  const { steps, of } = asked;
  return new core.AskedBoard(core.referenceBench(exercise)).states({ steps, of }).flatMap((row, k) =>
    of.map((what) => ({
      cell: `${what} after step ${k + 1}, ${core.describeStimulus(steps[k]!)}`,
      value: String(row[what]),
    })),
  );
}

/** Every shipped exercise that is wired. */
export const wiringExercises = (): string[] =>
  core
    .shippedExercises()
    .filter(({ task = 'wire' }) => task === 'wire')
    .map(({ id }) => id);

export async function signIn(page: Page, login: string): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Name').fill(login);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Exercises', level: 1 })).toBeVisible();
}

export async function signOut(page: Page): Promise<void> {
  await page.getByRole('button', { name: /: account$/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
}

/** Nothing serious or critical by axe on what is shown. */
export async function accessible(page: Page): Promise<void> {
  // A message fades at a moment of its own.
  await expect(page.locator('.ant-message-notice')).toHaveCount(0);
  // A colour on its way to another one is neither.
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().iterations !== Number.POSITIVE_INFINITY)
        .map(({ finished }) => finished.catch(() => undefined)),
    ).then(() => undefined),
  );
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(
    serious.map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`),
  ).toEqual([]);
}

/** One board on the page: its terminals, handles, what it shows. */
export class BoardOnPage {
  constructor(readonly page: Page) {}

  terminal(ref: string): Locator {
    return this.page.locator(`[data-terminal="${ref}"] .screw`);
  }

  handle(tag: string, verb: string): Locator {
    return this.page.locator(`[data-handle="${tag} ${verb}"]`);
  }

  device(tag: string): Locator {
    return this.page.locator(`[data-device="${tag}"]`);
  }

  get leads(): Locator {
    return this.page.locator('[data-lead]');
  }

  async centre(locator: Locator): Promise<{ x: number; y: number }> {
    const box = await locator.boundingBox();
    if (!box) throw new Error('not on the page');
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  }

  /** Click, and click. */
  async click(from: string, to: string): Promise<void> {
    for (const ref of [from, to]) {
      const { x, y } = await this.centre(this.terminal(ref));
      await this.page.mouse.click(x, y);
    }
  }

  /** Press at one place, let go at another. */
  async drag(from: Locator, to: Locator): Promise<void> {
    const a = await this.centre(from);
    const b = await this.centre(to);
    await this.page.mouse.move(a.x, a.y);
    await this.page.mouse.down();
    await this.page.mouse.move((a.x + b.x) / 2, (a.y + b.y) / 2, { steps: 4 });
    await this.page.mouse.move(b.x, b.y, { steps: 4 });
    await this.page.mouse.up();
  }

  async type(line: string): Promise<void> {
    const input = this.page.getByLabel(/^Type a lead/);
    await input.fill(line);
    await input.press('Enter');
  }

  /** Holds a button down for a moment. */
  async push(tag: string, milliseconds = 150): Promise<void> {
    const { x, y } = await this.centre(this.handle(tag, 'push'));
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    await this.page.waitForTimeout(milliseconds);
    await this.page.mouse.up();
  }

  /** Keeps every state that a device shows from now on: one that lasts a second is missed by looking now and then. */
  async watchStates(tag: string): Promise<{ shown: () => Promise<string[]> }> {
    const states = await this.page.evaluateHandle((selector) => {
      const seen: string[] = [];
      const look = (): void => {
        const state = document.querySelector(selector)?.getAttribute('data-state');
        if (state && state !== seen.at(-1)) seen.push(state);
      };
      new MutationObserver(look).observe(document.body, {
        subtree: true,
        childList: true,
        attributeFilter: ['data-state'],
      });
      look();
      return seen;
    }, `[data-device="${tag}"]`);
    return { shown: () => states.jsonValue() };
  }

  async shows(tag: string, state: string): Promise<void> {
    await expect(this.device(tag)).toHaveAttribute('data-state', state);
  }
}
