import type { Knex } from 'knex';
import { AssessmentModel } from '../../database/models.js';
import { outcomesOf } from './outcomes.js';
import { hasSat } from './set.js';

/** What an assessment comes to for a student, once it is released. */
export interface RecordedOutcome {
  readonly assessmentId: string;
  readonly studentId: string;
  /** Of a hundred. */
  readonly recorded: number;
  readonly max: number;
  readonly passed: boolean;
}

/** The outcomes of assessments that are released, of everybody who has sat and is marked whole. */
export async function recordedOutcomes(database: Knex, only: readonly string[]): Promise<RecordedOutcome[]> {
  if (only.length === 0) return [];
  const released = await AssessmentModel.query(database)
    .whereIn('id', [...only])
    .whereNull('withdrawnAt')
    .whereNotNull('releasedAt')
    .withGraphFetched('sittings');
  const all: RecordedOutcome[] = [];
  for (const assessment of released) {
    const sat = (assessment.sittings ?? []).filter(hasSat).map(({ studentId }) => studentId);
    const outcomes = await outcomesOf(database, assessment, sat);
    for (const [studentId, { outcome }] of outcomes)
      if (outcome.complete)
        all.push({
          assessmentId: assessment.id,
          studentId,
          recorded: outcome.percent,
          max: 100,
          passed: outcome.passed,
        });
  }
  return all;
}
