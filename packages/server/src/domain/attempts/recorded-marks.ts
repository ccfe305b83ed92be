import type { Knex } from 'knex';
import type { Counts } from '@contactum/contract';
import { MARKS_ARE_OUT } from '../people/sight.js';
import { bookAttempts, byKey, counting } from './mark-book.js';

/** What a mark book records of a student at an assignment. */
export interface RecordedMark {
  readonly assignmentId: string;
  readonly studentId: string;
  readonly recorded: number;
  readonly max: number;
  readonly passed: boolean;
}

/**
 * The marks that are recorded and out: of an attempt that counts, is confirmed and held back from nobody.
 * @param only ids of assignments; null for all.
 */
export async function recordedMarks(database: Knex, only: readonly string[] | null): Promise<RecordedMark[]> {
  if (only?.length === 0) return [];
  const set = await database('assignments as s')
    .modify((query) => (only === null ? query : query.whereIn('s.id', [...only])))
    .whereRaw(MARKS_ARE_OUT)
    .where((query) =>
      query
        .whereNull('s.assessment_id')
        .orWhereIn('s.assessment_id', database('assessments').whereNotNull('released_at').select('id')),
    )
    .select<{ id: string; counts: Counts }[]>('s.id', 's.counts');
  const attempts = await bookAttempts(
    database,
    set.map(({ id }) => id),
  );
  const countsOf = new Map(set.map(({ id, counts }) => [id, counts]));
  const cells = byKey(attempts, ({ assignmentId, studentId }) => `${assignmentId} ${studentId}`);
  return [...cells.values()].flatMap((own): RecordedMark[] => {
    const [{ assignmentId, studentId } = { assignmentId: '', studentId: '' }] = own;
    const inOrder = own.toSorted((a, b) => a.number - b.number);
    const result = counting(inOrder, countsOf.get(assignmentId) ?? 'best')?.result;
    return result
      ? [{ assignmentId, studentId, recorded: result.recorded, max: result.max, passed: result.passed }]
      : [];
  });
}
