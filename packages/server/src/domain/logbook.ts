import type { Knex } from 'knex';
import type { Logbook, LogbookLine, Person } from '@contactum/contract';
import { AttemptModel } from '../database/models.js';
import { resultOf } from './attempts.js';

/** Hours from beginning to handing in; a board that was left open overnight was not worked at all the while. */
const LONGEST_HOURS = 8;

/** A student's practical record over all classes and years. */
export async function logbookOf(database: Knex, student: Person): Promise<Logbook> {
  const attempts = await AttemptModel.query(database)
    .where({ studentId: student.id, state: 'marked' })
    .orderBy('handedInAt')
    .withGraphFetched('[assignment.[class, setter], marking, changes.author, sheet.author]');
  return {
    student: { id: student.id, name: student.name },
    lines: attempts.flatMap((attempt): LogbookLine[] => {
      const { assignment, sheet, changes = [] } = attempt;
      if (!assignment) return [];
      const result = resultOf(attempt);
      const ended = attempt.handedInAt ?? attempt.startedAt;
      const hours = (ended.getTime() - attempt.startedAt.getTime()) / 3_600_000;
      return [
        {
          attemptId: attempt.id,
          exercise: assignment.document.title,
          className: assignment.class?.name ?? '',
          term: assignment.class?.term ?? '',
          board: assignment.document.bench.title,
          place: sheet ? 'bench' : 'screen',
          date: ended.toISOString(),
          hours: Math.round(Math.min(LONGEST_HOURS, Math.max(0, hours)) * 100) / 100,
          score: result?.score ?? null,
          max: result?.max ?? null,
          passed: result?.passed ?? null,
          instructor: sheet?.author?.name ?? changes.at(-1)?.author?.name ?? assignment.setter?.name ?? '',
        },
      ];
    }),
  };
}

export const LOGBOOK_COLUMNS = [
  'Date',
  'Exercise',
  'Board',
  'Place',
  'Class',
  'Term',
  'Hours',
  'Points',
  'Of',
  'Passed',
  'Instructor',
];

/** The same as rows of a table. */
export const logbookRows = ({ lines }: Logbook): string[][] =>
  lines.map((line) => [
    line.date.slice(0, 10),
    line.exercise,
    line.board,
    line.place,
    line.className,
    line.term,
    line.hours.toFixed(2),
    String(line.score ?? ''),
    String(line.max ?? ''),
    line.passed === null ? '' : line.passed ? 'yes' : 'no',
    line.instructor,
  ]);
