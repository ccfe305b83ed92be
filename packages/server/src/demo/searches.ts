import type { Knex } from 'knex';
import {
  gradeSearch,
  type Exercise,
  type SearchEntry,
  type SearchEvent,
  type Stimulus,
} from '@contactum/core';
import { AttemptModel, MarkingModel, SearchLogModel, SearchModel, markingOf } from '../database/models.js';

/** What a student did at the bench, with the seconds before each entry. */
type Doing = readonly (readonly [seconds: number, entry: SearchEntry])[];

const act = (stimulus: Stimulus): SearchEntry => ({ kind: 'act', stimulus });
const volts = (from: string, to: string): SearchEntry => ({
  kind: 'read',
  request: { mode: 'volts', at: [from, to] },
});
const ohms = (from: string, to: string): SearchEntry => ({
  kind: 'read',
  request: { mode: 'ohms', at: [from, to] },
});
const push = (tag: string, before: number): Doing => [
  [before, act({ press: tag })],
  [1, act({ release: tag })],
];

const BROKEN = { 'open-wire': 'KM1:14 S2:14' };

const lead = ({ bench }: Exercise): number =>
  bench.wires.findIndex(({ from, to }) => from === 'KM1:14' && to === 'S2:14');

/** Worked, measured, isolated, found, repaired and proved. */
const careful = (exercise: Exercise): Doing => [
  [20, act({ close: 'G1' })],
  ...push('S2', 8),
  [25, volts('G1:L1', 'G1:N')],
  [20, volts('KM1:13', 'G1:N')],
  [20, act({ open: 'G1' })],
  [5, { kind: 'lock', on: true }],
  [15, volts('F1:2', 'G1:N')],
  [25, ohms('KM1:14', 'S2:14')],
  [30, { kind: 'verdict', fault: BROKEN }],
  [60, { kind: 'renew', wire: lead(exercise) }],
  [10, { kind: 'lock', on: false }],
  [5, act({ close: 'G1' })],
  ...push('S2', 5),
  [3, act({ press: 'S1' })],
  [1, act({ release: 'S1' })],
  ...push('S2', 4),
  [4, act({ trip: 'F2' })],
  ...push('S2', 3),
  [4, act({ reset: 'F2' })],
  ...push('S2', 3),
  [5, act({ open: 'G1' })],
  [3, act({ close: 'G1' })],
  ...push('S2', 3),
  [4, act({ open: 'G1' })],
];

/** A part exchanged before anything was measured, and a wrong verdict. */
const hasty = (exercise: Exercise): Doing => [
  [10, act({ close: 'G1' })],
  ...push('S2', 5),
  [10, { kind: 'exchange', tag: 'KM1' }],
  ...push('S2', 30),
  [20, { kind: 'verdict', fault: { 'contact-stuck-open': 'KM1:13-14' } }],
  [30, volts('KM1:14', 'G1:N')],
  [20, volts('S2:14', 'G1:N')],
  [20, act({ open: 'G1' })],
  [30, ohms('KM1:14', 'S2:14')],
  [20, { kind: 'verdict', fault: BROKEN }],
  [40, { kind: 'renew', wire: lead(exercise) }],
  [10, act({ close: 'G1' })],
  ...push('S2', 5),
];

/** How the first students of a class went about it; the others have not begun. */
export const SEARCHERS: readonly ((exercise: Exercise) => Doing)[] = [careful, hasty];

/** Stores a search that was handed in and is really marked. */
export async function storeSearch(
  trx: Knex,
  exercise: Exercise,
  who: { readonly assignmentId: string; readonly studentId: string; readonly start: Date },
  doing: Doing,
): Promise<void> {
  const [set] = exercise.sets ?? [];
  if (!set) return;
  const { assignmentId, studentId, start } = who;
  let t = 0;
  const log = doing.map(([seconds, entry]): SearchEvent => ({ t: (t += seconds), ...entry }));
  const end = new Date(start.getTime() + 1000 * (t + 30));
  const attempt = await AttemptModel.query(trx)
    .insert({ assignmentId, studentId, number: 1, state: 'marked', startedAt: start, handedInAt: end })
    .returning('*');
  const { title, complaint, minutes, faults } = set;
  const search = await SearchModel.query(trx)
    .insert({
      attemptId: attempt.id,
      personId: studentId,
      document: exercise,
      hidden: [...faults],
      title,
      complaint,
      minutes,
      state: 'handed-in',
      startedAt: start,
      t,
      lastSeq: log.length,
    })
    .returning('*');
  await SearchLogModel.query(trx).insert(
    log.map(({ t: at, ...body }, k) =>
      SearchLogModel.fromJson({ searchId: search.id, seq: k + 1, t: at, body }),
    ),
  );
  const report = gradeSearch(exercise, { faults, log, minutes });
  await MarkingModel.query(trx).insert({ attemptId: attempt.id, ...markingOf(report, null), markedAt: end });
}
