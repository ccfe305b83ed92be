import type pg from 'pg';
import type { Logger } from 'pino';
import { benchOf, progressOf } from '@contactum/core';
import type { BenchStatus } from '@contactum/contract';
import type { Journal } from '../domain/attempts/journal.js';
import { toldTo } from '../runtime/logging.js';
import type { Bench, Change } from './messages.js';

interface Parts {
  readonly pool: pg.Pool;
  readonly journal: Journal;
  readonly log: Logger;
}

/**
 * Writes down how a bench stands, so that whichever process dies another one knows; what of it is new to
 * whoever looks on.
 */
async function keepStanding(bench: Bench, { pool, journal }: Omit<Parts, 'log'>): Promise<Change | null> {
  const { status, attemptId } = bench;
  if (!status) return null;
  const measure = await measureOf(bench, status, journal);
  const { rows } = await pool.query<{ asksAt: Date | null; progress: number; of: number; progressAt: Date }>({
    name: 'floor-keep',
    text: KEEP,
    values: [attemptId, JSON.stringify(status), status.asks, measure.done, measure.of],
  });
  const [row] = rows;
  if (!row) return null;
  return {
    attemptId,
    // Told again with what is kept: a message that was lost on its way is made good.
    here: true,
    status,
    asksAt: row.asksAt?.toISOString() ?? null,
    progress: row.progress,
    of: row.of,
    progressAt: row.progressAt.toISOString(),
  };
}

/**
 * Potentials that are complete, and functions shown; the board is looked at again only where its wiring has
 * changed.
 */
async function measureOf(
  bench: Bench,
  { edits, shown, functions }: BenchStatus,
  journal: Journal,
): Promise<{ done: number; of: number }> {
  if (bench.measured?.edits !== edits) {
    // Not asked for twice while the answer is under way.
    bench.measured = { edits, complete: bench.measured?.complete ?? 0, of: bench.measured?.of ?? 0 };
    const exercise = await journal.exerciseOf(bench.attemptId);
    const board = benchOf((await journal.boardOf(bench.attemptId)).bench);
    bench.measured = { edits, ...progressOf(exercise, board) };
  }
  const { complete, of } = bench.measured;
  return { done: complete + shown, of: of + functions };
}

/** Writes down every bench whose standing is not yet; what cannot be written now is tried again next time. */
export async function keepStandings(
  benches: Iterable<Bench>,
  parts: Parts,
  tell: (bench: Bench, change: Change) => void,
): Promise<void> {
  for (const bench of [...benches].filter(({ kept, status }) => !kept && status)) {
    bench.kept = true;
    try {
      const change = await keepStanding(bench, parts);
      if (change) tell(bench, change);
    } catch (error) {
      bench.kept = false;
      toldTo(parts.log, 'how a bench stands could not be kept')(error);
    }
  }
}

/** How a bench stands, with what its student asks. */
export function statusOf({ standing, asks }: Bench): BenchStatus | null {
  if (!standing) return null;
  const { step, supplyOn } = standing;
  return { ...standing, step: asks && !supplyOn && step !== 'hand-in' ? 'ask' : step, asks };
}

const KEEP = `insert into bench_states (attempt_id, status, seen_at, asks_at, progress, progress_of, progress_at)
    select id, $2::jsonb, now(), case when $3::boolean then now() end, $4::int, $5::int, now()
      from attempts where id = $1 and state = 'open'
  on conflict (attempt_id) do update set status = excluded.status, seen_at = now(), progress_of = excluded.progress_of,
    asks_at = case when $3::boolean then coalesce(bench_states.asks_at, now()) end,
    progress_at = case when excluded.progress > bench_states.progress then now() else bench_states.progress_at end,
    progress = greatest(bench_states.progress, excluded.progress)
  returning asks_at as "asksAt", progress, progress_of as "of", progress_at as "progressAt"`;
