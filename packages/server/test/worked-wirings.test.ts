import { expect, test } from '@jest/globals';
import { referenceBench, workWiring, type WorkedWiring } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { WorkedWirings } from '../src/marking/worked-wirings.js';
import type { WiringTask } from '../src/threads/worker.js';

const button = exercise('button-lamp-no');
const right = referenceBench(button);
const wrong = { ...right, wires: right.wires.slice(1) };

/** A lane whose tasks end when they are told to. */
function heldLane() {
  const tasks: { readonly task: WiringTask; readonly name: string | undefined }[] = [];
  const ends: ((how: 'worked' | 'failed') => void)[] = [];
  const run = <T>(task: unknown, name?: string): Promise<T> => {
    const wiring = task as WiringTask;
    tasks.push({ task: wiring, name });
    return new Promise<T>((resolve, reject) => {
      ends.push((how) =>
        how === 'worked'
          ? resolve(workWiring(wiring.exercise, wiring.bench) as T)
          : reject(new Error('the thread was lost')),
      );
    });
  };
  return { lane: { run }, tasks, ends };
}

test('a wiring that many hand in at one moment is worked once, and is known afterwards', async () => {
  const { lane, tasks, ends } = heldLane();
  const wirings = new WorkedWirings(lane);
  const asked = [right, wrong, right, structuredClone(right)].map((bench) =>
    wirings.of({ exercise: structuredClone(button), bench, how: {} }),
  );
  expect(tasks.map(({ task, name }) => [name, task.bench.wires.length])).toEqual([
    ['workOn', right.wires.length],
    ['workOn', wrong.wires.length],
  ]);
  for (const end of ends) end('worked');
  const [first, second, ...others] = (await Promise.all(asked)) as [WorkedWiring, WorkedWiring, WorkedWiring];
  expect(others).toEqual([first, first]);
  expect(second).not.toEqual(first);
  expect(await wirings.of({ exercise: button, bench: right, how: {} })).toBe(first);
  expect(tasks).toHaveLength(2);
});

test('one that could not be worked is worked anew for whoever asks next', async () => {
  const { lane, tasks, ends } = heldLane();
  const wirings = new WorkedWirings(lane);
  const asked = [1, 2].map(() => wirings.of({ exercise: button, bench: right, how: {} }));
  ends[0]!('failed');
  for (const one of await Promise.allSettled(asked)) expect(one.status).toBe('rejected');
  const again = wirings.of({ exercise: button, bench: right, how: {} });
  ends[1]!('worked');
  expect((await again).properties.length).toBeGreaterThan(0);
  expect(tasks).toHaveLength(2);
});

test('what is worked to a bound is not what is worked whole, nor is a board of another exercise', () => {
  const { lane, tasks } = heldLane();
  const wirings = new WorkedWirings(lane);
  void wirings.of({ exercise: button, bench: right, how: {} });
  void wirings.of({ exercise: button, bench: right, how: { most: 20_000, faults: false } });
  void wirings.of({ exercise: { ...button, marks: { ...button.marks, pass: 1 } }, bench: right, how: {} });
  expect(tasks).toHaveLength(3);
});
