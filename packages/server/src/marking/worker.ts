import { grade, repair, repairTask, type Repair, type Report } from '@contactum/core';
import type { MarkingTask } from './queue.js';

/** Runs in a worker thread: marking is pure computation and must not hold up requests. */
export default function mark({ exercise, bench, log }: MarkingTask): Report {
  return grade(exercise, bench, { log });
}

/** The fewest edits that make a wiring pass; its thread is ended when nobody waits for them any more. */
export function search({ exercise, bench }: Omit<MarkingTask, 'log'>): Repair {
  return repair(repairTask(exercise, bench));
}
