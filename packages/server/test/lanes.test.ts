import { afterEach, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Lane, TooMuch } from '../src/runtime/lane.js';

const worker = { url: pathToFileURL(join(import.meta.dirname, 'fixtures', 'lane-worker.mjs')) };
const lanes: Lane<unknown, unknown>[] = [];
const lane = (seconds: number) => {
  const one = new Lane({ worker, seconds });
  lanes.push(one);
  return one;
};
afterEach(async () => {
  await Promise.all(lanes.splice(0).map((one) => one.destroy()));
});

test('what does not end is ended after its time, and what waits behind it has its own turn and time', async () => {
  const one = lane(5);
  const order: string[] = [];
  const heavy = one.run({}).catch((error: unknown) => {
    order.push('ended');
    return error;
  });
  const behind = one.run({ answer: 'second' }).then((answer) => {
    order.push('second');
    return answer;
  });
  expect(await heavy).toBeInstanceOf(TooMuch);
  expect(await behind).toBe('second');
  expect(order).toEqual(['ended', 'second']);
  expect((await heavy) as Error).toMatchObject({
    type: 'too-large',
    message: 'The computation was ended: it took more than 5 seconds. This board is too large for it.',
  });
});

test('a lane of another kind goes on meanwhile', async () => {
  const [heavy, other] = [lane(600), lane(600)];
  let isEnded = false;
  const never = heavy.run({}).catch(() => (isEnded = true));
  expect(await other.run({ answer: 'at once' })).toBe('at once');
  expect(isEnded).toBe(false);
  await heavy.destroy();
  await never;
  expect(isEnded).toBe(true);
});

test('who asks much waits behind everybody’s first', async () => {
  const one = lane(600);
  const order: string[] = [];
  const ask = (who: string, n: number) =>
    one.run({ answer: `${who}${n}` }, undefined, who).then((answer) => order.push(String(answer)));
  await Promise.all([
    ...[1, 2, 3, 4].map((n) => ask('a', n)),
    ...[1, 2].map((n) => ask('b', n)),
    ask('c', 1),
  ]);
  // The first of a is under way when the others come; then each in turn.
  expect(order).toEqual(['a1', 'a2', 'b1', 'c1', 'a3', 'b2', 'a4']);
});

test('what wants more memory than a thread may have is ended, and nothing else is', async () => {
  const one = new Lane({ worker, seconds: 60, megabytes: 40 });
  lanes.push(one);
  expect(await one.run({ fill: true }).catch((error: unknown) => error)).toMatchObject({
    type: 'too-large',
    message: 'The computation was ended: it took more than 40 MB. This board is too large for it.',
  });
  expect(await one.run({ answer: 'after' })).toBe('after');
});
