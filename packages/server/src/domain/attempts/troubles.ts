import type { Knex } from 'knex';
import type { ExerciseTroubles, Person } from '@contactum/contract';
import type { LostCriterion } from '../../database/models.js';
import { lossesOf, spreadOf } from './mark-book.js';
import { classesOf } from '../people/permissions.js';

interface Row {
  readonly exerciseId: string;
  readonly title: string;
  readonly term: string;
  readonly recorded: number;
  readonly max: number;
  readonly passed: boolean;
  readonly lost: readonly LostCriterion[];
  readonly joints: readonly { readonly what: string }[];
}

/**
 * What goes wrong most, exercise by exercise, in all classes of an instructor, and how it went from term to
 * term.
 */
export async function troublesOf(database: Knex, instructor: Person): Promise<ExerciseTroubles[]> {
  const rows = await database('markings as m')
    .join('attempts as t', 't.id', 'm.attempt_id')
    .join('assignments as s', 's.id', 't.assignment_id')
    .join('classes as c', 'c.id', 's.class_id')
    .whereIn('c.id', classesOf(database, instructor))
    .whereNotNull('m.recorded')
    .where('t.confirmed', true)
    .select<Row[]>(
      's.exercise_id',
      database.raw("s.document->>'title' as title"),
      'c.term',
      'm.recorded',
      'm.max',
      'm.passed',
      'm.lost',
      'm.joints',
    );
  const groups = new Map<string, Row[]>();
  for (const row of rows) groups.set(row.exerciseId, [...(groups.get(row.exerciseId) ?? []), row]);
  return [...groups.values()]
    .map(troubles)
    .sort((a, b) => worst(b) - worst(a) || a.title.localeCompare(b.title));
}

const worst = ({ losses }: ExerciseTroubles): number => losses[0]?.attempts ?? 0;

function troubles(rows: readonly Row[]): ExerciseTroubles {
  const terms = [...new Set(rows.map(({ term }) => term))].sort();
  const wires = new Map<string, number>();
  // A joint counts once an attempt, however often it is told of it.
  for (const { joints } of rows)
    for (const what of new Set(joints.map((one) => one.what))) wires.set(what, (wires.get(what) ?? 0) + 1);
  const [first] = rows;
  return {
    exerciseId: first?.exerciseId ?? '',
    title: rows.at(-1)?.title ?? '',
    terms: terms.map((term) => {
      const own = rows.filter((row) => row.term === term);
      const spread = spreadOf(own);
      return {
        term,
        attempts: own.length,
        passed: own.filter(({ passed }) => passed).length,
        median: spread?.median ?? 0,
      };
    }),
    losses: lossesOf(rows, 8),
    wires: [...wires]
      .map(([what, attempts]) => ({ what, attempts }))
      .sort((a, b) => b.attempts - a.attempts || a.what.localeCompare(b.what))
      .slice(0, 8),
  };
}
