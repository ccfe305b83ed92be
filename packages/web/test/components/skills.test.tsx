import { expect, test } from '@jest/globals';
import { screen } from '@testing-library/react';
import { standingsOf, SKILL_IDS, type SkillShown } from '@contactum/core';
import type { SkillsMap, SkillsView } from '@contactum/contract';
import { SkillsMapPage } from '../../src/marks/SkillsMapPage.js';
import { SkillsPage } from '../../src/marks/SkillsPage.js';
import { answer, show } from './stage.js';

const shown = (skill: SkillShown['skill'], outcomes: readonly boolean[]): SkillShown[] =>
  outcomes.map((isRight, k) => ({
    skill,
    isRight,
    at: `2026-11-0${k + 1}T09:00:00Z`,
    attemptId: `${skill}-${k}`,
    exercise: 'Brine pump',
  }));

test('a student reads how surely each skill is shown, by what, and what comes next', async () => {
  const view: SkillsView = {
    standings: standingsOf([
      ...shown('holding', [false, true, true, true, true]),
      ...shown('interlock', [false]),
    ]),
    next: [{ exerciseId: 'harrow', title: 'Salt harrow', skills: ['interlock'] }],
  };
  answer('GET /skills', { body: view });
  show(<SkillsPage />);
  const next = await screen.findByRole('link', { name: 'Salt harrow' });
  expect(next.getAttribute('href')).toBe('/exercises?find=Salt%20harrow');
  const holding = screen.getByText('Seal-in (holding) circuits').closest('li')!;
  expect(holding.textContent).toContain('secure right in 4 of 5 attempts, last 5 Nov');
  expect([...holding.querySelectorAll('a')].map(({ textContent }) => textContent)).toEqual([
    '✓ Brine pump',
    '✓ Brine pump',
    '✓ Brine pump',
  ]);
  const interlock = screen.getAllByText('Interlocking').at(-1)!.closest('li')!;
  expect(interlock.textContent).toContain('needs practice');
  expect(screen.getAllByText('no evidence yet')).toHaveLength(SKILL_IDS.length - 2);
});

test('an instructor sees the class by skill, with what nobody has shown left open', async () => {
  const known = SKILL_IDS.map((skill) => (skill === 'holding' ? 0.98 : null));
  const map: SkillsMap = {
    className: 'Pan Fitters 1A',
    skills: SKILL_IDS,
    students: [
      { id: 'ann', name: 'Ann Osier', known },
      { id: 'ben', name: 'Ben Reed', known: SKILL_IDS.map((skill) => (skill === 'holding' ? 0.5 : null)) },
    ],
  };
  answer('GET /classes/c/skills', { body: map });
  show(<SkillsMapPage />, { path: '/marks/:classId/skills', at: '/marks/c/skills' });
  const row = (await screen.findByText('Ann Osier')).closest('tr')!;
  expect(row.textContent).toContain('98');
  expect(screen.getByText('Class, mean').closest('tr')!.textContent).toContain('74');
  expect(screen.getAllByLabelText(/: no evidence yet$/)).toHaveLength(3 * (SKILL_IDS.length - 1));
});
