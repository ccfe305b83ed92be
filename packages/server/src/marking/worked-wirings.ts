import { wiringKey, type WorkedWiring } from '@contactum/core';
import { LRUCache } from 'lru-cache';
import type { Lane } from '../runtime/lane.js';
import type { WiringTask } from '../threads/worker.js';

/** Wirings of which it is kept what they do; what is kept of one takes some tens of kilobytes. */
const WIRINGS = 300;

/** What wirings do that were handed in last: the same one, handed in by many of a class, is worked once. */
export class WorkedWirings {
  private readonly known = new LRUCache<string, Promise<WorkedWiring>>({ max: WIRINGS });

  constructor(private readonly lane: Pick<Lane<unknown, unknown>, 'run'>) {}

  /** What a wiring does; whoever asks while it is worked waits for it. */
  of(task: WiringTask): Promise<WorkedWiring> {
    const key = wiringKey(task.exercise, task.bench, task.how);
    const known = this.known.get(key);
    if (known) return known;
    const made = this.lane.run<WorkedWiring>(task, 'workOn');
    this.known.set(key, made);
    // What could not be worked is worked anew for whoever asks next; who has asked is told by the promise.
    made.catch(() => this.known.delete(key));
    return made;
  }
}
