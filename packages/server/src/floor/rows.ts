import { Refusal } from '../runtime/refusal.js';
import type pg from 'pg';
import type { Knex } from 'knex';
import type { BenchStatus, FloorBench } from '@contactum/contract';
import { HERE_SECONDS } from '../domain/classes/classes.js';

/** Most benches of one floor. */
const MOST = 400;

interface Row {
  readonly attemptId: string;
  readonly searchId: string | null;
  readonly searchSeenAt: Date | null;
  readonly student: string;
  readonly exercise: string;
  readonly exerciseId: string;
  readonly startedAt: Date;
  readonly status: BenchStatus | null;
  readonly seenAt: Date | null;
  readonly asksAt: Date | null;
  readonly progress: number | null;
  readonly progressOf: number | null;
  readonly progressAt: Date | null;
  readonly wordId: string | null;
  readonly wordText: string | null;
  readonly wordAt: Date | null;
}

/** The benches of a class that are not handed in. */
export async function floorBenches(database: Knex, classId: string): Promise<FloorBench[]> {
  const rows = await database('attempts as t')
    .join('assignments as s', 's.id', 't.assignment_id')
    .join('assignment_students as v', (join) =>
      join.on('v.assignment_id', 't.assignment_id').andOn('v.student_id', 't.student_id'),
    )
    .join('people as p', 'p.id', 't.student_id')
    .leftJoin('bench_states as b', 'b.attempt_id', 't.id')
    .leftJoin('searches as h', 'h.attempt_id', 't.id')
    .joinRaw(
      `left join lateral (select id, text, at from bench_words where attempt_id = t.id
         and author_id = t.student_id and heard_at is null order by id desc limit 1) w on true`,
    )
    .where({ 's.class_id': classId, 't.state': 'open' })
    .orderBy(['p.name', 't.started_at'])
    .limit(MOST)
    .select<Row[]>(
      't.id as attemptId',
      'h.id as searchId',
      'h.seen_at as searchSeenAt',
      'p.name as student',
      database.raw("s.document->>'title' as exercise"),
      's.exercise_id as exerciseId',
      't.started_at as startedAt',
      'b.status',
      'b.seen_at as seenAt',
      'b.asks_at as asksAt',
      'b.progress',
      'b.progress_of as progressOf',
      'b.progress_at as progressAt',
      'w.id as wordId',
      'w.text as wordText',
      'w.at as wordAt',
    );
  return rows.map(benchOf);
}

function benchOf(row: Row): FloorBench {
  const last = Math.max(row.seenAt?.getTime() ?? 0, row.searchSeenAt?.getTime() ?? 0);
  return {
    attemptId: row.attemptId,
    searchId: row.searchId,
    student: row.student,
    exercise: row.exercise,
    exerciseId: row.exerciseId,
    startedAt: row.startedAt.toISOString(),
    status: row.status,
    here: Date.now() - last < 1000 * HERE_SECONDS,
    asksAt: row.asksAt?.toISOString() ?? null,
    word:
      row.wordId !== null && row.wordAt
        ? {
            id: row.wordId,
            by: row.student,
            text: row.wordText ?? '',
            at: row.wordAt.toISOString(),
            isStudents: true,
            isToClass: false,
          }
        : null,
    progress: row.progress ?? 0,
    of: row.progressOf ?? 0,
    progressAt: (row.progressAt ?? row.startedAt).toISOString(),
  };
}

/** Refuses what is meant for a bench of another class, or one that is not worked at any more. */
export async function refuseForeign(pool: pg.Pool, classId: string, attemptId: string): Promise<void> {
  const { rowCount } = await pool.query({
    name: 'floor-bench',
    text: `select 1 from attempts t join assignments s on s.id = t.assignment_id
      where t.id = $1 and s.class_id = $2 and t.state = 'open'`,
    values: [attemptId, classId],
  });
  if (rowCount === 0) throw new Refusal('not-found', 'This bench is not worked at any more.');
}
