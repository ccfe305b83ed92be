import { expect, type Page } from '@playwright/test';
import { test } from './college.js';
import { BoardOnPage, reference, signIn, signOut } from './place.js';

/** Every screen as it stands on a desk, on a tablet that lies and on one that is held upright, in both themes. */

const SIZES = [
  [1280, 800],
  [1024, 768],
  [768, 1024],
] as const;

/** Controls that are cut off, lie under something else, or stand beyond the page's edge. */
const UNREACHABLE = (): string[] => {
  const CONTROLS =
    'button, a[href], input:not([type=hidden]), select, textarea, [role=button], [role=tab], [role=combobox]';
  const nameOf = (one: Element) =>
    `${one.tagName.toLowerCase()} “${(one.getAttribute('aria-label') ?? one.textContent ?? '').trim().slice(0, 40)}”`;
  const isShown = (one: Element) =>
    one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) &&
    !one.closest('[aria-hidden="true"], .visually-hidden, .skip');
  const found: string[] = [];
  for (const one of document.querySelectorAll(CONTROLS)) {
    if (!isShown(one)) continue;
    // Tabs that do not fit stand in a menu beside the others.
    if (one.matches('.ant-tabs-tab-btn') && one.closest('.ant-tabs')?.querySelector('.ant-tabs-nav-more'))
      continue;
    const box = one.getBoundingClientRect();
    if (box.width < 2 || box.height < 2) continue;
    // What may be scrolled to is reached; what is clipped for good is not.
    let scrolls = false;
    let cut = false;
    for (let up = one.parentElement; up; up = up.parentElement) {
      const { overflowX, overflowY, position } = getComputedStyle(up);
      const outer = up.getBoundingClientRect();
      if (/auto|scroll/.test(overflowX + overflowY) && !up.matches('.shell-place')) scrolls = true;
      if (
        !scrolls &&
        /hidden|clip/.test(overflowX) &&
        (box.left < outer.left - 2 || box.right > outer.right + 2)
      )
        cut = true;
      if (
        !scrolls &&
        /hidden|clip/.test(overflowY) &&
        (box.top < outer.top - 2 || box.bottom > outer.bottom + 2)
      )
        cut = true;
      if (position === 'fixed') break;
    }
    if (cut) found.push(`cut: ${nameOf(one)}`);
    if (!scrolls && (box.left < -1 || box.right > innerWidth + 1))
      found.push(`beyond the page: ${nameOf(one)}`);
    const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
    if (x < 0 || y < 0 || x > innerWidth || y > innerHeight) continue;
    const top = document.elementFromPoint(x, y);
    const isReached =
      !top ||
      one.contains(top) ||
      top.contains(one) ||
      top
        .closest('label, .ant-select, .ant-picker, .ant-input-affix-wrapper, .ant-segmented-item')
        ?.contains(one) ||
      // A native input behind its own picture.
      one
        .closest('label, .ant-select, .ant-radio, .ant-checkbox, .ant-switch, .ant-input-number')
        ?.contains(top);
    // What has scrolled out of its own room is not covered.
    const room = one.closest(
      '.job-scroll, .ant-tabs-content-holder, .ant-tabs-nav-wrap, .slip-list, .why-strip, [style*="overflow"]',
    );
    const inRoom =
      !room || (y <= room.getBoundingClientRect().bottom && y >= room.getBoundingClientRect().top);
    if (!isReached && inRoom && !scrolls) found.push(`covered: ${nameOf(one)} by ${nameOf(top)}`);
  }
  for (const room of [document.documentElement, document.querySelector('.shell-place')])
    if (room && room.scrollWidth > room.clientWidth + 1)
      found.push(`the page scrolls sideways by ${room.scrollWidth - room.clientWidth}`);
  return [...new Set(found)];
};

async function reachable(page: Page, screen: string): Promise<void> {
  await page.waitForTimeout(250);
  const found = await page.evaluate(UNREACHABLE);
  expect.soft({ screen, found }).toEqual({ screen, found: [] });
}

for (const theme of ['light', 'dark'] as const)
  test(`no control is cut, covered or beyond the page at any size, ${theme} @long`, async ({
    page,
    college,
  }) => {
    const assignment = await college.set('brine-pump-three-wire');
    const done = await college.wired(assignment, reference('brine-pump-three-wire').slice(0, 18));
    await college.handIn(done);
    const open = await college.wired(assignment, reference('brine-pump-three-wire'));
    await page.addInitScript(
      (dark) => localStorage.setItem('contactum.dark', dark),
      theme === 'dark' ? 'yes' : 'no',
    );
    const all = async (screen: string) => {
      for (const [width, height] of SIZES) {
        await page.setViewportSize({ width, height });
        await reachable(page, `${screen}, ${width} × ${height}`);
      }
      await page.setViewportSize({ width: 1280, height: 800 });
    };
    await page.goto('/');
    await page.getByLabel('Name').waitFor();
    await all('sign in');
    await signIn(page, college.student);
    await page.locator('.exercise-card').first().waitFor();
    await all('exercises, student');
    await page.goto(`/bench/${open}`);
    await page.locator('[data-lead]').nth(20).waitFor();
    await all('bench');
    for (const view of ['Drawing', 'Machine', 'Meter', 'Proof', 'Sequence']) {
      await page.getByRole('button', { name: view, exact: true }).click();
      await all(`bench with ${view}`);
    }
    for (const path of [
      `/slip/${done}`,
      '/sheets',
      '/logbook',
      '/skills',
      '/assessments',
      '/plate',
      '/help',
    ]) {
      await page.goto(path);
      await page.locator('h1').first().waitFor();
      await all(path.replace(/[0-9a-f-]{36}/, '…'));
    }
    await page.goto('/');
    await signOut(page);
    await signIn(page, college.instructor);
    await page.locator('.exercise-card').nth(3).waitFor();
    await all('exercises, instructor');
    for (const path of [
      '/exercises/brine-pump-three-wire',
      '/setter',
      '/floor',
      '/faults?board=button-lamp-no',
      '/marks',
      '/classes',
      `/compare/${done}`,
      '/paper/brine-pump-three-wire',
      '/college',
      '/sheets',
    ]) {
      await page.goto(path);
      await page.locator('h1').first().waitFor();
      await all(path.replace(/[0-9a-f-]{36}/, '…'));
    }
  });

test('a board is wired by thumb on a tablet in the hand, switched on and worked', async ({
  browser,
  college,
}) => {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 768, height: 1024 } });
  const page = await context.newPage();
  const id = await college.wired(await college.set('button-lamp-no'), []);
  await signIn(page, college.student);
  await page.goto(`/bench/${id}`);
  const board = new BoardOnPage(page);
  await board.terminal('S1:13').waitFor();
  for (const { from, to } of reference('button-lamp-no'))
    for (const ref of [from, to]) {
      const { x, y } = await board.centre(board.terminal(ref));
      await page.touchscreen.tap(x, y);
    }
  await expect(board.leads).toHaveCount(reference('button-lamp-no').length);
  // A finger needs 24 px (WCAG 2.2, 2.5.8).
  const sizes = await page.evaluate(() =>
    [...document.querySelectorAll('.toolbar button, .view-bar button, [data-terminal] .terminal-hit')].map(
      (one) => {
        const { width, height } = one.getBoundingClientRect();
        return Math.min(width, height);
      },
    ),
  );
  expect(Math.min(...sizes)).toBeGreaterThanOrEqual(24);
  await page.getByRole('button', { name: /switch on/ }).tap();
  await board.push('S1', 600);
  await board.shows('G2', 'closed');
  await context.close();
});
