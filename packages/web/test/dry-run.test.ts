import { MessageChannel } from 'node:worker_threads';
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { expose, type Endpoint } from 'comlink';
import type { Exercise, Trial, TrialWiring } from '@contactum/core';
import { followDryRun } from '../src/setter/ask-setter.js';

/** What one thread of a dry run does in a test. */
interface Script {
  readonly wirings?: number;
  /** Titles that cannot be marked. */
  readonly fails?: string;
  /** Titles that wait until the test lets them go. */
  readonly waits?: Promise<void>;
}

const THREADS = 3;
const SAMPLE = { id: 'sample' } as unknown as Exercise;
const wiring = (k: number) => ({ title: `wiring ${k}` }) as TrialWiring;

let script: Script;
/** By thread: what it was given to mark by, what it marked, and whether it was ended. */
let threads: { exercise: string | null; marked: string[]; ended: number }[];

class FakeWorker {
  constructor() {
    const own = { exercise: null as string | null, marked: [] as string[], ended: 0 };
    threads.push(own);
    const { port1, port2 } = new MessageChannel();
    expose(
      {
        wirings: (_: Exercise, seed: number) => {
          if (script.wirings === undefined) throw new Error(`nothing can be wired by seed ${seed}`);
          return Array.from({ length: script.wirings }, (__, k) => wiring(k));
        },
        takeTrials: (exercise: Exercise) => void (own.exercise = exercise.id),
        async mark(one: TrialWiring): Promise<Trial> {
          own.marked.push(one.title);
          if (one.title === script.fails) throw new Error(`${one.title} is too large`);
          await script.waits;
          return { ...one, surprise: 0 } as Trial;
        },
      },
      port1 as unknown as Endpoint,
    );
    const terminate = () => {
      own.ended += 1;
      port1.close();
      port2.close();
    };
    return Object.assign(port2, { terminate }) as unknown as FakeWorker;
  }
}

const before = {
  Worker: globalThis.Worker,
  navigator: Object.getOwnPropertyDescriptor(globalThis, 'navigator'),
};

beforeEach(() => {
  threads = [];
  Object.assign(globalThis, { Worker: FakeWorker });
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: { hardwareConcurrency: THREADS },
  });
});
afterEach(() => {
  Object.assign(globalThis, { Worker: before.Worker });
  if (before.navigator) Object.defineProperty(globalThis, 'navigator', before.navigator);
  else Reflect.deleteProperty(globalThis, 'navigator');
});

/** A run to its end: what was heard, and what it ended with. */
async function runOf(seed = 7) {
  const heard: { title: string; of: number }[] = [];
  const problem = await new Promise<string | null>((done) => {
    followDryRun({ exercise: SAMPLE, seed }, ({ title }, of) => heard.push({ title, of }), done);
  });
  return { heard, problem };
}

test('every wiring is marked once, by whichever thread is free, with the exercise; the threads end with the run', async () => {
  script = { wirings: 20 };
  const { heard, problem } = await runOf();
  expect(problem).toBeNull();
  expect(heard.map(({ title }) => title).sort()).toEqual(
    Array.from({ length: 20 }, (_, k) => wiring(k).title).sort(),
  );
  expect(new Set(heard.map(({ of }) => of))).toEqual(new Set([20]));
  expect(threads).toHaveLength(THREADS);
  for (const { exercise, marked, ended } of threads) {
    expect(exercise).toBe('sample');
    expect(marked.length).toBeGreaterThan(0);
    expect(ended).toBe(1);
  }
});

test('fewer wirings than threads are a run as well, and so are none', async () => {
  for (const wirings of [1, 0]) {
    script = { wirings };
    const { heard, problem } = await runOf();
    expect([heard.length, problem]).toEqual([wirings, null]);
  }
});

test('a wiring that cannot be marked ends the run with what is wrong, told once', async () => {
  script = { wirings: 20, fails: 'wiring 4' };
  const done = jest.fn();
  const heard = jest.fn();
  await new Promise<void>((resolve) => {
    followDryRun({ exercise: SAMPLE, seed: 1 }, heard, (problem) => {
      done(problem);
      resolve();
    });
  });
  const told = heard.mock.calls.length;
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(done.mock.calls).toEqual([['wiring 4 is too large']]);
  expect(heard.mock.calls.length).toBe(told);
  expect(threads.map(({ ended }) => ended)).toEqual([1, 1, 1]);
});

test('an exercise from which nothing can be wired is told in the words of the thread', async () => {
  script = {};
  const { heard, problem } = await runOf(9);
  expect([heard, problem]).toEqual([[], 'nothing can be wired by seed 9']);
});

test('nothing is heard of a run that was ended, not even its end', async () => {
  let letGo = () => {};
  script = { wirings: 6, waits: new Promise((resolve) => (letGo = resolve)) };
  const heard = jest.fn();
  const done = jest.fn();
  const end = followDryRun({ exercise: SAMPLE, seed: 1 }, heard, done);
  while (threads.some(({ marked }) => marked.length === 0))
    await new Promise((resolve) => setTimeout(resolve, 2));
  end();
  end();
  letGo();
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect([heard.mock.calls, done.mock.calls]).toEqual([[], []]);
  expect(threads.map(({ ended }) => ended)).toEqual([1, 1, 1]);
});
