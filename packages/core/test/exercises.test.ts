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
  'button-lamp-nc': '27d90ffb',
  'button-lamp-no': '3920d9ef',
  'coil-and-contact': 'f7e5dad5',
  'brine-pump-add-station': '157852f6',
  'brine-pump-add-hold': '80b534cd',
  'brine-pump-lamps': '88056f76',
  'brine-pump-24-v-dc-control': 'ae356853',
  'brine-pump-control-transformer': 'da06a031',
  'brine-pump-emergency-stop': 'd6b1bc7f',
  'brine-pump-momentary': '95a70050',
  'brine-pump-three-wire': '6a1aaf7b',
  'brine-pump-two-stations': '8f72a3fe',
  'plug-in-relay-hold': 'd014a1fc',
  'brine-pump-pole-seal-in': '58745e3a',
  'rinse-pump-single-phase': 'f54d8f7f',
  'brine-pump-station-on-cable': '32c0ff2e',
  'brine-pump-take-link-out': 'a1734548',
  'brine-pump-three-wire-us': '039ebd3c',
  'brine-pump-two-stations-us': 'e8220f74',
  'sluice-gate-jog-relay-us': '3cef68f9',
  'sluice-gate-jog-button': '9a11721a',
  'sluice-gate-jog-relay': '4c26d5a2',
  'sluice-gate-jog-selector': '598e5452',
  'salt-harrow-electrical-interlock-us': '50fedee8',
  'salt-harrow-electrical-interlock': 'f4e0b503',
  'salt-harrow-lamps': 'e7c755f8',
  'salt-harrow-limit-switches': '7e84a4e8',
  'salt-harrow-mechanical-interlock': '31647a87',
  'salt-harrow-no-interlock': '3d919d5c',
  'salt-harrow-push-button-interlock': 'c72d27cb',
  'salt-harrow-jog': '91e9c54a',
  'salt-harrow-two-overloads': 'e717ec89',
  'blower-star-delta-winding-leg': '34ad8675',
  'blower-star-delta-reversing': '327689f9',
  'blower-star-delta-by-hand': 'b105b720',
  'blower-star-delta-timer': '80bfd867',
  'blower-star-delta-main-from-start': '39ddb616',
  'blower-star-delta-main-through-star': 'de184212',
  'sluice-gate-brake': '010a2871',
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
