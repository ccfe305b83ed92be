import { grade } from '@contactum/core';
import type { MarkingTask } from './queue.js';

/** Runs in a worker thread: marking is pure computation and must not hold up requests. */
export default function mark({ exercise, bench }: MarkingTask) {
  return grade(exercise, bench);
}
