import type { Knex } from 'knex';
import type { Person } from '@contactum/contract';
import { classesOf } from '../people/permissions.js';

/** A moment that somebody must know of: when an exercise opens, is due or closes. */
export interface DueDate {
  readonly id: string;
  readonly title: string;
  readonly className: string;
  readonly what: 'opens' | 'due' | 'closes';
  readonly at: Date;
}

interface Row {
  readonly id: string;
  readonly title: string;
  readonly className: string;
  readonly opensAt: Date | null;
  readonly dueAt: Date | null;
  readonly closesAt: Date | null;
}

/**
 * Due dates of what is set to a student, with the own extra time; or of what is set to an instructor's
 * classes.
 */
export async function dueDates(database: Knex, person: Person): Promise<DueDate[]> {
  const isStudent = person.role === 'student';
  const query = database('assignments as s')
    .join('classes as c', 'c.id', 's.class_id')
    .whereNull('s.withdrawn_at')
    .orderBy('s.set_at');
  const base = [
    's.id',
    // What an assessment is of is told when it opens.
    isStudent
      ? database.raw(
          "case when s.mode = 'assessment' and s.opens_at > now() then 'Assessment' else s.document->>'title' end as title",
        )
      : database.raw("s.document->>'title' as title"),
    'c.name as className',
    's.opens_at as opensAt',
  ];
  const rows: Row[] = isStudent
    ? await query
        .join('assignment_students as v', 'v.assignment_id', 's.id')
        .where('v.student_id', person.id)
        .whereNull('s.assessment_id')
        .select<Row[]>(...base, 'v.due_at as dueAt', 'v.closes_at as closesAt')
    : await query
        .whereIn('s.class_id', classesOf(database, person))
        .select<Row[]>(...base, 's.due_at as dueAt', 's.closes_at as closesAt');
  return rows.flatMap(({ id, title, className, opensAt, dueAt, closesAt }) =>
    (
      [
        ['opens', opensAt],
        ['due', dueAt],
        ['closes', closesAt],
      ] as const
    ).flatMap(([what, at]) => (at === null ? [] : [{ id, title, className, what, at }])),
  );
}
