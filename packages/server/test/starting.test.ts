import { expect, test } from '@jest/globals';
import { Starting } from '../src/runtime/starting.js';

const STAGES = [['web-1'], ['web-2', 'web-3'], ['work']];

test('one that answers is started first, then the others, and last what marks', () => {
  const started: string[] = [];
  const starting = new Starting(STAGES, (role) => started.push(role));
  expect(started).toEqual(['web-1']);
  starting.isDone('web-1');
  expect(started).toEqual(['web-1', 'web-2', 'web-3']);
  starting.isDone('web-3');
  // Of a stage that is over, of one that has not begun, and twice: nothing comes earlier for it.
  for (const role of ['web-1', 'work', 'web-3']) starting.isDone(role);
  expect(started).toHaveLength(3);
  starting.isDone('web-2');
  expect(started).toEqual([...STAGES.flat()]);
  starting.isDone('work');
  expect(started).toHaveLength(4);
});

test('what ends at once holds up nothing else', () => {
  const started: string[] = [];
  const starting: { isDone(role: string): void } = new Starting(STAGES, (role) => started.push(role));
  for (const role of ['web-1', 'web-2', 'web-3']) starting.isDone(role);
  expect(started.at(-1)).toBe('work');
});
