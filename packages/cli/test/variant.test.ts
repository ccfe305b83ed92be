import { expect, test } from '@jest/globals';
import { referenceBench, type Exercise } from '@contactum/core';
import { shippedExercises } from '@contactum/core/exercises';
import { command as run, ownFolder } from './help.js';

const { file } = ownFolder('variant');
const pump = shippedExercises().find(({ id }) => id === 'brine-pump-three-wire')!;
const board = file('pump.json', pump);

test('a variant can be read and graded, and is the same for the same seed', async () => {
  const made = await run('variant', board, '--seed', '12', '--json');
  expect(made).toMatchObject({ status: 0, error: '' });
  expect(await run('variant', board, '--seed', '12', '--json')).toEqual(made);
  expect((await run('variant', board, '--seed', '13', '--json')).out).not.toBe(made.out);
  const variant = JSON.parse(made.out) as Exercise;
  expect(variant.id).toBe('brine-pump-three-wire-v12');
  const read = file('made.json', variant);
  expect(await run('check', read, '--json')).toMatchObject({
    status: 0,
    out: '{"ok":true,"kind":"exercise"}',
  });
  const right = await run('grade', read, file('right.json', referenceBench(variant)), '--json');
  expect(JSON.parse(right.out)).toMatchObject({ score: 100, passed: true });
  // What is right on the original is no wiring of this board.
  const other = await run('grade', read, file('other.json', referenceBench(pump)), '--json');
  expect(other).toMatchObject({ status: 2 });
});

test('says in words what is on the board; a seed is needed, a whole one', async () => {
  const said = await run('variant', board, '--seed', '12');
  expect(said.status).toBe(0);
  expect(said.out.split('\n')[0]).toBe('brine-pump-three-wire-v12: Brine pump, three-wire');
  expect(await run('variant', board)).toMatchObject({
    status: 2,
    error: expect.stringContaining('arguments: variant needs --seed N'),
  });
  for (const seed of ['-1', '1.5', 'x', '2147483648'])
    expect(await run('variant', board, '--seed', seed)).toMatchObject({
      status: 2,
      error: expect.stringContaining('arguments: --seed is a whole number from 0 to 2147483647'),
    });
});
