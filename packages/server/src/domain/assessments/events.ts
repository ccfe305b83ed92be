import type { Knex } from 'knex';
import type { SittingEvent } from '@contactum/contract';

/** What happened in the room: starts, pauses, who was away, notes. */

interface Happened {
  /** Of everybody where none is named. */
  readonly studentId?: string | null;
  readonly kind: string;
  readonly text?: string;
  readonly actor: string;
}

export async function event(
  database: Knex,
  assessmentId: string,
  { studentId = null, kind, text = '', actor }: Happened,
): Promise<void> {
  await database('assessment_events').insert({
    assessment_id: assessmentId,
    student_id: studentId,
    kind,
    text,
    actor,
  });
}

/** The events of an assessment, the newest first. */
export async function eventsOf(database: Knex, assessmentId: string): Promise<SittingEvent[]> {
  const rows = await database('assessment_events')
    .where({ assessment_id: assessmentId })
    .orderBy('id', 'desc')
    .limit(1000)
    .select<{ id: string; studentId: string | null; kind: string; text: string; actor: string; at: Date }[]>(
      'id',
      'student_id',
      'kind',
      'text',
      'actor',
      'at',
    );
  return rows.map(({ actor, at, ...row }) => ({
    ...row,

    by: actor,
    at: at.toISOString(),
  }));
}
