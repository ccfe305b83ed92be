import { MessageChannel } from 'node:worker_threads';
import { afterEach, expect, jest, test } from '@jest/globals';
import { expose, type Endpoint } from 'comlink';
import { bridgeTo, heard } from '../src/workers/bridge.js';

const api = {
  double: (n: number) => 2 * n,
  fails: () => {
    throw new Error('this board is too large');
  },
  async counts(to: number, hear: (n: number) => Promise<void>) {
    for (let n = 1; n <= to; n += 1) await hear(n);
    return 'done';
  },
  never: () => new Promise<void>(() => undefined),
};

const ends: (() => void)[] = [];
afterEach(() => {
  for (const end of ends.splice(0)) end();
});

/** A thread as the page sees it, at the other end of a channel. */
function thread() {
  const { port1, port2 } = new MessageChannel();
  expose(api, port1 as unknown as Endpoint);
  const terminate = jest.fn(() => {
    port1.close();
    port2.close();
  });
  ends.push(terminate);
  return Object.assign(port2, { terminate }) as unknown as Worker & { terminate: typeof terminate };
}

test('a question has its answer, and what is thrown in the thread rejects it in its words', async () => {
  const { ask } = bridgeTo<typeof api>(thread());
  await expect(ask((one) => one.double(21))).resolves.toBe(42);
  await expect(ask((one) => one.fails())).rejects.toThrow('this board is too large');
  // The thread goes on.
  await expect(ask((one) => one.double(2))).resolves.toBe(4);
});

test('a thread tells how far it is while it works', async () => {
  const { ask } = bridgeTo<typeof api>(thread());
  const told: number[] = [];
  const hear = heard((n: number) => void told.push(n));
  await expect(ask((one) => one.counts(3, hear))).resolves.toBe('done');
  expect(told).toEqual([1, 2, 3]);
});

test('what happens to the thread itself rejects whoever waits, now and later, and is told once', async () => {
  const worker = thread();
  const onFailure = jest.fn();
  const { ask } = bridgeTo<typeof api>(worker, onFailure);
  const waiting = ask((one) => one.never());
  worker.dispatchEvent(Object.assign(new Event('error'), { message: '' }));
  await expect(waiting).rejects.toThrow('could not be loaded');
  await expect(ask((one) => one.never())).rejects.toThrow('could not be loaded');
  expect(onFailure).toHaveBeenCalledTimes(1);
});

test('a thread that is ended is ended', () => {
  const worker = thread();
  bridgeTo<typeof api>(worker).end();
  expect(worker.terminate).toHaveBeenCalledTimes(1);
});
