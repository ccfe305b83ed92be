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

/**
 * What an attempt was marked by is told by these; they change only where an exercise is meant to ask for
 * something else.
 */
const VERSIONS = {
  'blower-controller-star-delta': 'b992acf1',
  'brine-pump-controller': '1d183d4a',
  'brine-pump-controller-emergency-stop': 'e8f3fbad',
  'brine-pump-controller-open-loop': '64a7640d',
  'brine-pump-controller-program': '253ec821',
  'brine-pump-controller-rest': 'f697b513',
  'salt-harrow-controller': '2896d5b8',
  'sluice-gate-controller-jog': '74b7c28a',

  'button-lamp-nc': '6e80caae',
  'button-lamp-no': '5517f37a',
  'coil-and-contact': '6c19da7c',
  'brine-pump-add-station': 'b6b7366d',
  'brine-pump-add-hold': 'f6414c64',
  'brine-pump-lamps': '681e03ed',
  'brine-pump-208-v': '02275c57',
  'brine-pump-24-v-dc-control': 'a5995f96',
  'brine-pump-control-transformer': '27c81b02',
  'brine-pump-emergency-stop': '210b106a',
  'brine-pump-momentary': '95a70050',
  'brine-pump-three-wire': 'd1a0712e',
  'brine-pump-two-stations': '783a10a5',
  'plug-in-relay-hold': '4cfec007',
  'brine-pump-pole-seal-in': '482f6639',
  'rinse-pump-single-phase': '0f8cd96a',
  'brine-pump-station-on-cable': 'fab07f75',
  'brine-pump-take-link-out': 'da4f50cb',
  'brine-pump-three-wire-us': 'dfd1f05a',
  'brine-pump-two-stations-us': 'c8ddb825',
  'sluice-gate-jog-relay-us': '52204be1',
  'sluice-gate-jog-button': '43aece19',
  'sluice-gate-jog-relay': '20bd5611',
  'sluice-gate-jog-selector': '8f184a61',
  'salt-harrow-electrical-interlock-us': 'd73e0c2e',
  'salt-harrow-electrical-interlock': '7c5bb5a6',
  'salt-harrow-lamps': '6d3fd85b',
  'salt-harrow-limit-switches': '599581eb',
  'salt-harrow-mechanical-interlock': 'bcbf31c2',
  'salt-harrow-no-interlock': '3d919d5c',
  'salt-harrow-push-button-interlock': 'fece1d1e',
  'salt-harrow-jog': 'd8762269',
  'salt-harrow-two-overloads': 'fd22ac48',
  'blower-star-delta-winding-leg': '267be41c',
  'blower-star-delta-reversing': '511ea118',
  'blower-star-delta-by-hand': '9f9da753',
  'blower-star-delta-timer': '8fe20922',
  'blower-star-delta-main-from-start': 'add2258d',
  'blower-star-delta-main-through-star': '39de9a21',
  'sluice-gate-brake': '289a6c60',
  'brine-pump-controller-us': '2982a7e4',
  'brine-pump-controller-convert': '219d8613',
  'salt-harrow-controller-us': 'adb9ca20',
  'salt-harrow-controller-limit-switches': '484bf521',
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
