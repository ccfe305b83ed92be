import { expect, test } from '@jest/globals';
import { provedSoFar, referenceBench, type Wire } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { summaryOf } from '../src/floor/proof-summary.js';

const pump = shippedExercise('brine-pump-three-wire')!;
const board = referenceBench(pump);
const summary = (wires: readonly Wire[], functions = pump.behaviours) =>
  summaryOf(provedSoFar({ ...board, wires: [...wires] }, functions));

test('a right board is safe and does everything', () => {
  expect(summary(board.wires)).toEqual({
    text: '✓ Safe in every order of pressing; does 5 of 5 functions',
    bad: false,
  });
  // An exercise whose tests are not told says nothing of functions.
  expect(summary(board.wires, []).text).toBe('✓ Safe in every order of pressing');
});

test('a board without leads is called neither safe nor broken', () => {
  const { text, bad } = summary([]);
  expect(text).toMatch(/^○ No safety property is broken so far; does 0 of 5 functions$/);
  expect(bad).toBe(false);
});

test('a frame without its lead is not called wrong before its motor can run, and is from then on', () => {
  const unearthed = board.wires.filter(({ from, to }) => from !== 'M1:PE' && to !== 'M1:PE');
  expect(summary(unearthed.slice(0, 6)).bad).toBe(false);
  expect(summary(unearthed).text).toBe('✕ “Motor frames are earthed” does not hold; does 5 of 5 functions');
});

test('what is dangerous comes first: a short at once, then what an order of pressing breaks', () => {
  const short = summary([...board.wires, { from: 'Q1:2', to: 'Q1:4' }]);
  expect(short).toMatchObject({
    bad: true,
    text: expect.stringMatching(/^✕ Would short as the supply comes on: /),
  });
  // Stop bridged: nothing shorts, and it does not stop.
  const bridged = summary([...board.wires, { from: 'S1:21', to: 'S1:22' }]);
  expect(bridged).toMatchObject({
    bad: true,
    text: expect.stringMatching(/^✕ “Stop always stops” does not hold.*; does \d of 5/),
  });
});
