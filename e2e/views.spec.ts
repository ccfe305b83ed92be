import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, leadsOf, reference, signIn, signOut, wiringExercises } from './place.js';

/**
 * What is seen: leads that can be followed, screens that anybody can use, a whole exercise by keyboard
 * alone.
 */

/** Pixels between the middles of two leads that do not touch, by their width on the page. */
const FAULTS_OF_LEADS = () => {
  const svg = document.querySelector('.board')!;
  const segments = [...svg.querySelectorAll<SVGPathElement>('.lead-core')].flatMap((path) => {
    const name = path.closest<SVGElement>('[data-lead]')!.dataset.lead!;
    const matrix = path.getScreenCTM()!;
    const points = [...path.getAttribute('d')!.matchAll(/([\d.]+) ([\d.]+)/g)].map(([, x, y]) =>
      new DOMPoint(Number(x), Number(y)).matrixTransform(matrix),
    );
    const half = (parseFloat(getComputedStyle(path).strokeWidth) * matrix.a) / 2;
    return points.slice(1).map((b, k) => ({ name, a: points[k]!, b, half }));
  });
  const found: string[] = [];
  const covers = ({ a, b }: (typeof segments)[number], box: DOMRect) =>
    Math.min(a.x, b.x) < box.right - 0.5 &&
    Math.max(a.x, b.x) > box.left + 0.5 &&
    Math.min(a.y, b.y) < box.bottom - 0.5 &&
    Math.max(a.y, b.y) > box.top + 0.5;
  const faces = [...svg.querySelectorAll('[data-device] .plate')].map((one) => one.getBoundingClientRect());
  const texts = [...svg.querySelectorAll('text')].map((one) => one.getBoundingClientRect());
  segments.forEach((one, k) => {
    if (faces.some((box) => covers(one, box))) found.push(`${one.name} lies on a face`);
    if (texts.some((box) => covers(one, box))) found.push(`${one.name} lies on a text`);
    for (const other of segments.slice(k + 1)) {
      if (other.name === one.name) continue;
      for (const [p, q] of [
        ['x', 'y'],
        ['y', 'x'],
      ] as const) {
        const isAlong = one.a[p] === one.b[p] && other.a[p] === other.b[p];
        const from = Math.max(Math.min(one.a[q], one.b[q]), Math.min(other.a[q], other.b[q]));
        const to = Math.min(Math.max(one.a[q], one.b[q]), Math.max(other.a[q], other.b[q]));
        if (isAlong && to > from && Math.abs(one.a[p] - other.a[p]) < one.half + other.half)
          found.push(`${one.name} touches ${other.name}`);
      }
    }
  });
  return { leads: segments.length, found };
};

/** Opens exercises one after another, and looks at how the leads of each reference lie. */
async function leadsLieApart(page: Page, ids: readonly string[]): Promise<void> {
  for (const id of ids) {
    await page.goto(`/exercises/${id}`);
    await expect(page.locator('[data-lead]')).toHaveCount(leadsOf(id));
    const { leads, found } = await page.evaluate(FAULTS_OF_LEADS);
    expect(leads).toBeGreaterThan(leadsOf(id));
    expect({ id, found }).toEqual({ id, found: [] });
  }
}

const DENSE = [
  'brine-pump-lamps',
  'brine-pump-two-stations-us',
  'salt-harrow-limit-switches',
  'salt-harrow-push-button-interlock',
  'blower-star-delta-main-through-star',
  'blower-star-delta-reversing',
];

test('no lead lies on a face, a text or another lead, measured in the page', async ({ page, college }) => {
  await signIn(page, college.instructor);
  await leadsLieApart(page, DENSE);
});

test('@long nor on any other shipped board', async ({ page, college }) => {
  test.setTimeout(600_000);
  await signIn(page, college.instructor);
  await leadsLieApart(
    page,
    wiringExercises().filter((id) => !DENSE.includes(id)),
  );
});

/** WCAG 2.2 AA and what is good practice besides: axe finds nothing at all. */
async function findsNothing(page: Page, screen: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const found = violations.map(
    ({ id, nodes }) =>
      `${id}: ${nodes
        .map(({ target }) => target.join(' '))
        .slice(0, 4)
        .join(', ')}`,
  );
  // Every screen is told of, not the first alone.
  expect.soft({ screen, found }).toEqual({ screen, found: [] });
}

for (const theme of ['light', 'dark'] as const)
  test(`axe finds nothing on any screen, ${theme} @long`, async ({ page, college }) => {
    const assignment = await college.set('brine-pump-three-wire');
    const done = await college.wired(assignment, reference('brine-pump-three-wire').slice(0, 18));
    await college.handIn(done);
    const open = await college.wired(assignment, reference('brine-pump-three-wire'));
    await page.goto('/');
    await page.evaluate(
      (dark) => localStorage.setItem('contactum.dark', dark),
      theme === 'dark' ? 'yes' : 'no',
    );
    await page.reload();
    await page.getByLabel('Name').waitFor();
    await findsNothing(page, 'sign in');
    await signIn(page, college.student);
    await page.locator('.exercise-card .sheet').first().waitFor();
    await findsNothing(page, 'exercises, student');
    await page.goto(`/bench/${open}`);
    await page.locator('[data-lead]').nth(20).waitFor();
    await findsNothing(page, 'bench');
    for (const [view, shown] of [
      ['Drawing', '.drawing .sheet'],
      ['Reference', '.drawing [data-struck]'],
      ['Walk-through', '.walk-steps'],
      ['Machine', '.curve'],
      ['Meter', '.meter'],
    ] as const) {
      await page.getByRole('button', { name: view, exact: true }).click();
      await page.locator(shown).first().waitFor({ state: 'attached' });
      await findsNothing(page, `bench with ${view}`);
    }
    await page.getByRole('button', { name: 'Sequence' }).click();
    await page.getByRole('button', { name: /switch on/ }).click();
    await expect(page.locator('[data-device="G1"]')).toHaveAttribute('data-state', 'closed');
    await findsNothing(page, 'bench with the sequence, live');
    await page.goto(`/slip/${done}`);
    await page.locator('.criteria').first().waitFor();
    await findsNothing(page, 'slip');
    await page.goto('/plate');
    await page.locator('.plate-table').waitFor();
    await findsNothing(page, 'plate room');
    await page.goto('/skills');
    await page.locator('.skills').waitFor();
    await findsNothing(page, 'skills');
    await signOut(page);
    await signIn(page, college.instructor);
    await findsNothing(page, 'exercises, instructor');
    await page.goto('/exercises/blower-star-delta-timer');
    await page.locator('[data-lead]').first().waitFor();
    await findsNothing(page, 'exercise');
    for (const look of ['Drawing', 'Walk-through']) {
      await page.getByText(look, { exact: true }).click();
      await page.locator('.drawing .sheet').first().waitFor();
      await findsNothing(page, `exercise, ${look}`);
    }
    await page.getByRole('link', { name: 'Mark book' }).click();
    await page.locator('.mark-cell').first().waitFor();
    await findsNothing(page, 'mark book');
    await page.getByRole('link', { name: 'Skills' }).click();
    await page.locator('.skills-map').waitFor();
    await findsNothing(page, 'skills of a class');
    await page.goto('/assessments');
    await page.getByRole('link', { name: 'Set an assessment' }).click();
    await page.getByRole('button', { name: 'Add criteria to be observed' }).click();
    await findsNothing(page, 'setting an assessment');
    await page.getByRole('textbox', { name: 'Title' }).fill('Practical test');
    await page.getByRole('button', { name: 'Set the assessment' }).click();
    await page.getByRole('button', { name: /Start all/ }).waitFor();
    await findsNothing(page, 'the room of an assessment');
    await page.goto(`/compare/${done}`);
    await page.locator('.compare-side').first().waitFor();
    await findsNothing(page, 'beside the reference');
  });

test('a star-delta exercise by keyboard alone, from opening to the slip @long', async ({ page, college }) => {
  await college.set('blower-star-delta-main-from-start');
  const board = new BoardOnPage(page);
  await signIn(page, college.student);
  const key = (name: string) => page.keyboard.press(name);
  /** Tab until something is reached, as a person would who looks where the ring is. */
  const tabTo = async (name: RegExp, within = 'body') => {
    for (let k = 0; k < 120; k += 1) {
      const label = await page.evaluate((selector) => {
        const { activeElement: one } = document;
        return one?.closest(selector) ? (one.getAttribute('aria-label') ?? one.textContent) : '';
      }, within);
      if (name.test(label)) return;
      await key('Tab');
    }
    throw new Error(`Tab does not reach ${name.source}`);
  };
  await tabTo(/^Start wiring$/);
  await key('Enter');
  await page.getByRole('application').waitFor();
  // Every lead typed, with what the line offers where it offers what is meant.
  await key('/');
  for (const { from, to, colour } of reference('blower-star-delta-main-from-start')) {
    await page.keyboard.type(`${from.replace(':', ' ')} > ${to.replace(':', ' ')} ${colour ?? ''}`);
    await key('Enter');
  }
  await expect(board.leads).toHaveCount(reference('blower-star-delta-main-from-start').length);
  // Worked: on, Start, over to delta, Stop; the job sheet ticks what the board did.
  await page.keyboard.type('on');
  await key('Enter');
  await board.shows('G1', 'closed');
  const type = async (line: string) => {
    await page.keyboard.type(line);
    await key('Enter');
  };
  await type('press S2');
  await board.shows('KM1', 'in');
  await type('release S2');
  await page.waitForTimeout(2600);
  await expect(page.locator('.prove-list [data-shown="yes"]').first()).toContainText(
    'Starts in star and holds',
  );
  await board.shows('KM3', 'in');
  await board.shows('KM2', 'out');
  await type('press S1');
  await board.shows('KM1', 'out');
  await type('release S1');
  await type('off');
  await board.shows('G1', 'open');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await tabTo(/^Hand in$/);
  await key('Enter');
  await page.getByRole('tooltip').waitFor();
  await tabTo(/^Hand in$/, '[role="tooltip"]');
  await key('Enter');
  await expect(page.getByText('Passed', { exact: true })).toBeVisible();
  // All but what was not done: nothing was tested dead, and nobody gave permission.
  await expect(page.locator('.criteria li', { hasText: '✕' })).toHaveText([
    /Dead test before/,
    /Energised only with/,
  ]);
  await expect(page.locator('.score')).toHaveText('97.6 of 100');
});
