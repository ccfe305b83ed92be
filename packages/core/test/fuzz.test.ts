import { expect, test } from '@jest/globals';
import { checkSeed } from './fuzz/check.js';
import { leftOut } from './fuzz/left-out.js';
import { longList, longRuns } from './help.js';
import { marksOf } from './fuzz/marks.js';
import { alikeOf, partsCompared, partsOf } from './fuzz/parts.js';
import { untilLostOf } from './fuzz/until-lost.js';

/** Thousands more run with `npm run fuzz -- --minutes N`. */
const BOARDS = longRuns(100);

test(`plain checkers find the same in ${BOARDS} wrong wirings, and what is claimed replays (seeds 1 to ${BOARDS})`, () => {
  const results = Array.from({ length: BOARDS }, (_, k) => checkSeed(k + 1));
  expect(results.flatMap((result) => result.findings)).toEqual([]);
  expect(results.reduce((sum, result) => sum + result.traces, 0)).toBeGreaterThan(BOARDS);
  expect(results.filter(({ skipped }) => skipped).length).toBeLessThan(BOARDS / 20);
});

/** Light boards of each family. */
const MARKED = longList([5, 9, 13, 17, 25]);

test.each(MARKED)(
  'right boards wired otherwise have full marks, and no usual mistake made on one of them passes (seed %i)',
  (seed) => {
    const { right, wrong, alike, findings } = marksOf(seed);
    expect(findings).toEqual([]);
    expect(alike).toEqual([]);
    expect(right).toBe(5);
    expect(wrong).toBeGreaterThan(12);
  },
);

test('a right lead less does not make a wrong board worth more (seeds 1 to 12; what was found once)', () => {
  const seeds = longList([...Array.from({ length: 12 }, (_, k) => k + 1), 29, 41]);
  const all = seeds.flatMap(leftOut);
  expect(all.filter(({ passes }) => passes)).toEqual([]);
  expect(all.filter(({ more }) => more > 0.5)).toEqual([]);
  expect(all.length).toBeGreaterThan(2 * seeds.length);
});

/** 5 000 of each with `npm run fuzz -- --minutes 10`. */
const GROUPED = longRuns(300);

test(`boards of several groups with crossed leads are proved by parts as at once (seeds 1 to ${GROUPED})`, () => {
  const results = Array.from({ length: GROUPED }, (_, k) => partsOf(k + 1));
  expect(results.flatMap(({ findings }) => findings)).toEqual([]);
  expect(results.filter(({ parts }) => parts > 1).length).toBeGreaterThan(GROUPED / 3);
  expect(results.filter(({ skipped }) => skipped).length).toBeLessThan(GROUPED / 20);
});

test(`boards whose groups are alike, or nearly, are proved as at once (seeds 1 to ${GROUPED})`, () => {
  const results = Array.from({ length: GROUPED }, (_, k) => alikeOf(k + 1));
  expect(results.flatMap(({ findings }) => findings)).toEqual([]);
  expect(results.filter(({ alike = 0 }) => alike > 0).length).toBeGreaterThan(GROUPED / 3);
  expect(results.filter(({ parts, alike = 0 }) => parts > 1 + alike).length).toBeGreaterThan(GROUPED / 10);
});

test(`and compared by parts as at once (seeds 1 to ${GROUPED})`, () => {
  const results = Array.from({ length: GROUPED }, (_, k) => partsCompared(k + 1));
  expect(results.flatMap(({ findings }) => findings)).toEqual([]);
  expect(results.filter(({ parts }) => parts > 1).length).toBeGreaterThan(GROUPED / 20);
});

/** Thousands more run with `npm run fuzz -- --minutes N`. */
const UNTIL_LOST = longRuns(240);

test(`a proof that ends with the first lost property tells it as one of all does (seeds 1 to ${UNTIL_LOST})`, () => {
  const results = Array.from({ length: UNTIL_LOST }, (_, k) => untilLostOf(k + 1));
  expect(results.flatMap(({ findings }) => findings)).toEqual([]);
  expect(results.filter(({ lost }) => lost > 1).length).toBeGreaterThan(UNTIL_LOST / 4);
});
