import { describe, expect, test } from '@jest/globals';
import { exerciseVersion, grade, referenceBench } from '@contactum/core';
import {
  FORM,
  RECIPES,
  changed,
  formsOf,
  readLeads,
  readSteps,
  resolveExercise,
  shippedExercises,
  type Recipe,
} from '@contactum/core/exercises';
import { must } from './help.js';
import { readExercise } from '@contactum/core/documents';

const pump = RECIPES.find(({ id }) => id === 'brine-pump-three-wire') as Recipe;

/** What an attempt was marked by is told by these; they change only where an exercise is meant to ask for something else. */
const VERSIONS = {
  'button-lamp-no': 'a3759d8e',
  'brine-pump-control-transformer': '5704d3ba',
  'brine-pump-emergency-stop': '6ba1db92',
  'brine-pump-three-wire': '6df98be1',
  'brine-pump-two-stations': '40f951be',
  'sluice-gate-jog-relay': '28a0c348',
  'salt-harrow-electrical-interlock': '53b7f343',
  'salt-harrow-mechanical-interlock': '946cf573',
  'salt-harrow-push-button-interlock': '96a30239',
  'blower-star-delta-timer': '6673d337',
  'blower-star-delta-main-from-start': '5a07ff7b',
  'blower-star-delta-main-through-star': '2ea5e382',
};

describe('the exercises that ship', () => {
  test('are those that were set: nothing that an attempt is marked by has changed unnoticed', () => {
    expect(Object.fromEntries(shippedExercises().map((one) => [one.id, exerciseVersion(one)]))).toEqual(
      VERSIONS,
    );
  });

  test('are documents that can be written and read again', () => {
    for (const one of shippedExercises())
      expect(must(readExercise(JSON.parse(JSON.stringify(one))))).toEqual(one);
  });

  /** Every recipe in every form that its board has. */
  const all = RECIPES.flatMap((recipe) => formsOf(recipe).map((form) => ({ recipe, form })));
  for (const { recipe, form } of all)
    test(`${recipe.id} in form ${form}: its reference passes it without a lost behaviour or safety property`, () => {
      const exercise = resolveExercise(recipe, form);
      const { criteria, passed, equivalence } = grade(exercise, referenceBench(exercise));
      const lost = criteria.filter(
        ({ part, evidence }) => evidence && (part === 'behaviour' || part === 'safety'),
      );
      expect({ passed, lost, same: equivalence.equivalent }).toEqual({ passed: true, lost: [], same: true });
    });
});

describe('what is wrong in a recipe is named', () => {
  const cases: [string, () => unknown, RegExp][] = [
    [
      'a purpose that is none',
      () => readLeads('mains: G1 L1 > Q1 1', FORM.iec.paint),
      /what its leads are for/,
    ],
    [
      'as many ends as not',
      () => readLeads('power: G1 L1 L2 > Q1 1', FORM.iec.paint),
      /"G1 L1 L2 > Q1 1" is no run/,
    ],
    ['a device that is not there', () => changed(pump.board, { without: ['KM7'] }), /has no KM7 to change/],
    [
      'a term that no form has',
      () => resolveExercise({ ...pump, reference: 'control: {battery} > F1 1' }),
      /no form says what \{battery\} is/,
    ],
    [
      'a terminal that is not there',
      () => resolveExercise({ ...pump, reference: 'power: G1 L9 > Q1 1' }),
      /^brine-pump-three-wire: reference\[0\]\.from: /,
    ],
    [
      'a form that the board has not',
      () => resolveExercise({ ...pump, board: { ...pump.board, forms: { iec: {} } } }, 'us'),
      /there is no form "us" of it/,
    ],
  ].map((one) => one as [string, () => unknown, RegExp]);
  for (const [name, attempt, words] of cases) test(name, () => expect(attempt).toThrow(words));
});

test('steps are written as they are spoken', () => {
  expect(
    readSteps(
      'press S2; KM1 in, volts(KM1:A1, KM1:A2) 105..130, M1.speed ..10; wait 1.6; turn S4 to jog; set M1.load to 0.6',
    ),
  ).toEqual([
    { press: 'S2' },
    { expect: { KM1: 'in', 'volts(KM1:A1, KM1:A2)': { min: 105, max: 130 }, 'M1.speed': { max: 10 } } },
    { wait: 1.6 },
    { turn: 'S4', to: 'jog' },
    { set: 'M1.load', to: 0.6 },
  ]);
});
