import { describe, expect, test } from '@jest/globals';
import {
  MASTERED,
  SKILL_IDS,
  grade,
  isAsked,
  isSearch,
  knownAfter,
  nextToPractise,
  referenceBench,
  skillsOf,
  skillsOfExercise,
  standingsOf,
  type SkillShown,
} from '@contactum/core';
import { shippedExercises, shippedQuestions, shippedSearches } from '@contactum/core/exercises';
import { exercise, exercises } from './help.js';

describe('Bayesian knowledge tracing (A. T. Corbett and J. R. Anderson 1995)', () => {
  test('one step of the equations, worked by hand', () => {
    // 0.3·0.9 / (0.3·0.9 + 0.7·0.2) = 0.27/0.41; then learnt with 0.15.
    const right = 0.27 / 0.41;
    expect(knownAfter([true])).toBeCloseTo(right + (1 - right) * 0.15, 12);
    // 0.3·0.1 / (0.3·0.1 + 0.7·0.8) = 0.03/0.59.
    const wrong = 0.03 / 0.59;
    expect(knownAfter([false])).toBeCloseTo(wrong + (1 - wrong) * 0.15, 12);
    expect(knownAfter([])).toBe(0.3);
  });

  test('what is right makes a skill surer, what is wrong less so; three in a row master it', () => {
    for (let bits = 0; bits < 64; bits += 1) {
      const outcomes = Array.from({ length: 6 }, (_, k) => (bits & (1 << k)) !== 0);
      const now = knownAfter(outcomes);
      expect(now).toBeGreaterThan(0);
      expect(now).toBeLessThan(1);
      expect(knownAfter([...outcomes, true])).toBeGreaterThan(knownAfter([...outcomes, false]));
    }
    expect(knownAfter([true, true])).toBeLessThan(MASTERED);
    expect(knownAfter([true, true, true])).toBeGreaterThan(MASTERED);
    expect(knownAfter([true, true, true, false])).toBeLessThan(MASTERED);
  });
});

describe('criteria and skills', () => {
  test('every shipped exercise shows some skill, and all skills are shown by some', () => {
    const all = [...shippedExercises(), ...shippedSearches(), ...shippedQuestions()].map(
      (one) => [one.id, skillsOfExercise(one)] as const,
    );
    expect(all.filter(([, skills]) => skills.length === 0).map(([id]) => id)).toEqual([]);
    const bySafety = exercises()
      .filter((one) => !isSearch(one) && !isAsked(one))
      .flatMap((one) =>
        grade(one, referenceBench(one), { faults: false }).criteria.flatMap((criterion) =>
          skillsOf(one, criterion),
        ),
      );
    expect(new Set([...all.flatMap(([, skills]) => skills), ...bySafety])).toEqual(new Set(SKILL_IDS));
  }, 120_000);

  test('what a behaviour works says what it shows, whatever it is called', () => {
    const pump = exercise('brine-pump-three-wire');
    const shown = Object.fromEntries(
      pump.behaviours.map((one) => [one.title, skillsOf(pump, { part: 'behaviour', id: one.id })]),
    );
    expect(shown['Holds after Start is let go']).toEqual(['holding']);
    expect(shown['Stops on Stop and stays off']).toContain('stopping');
    const tripped = pump.behaviours.find(({ steps }) => steps.some((step) => 'trip' in step))!;
    expect(skillsOf(pump, { part: 'behaviour', id: tripped.id })).toEqual(
      expect.arrayContaining(['protection', 'restart']),
    );
    const jog = exercise('sluice-gate-jog-button');
    expect(skillsOfExercise(jog)).toEqual(expect.arrayContaining(['momentary', 'stopping']));
    const asked = exercise('questions-reversing');
    for (const question of asked.questions!)
      expect(skillsOf(asked, { part: 'behaviour', id: question.id }).length).toBeGreaterThan(0);
    const search = exercise('find-seal-in');
    expect(skillsOf(search, { part: 'behaviour', id: 'isolation' })).toEqual(['dead-test']);
    expect(skillsOf(search, { part: 'behaviour', id: 'cause' })).toEqual(['faults']);
    expect(skillsOf(pump, { part: 'safety', id: 'stop-drops' })).toEqual(['stopping']);
    expect(skillsOf(pump, { part: 'workmanship', id: 'earth-colour' })).toEqual(['workmanship']);
  });
});

describe('standings, and what to practise next', () => {
  const shown = (skill: SkillShown['skill'], outcomes: readonly boolean[]): SkillShown[] =>
    outcomes.map((isRight, k) => ({
      skill,
      isRight,
      at: `2026-11-${String(10 + k)}T09:00:00Z`,
      attemptId: `${skill}-${k}`,
      exercise: 'Pump',
    }));

  test('told in order of time, with the last three as evidence', () => {
    const [first, second, third, fourth] = shown('holding', [false, true, true, true]);
    const standings = standingsOf([third!, first!, fourth!, second!]);
    const holding = standings.find(({ skill }) => skill === 'holding')!;
    expect(holding).toMatchObject({ times: 4, right: 3, last: fourth!.at });
    expect(holding.known).toBeCloseTo(knownAfter([false, true, true, true]), 12);
    expect(holding.evidence.map(({ attemptId }) => attemptId)).toEqual([
      'holding-3',
      'holding-2',
      'holding-1',
    ]);
    expect(standings.filter(({ known }) => known !== null)).toHaveLength(1);
  });

  test('what shows most of what is weak comes first, what is passed last, and nothing that is mastered', () => {
    const all = [exercise('brine-pump-three-wire'), exercise('salt-harrow-electrical-interlock')];
    const none = nextToPractise(all, standingsOf([]), new Set());
    expect(none.map(({ exerciseId }) => exerciseId).sort()).toEqual(all.map(({ id }) => id).sort());
    const passed = nextToPractise(all, standingsOf([]), new Set([none[0]!.exerciseId]));
    expect(passed.at(-1)!.exerciseId).toBe(none[0]!.exerciseId);
    const strong = SKILL_IDS.filter((one) => one !== 'interlock').flatMap((skill) =>
      shown(skill, [true, true, true, true]),
    );
    const next = nextToPractise(all, standingsOf(strong), new Set());
    expect(next).toEqual([{ exerciseId: 'salt-harrow-electrical-interlock', skills: ['interlock'] }]);
    // Who has the first skills is led on to the next ones, not to everything at once.
    const begun = standingsOf([
      ...shown('contacts', [true, true, true, true]),
      ...shown('holding', [true, true, true]),
    ]);
    const jog = [...all, exercise('sluice-gate-jog-button'), exercise('brine-pump-controller-convert')];
    expect(nextToPractise(jog, begun, new Set())[0]!.exerciseId).toBe('sluice-gate-jog-button');
    const master = SKILL_IDS.flatMap((skill) => shown(skill, [true, true, true, true]));
    expect(nextToPractise(all, standingsOf(master), new Set())).toEqual([]);
  });
});
