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
  'brine-pump-lamps': '5640604c',
  'brine-pump-24-v-dc-control': '882ef134',
  'brine-pump-control-transformer': '0343cef2',
  'brine-pump-emergency-stop': '80cfced2',
  'brine-pump-momentary': '891c680b',
  'brine-pump-three-wire': '3f13f3b4',
  'brine-pump-three-wire-us': '9c89a237',
  'brine-pump-two-stations': '8125320e',
  'brine-pump-two-stations-us': '6dee4384',
  'plug-in-relay-hold': 'd9d8fd76',
  'brine-pump-pole-seal-in': '5101994b',
  'rinse-pump-single-phase': '8008eb0e',
  'sluice-gate-jog-button': 'e4d5edfe',
  'sluice-gate-jog-relay': '5e0ac292',
  'sluice-gate-jog-relay-us': 'fcfd5435',
  'sluice-gate-jog-selector': '8a1aca28',
  'salt-harrow-electrical-interlock': '47f67a40',
  'salt-harrow-electrical-interlock-us': '9edf12b9',
  'salt-harrow-lamps': 'ac68b3ed',
  'salt-harrow-limit-switches': 'a7e76873',
  'salt-harrow-mechanical-interlock': '148c46ee',
  'salt-harrow-no-interlock': '2690b611',
  'salt-harrow-push-button-interlock': '5836d23e',
  'salt-harrow-jog': 'a92f2d1f',
  'salt-harrow-two-overloads': '93dd0708',
  'blower-star-delta-winding-leg': 'e1f61dd6',
  'blower-star-delta-reversing': 'af097b20',
  'blower-star-delta-by-hand': 'b3e97375',
  'blower-star-delta-timer': '8ab2dbe6',
  'blower-star-delta-main-from-start': '7ac7bee9',
  'blower-star-delta-main-through-star': 'be4e9127',
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
