import type { Knex } from 'knex';
import type { Appeal } from '@contactum/contract';

/** Appeals against an assessment, of one student or of all. */
export async function appealsOf(database: Knex, id: string, studentId?: string): Promise<Appeal[]> {
  const query = database('assessment_appeals as a')
    .join('people as p', 'p.id', 'a.student_id')
    .where('a.assessment_id', id)
    .orderBy('a.at')
    .select<
      {
        id: string;
        student: string;
        task: string;
        criterion: string;
        text: string;
        at: Date;
        answer: string | null;
        upheld: boolean | null;
        answeredBy: string | null;
        answeredAt: Date | null;
      }[]
    >('a.*', 'p.name as student');
  if (studentId !== undefined) void query.where('a.student_id', studentId);
  return (await query).map((row) => ({
    id: row.id,
    student: row.student,
    task: row.task,
    criterion: row.criterion,
    text: row.text,
    at: row.at.toISOString(),
    answer: row.answer,
    upheld: row.upheld,
    by: row.answeredBy,
    answeredAt: row.answeredAt?.toISOString() ?? null,
  }));
}
