import type { Knex } from 'knex';
import type { Logbook, LogbookLine, Person } from '@contactum/contract';
import { AttemptModel } from '../../database/models.js';
import { hoursAt, resultOf } from './attempts.js';
import { heldFor } from '../people/sight.js';

/** A student's practical record over all classes and years. */
export async function logbookOf(database: Knex, student: Person): Promise<Logbook> {
  const attempts = await AttemptModel.query(database)
    .where({ studentId: student.id, state: 'marked', confirmed: true })
    .orderBy('handedInAt')
    .withGraphFetched('[assignment.[class, setter, people], marking, changes.author, sheet(brief).confirmer]')
    // A photograph is large.
    .modifiers({ brief: (query) => void query.select('id', 'attemptId', 'confirmedBy') });
  return {
    student: { id: student.id, name: student.name },
    lines: attempts.flatMap((attempt): LogbookLine[] => {
      const { assignment, sheet, changes = [] } = attempt;
      if (!assignment || heldFor(assignment, student)) return [];
      const result = resultOf(attempt);
      return [
        {
          attemptId: attempt.id,
          exercise: assignment.document.title,
          className: assignment.class?.name ?? '',
          term: assignment.class?.term ?? '',
          board: assignment.document.bench.title,
          place: sheet ? 'bench' : 'screen',
          date: (attempt.handedInAt ?? attempt.startedAt).toISOString(),
          hours: Math.round(hoursAt(attempt) * 100) / 100,
          recorded: result?.recorded ?? null,
          max: result?.max ?? null,
          passed: result?.passed ?? null,
          instructor: sheet?.confirmer?.name ?? changes.at(-1)?.author?.name ?? assignment.setter?.name ?? '',
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
    String(line.recorded ?? ''),
    String(line.max ?? ''),
    line.passed === null ? '' : line.passed ? 'yes' : 'no',
    line.instructor,
  ]);
