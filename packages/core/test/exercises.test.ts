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
  'button-lamp-nc': 'e5088714',
  'button-lamp-no': '9a29f2d8',
  'coil-and-contact': 'be78580e',
  'brine-pump-lamps': '76a3bba9',
  'brine-pump-24-v-dc-control': '88a67d12',
  'brine-pump-control-transformer': '574abf33',
  'brine-pump-emergency-stop': '80cfced2',
  'brine-pump-momentary': 'c25d6cc7',
  'brine-pump-three-wire': 'b9300592',
  'brine-pump-two-stations': 'dbb39d17',
  'plug-in-relay-hold': 'd9d8fd76',
  'brine-pump-pole-seal-in': 'e2891060',
  'rinse-pump-single-phase': '20d58f7b',
  'brine-pump-three-wire-us': 'e7b402b0',
  'brine-pump-two-stations-us': 'f7ad2a39',
  'sluice-gate-jog-relay-us': '769263b8',
  'sluice-gate-jog-button': 'c61673c6',
  'sluice-gate-jog-relay': 'be040852',
  'sluice-gate-jog-selector': '40c23366',
  'salt-harrow-electrical-interlock-us': '991b0813',
  'salt-harrow-electrical-interlock': '5c7274ae',
  'salt-harrow-lamps': '7ec8098e',
  'salt-harrow-limit-switches': '9b34ec5f',
  'salt-harrow-mechanical-interlock': 'ad0dd8a0',
  'salt-harrow-no-interlock': '466163a9',
  'salt-harrow-push-button-interlock': '190745f0',
  'salt-harrow-jog': 'd6bb72ce',
  'salt-harrow-two-overloads': 'c739edc6',
  'blower-star-delta-winding-leg': 'da8a583c',
  'blower-star-delta-reversing': '17ecb18e',
  'blower-star-delta-by-hand': '7d5f2500',
  'blower-star-delta-timer': '3e9e9bc3',
  'blower-star-delta-main-from-start': '03842f83',
  'blower-star-delta-main-through-star': 'b66ff502',
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
