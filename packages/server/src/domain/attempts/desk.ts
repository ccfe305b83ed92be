import { createHash } from 'node:crypto';
import type PgBoss from 'pg-boss';
import type pg from 'pg';
import { exerciseKey, type Bench, type Exercise, type Repair } from '@contactum/core';
import type { AttemptState, RepairView } from '@contactum/contract';
import { Batcher } from '../../runtime/batcher.js';
import { queueMarking, wakeBackground } from '../../runtime/queue.js';
import { notFound } from '../../runtime/refusal.js';

/** Hands an attempt in, once everything that was done at its bench is written down. */
export type HandIn = (attemptId: string, studentId: string) => Promise<void>;

interface Handed {
  readonly attemptId: string;
  readonly studentId: string;
}

/** What web processes hand over to the background: attempts to mark and wirings to repair. */
export class Desk {
  private readonly closing = new Batcher<Handed, AttemptState | null>(
    (handed) => this.close(handed),
    ({ attemptId }) => attemptId,
  );

  constructor(
    private readonly pool: pg.Pool,
    private readonly boss: PgBoss,
  ) {}

  /**
   * Closes an open attempt and puts it into the queue, both or neither; of one that is closed already the
   * state. A class that hands in at one moment is taken in a few transactions.
   */
  async handIn(attemptId: string, studentId: string): Promise<AttemptState> {
    const state = await this.closing.ask({ attemptId, studentId });
    if (!state) throw notFound('attempt');
    return state;
  }

  /** The states of some attempts after those that were open have been handed in; null of one that is not theirs. */
  private async close(handed: readonly Handed[]): Promise<(AttemptState | null)[]> {
    const states = new Map<string, AttemptState>();
    const closed = await this.inTransaction(async (client) => {
      // In one order, so that no two transactions wait for each other.
      const { rows } = await client.query<Handed & { readonly state: AttemptState }>(
        `select a.id as "attemptId", a.student_id as "studentId", a.state from attempts a
          join assignments s on s.id = a.assignment_id
          join class_members m on m.class_id = s.class_id and m.student_id = a.student_id
          where a.id = any($1) order by a.id for update of a`,
        [handed.map(({ attemptId }) => attemptId)],
      );
      for (const { attemptId, studentId, state } of rows)
        if (handed.some((one) => one.attemptId === attemptId && one.studentId === studentId))
          states.set(attemptId, state);
      const open = [...states].flatMap(([attemptId, state]) => (state === 'open' ? [attemptId] : []));
      if (open.length === 0) return [];
      await client.query("update attempts set state = 'handed-in', handed_in_at = now() where id = any($1)", [
        open,
      ]);
      // Nothing more is done at the bench of a search.
      await client.query(
        "update searches set state = 'handed-in' where attempt_id = any($1) and state = 'open'",
        [open],
      );
      await queueMarking(this.boss, open, (text, values) => client.query(text, values));
      return open;
    });
    for (const attemptId of closed) states.set(attemptId, 'handed-in');
    // What is not told is found at the next look.
    if (closed.length > 0)
      await wakeBackground((text, values) => this.pool.query(text, values)).catch(() => undefined);
    return handed.map(({ attemptId }) => states.get(attemptId) ?? null);
  }

  /** All of some statements, or none. */
  private async inTransaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
    const client = await this.pool.connect();
    try {
      await client.query('begin');
      const result = await work(client);
      await client.query('commit');
      return result;
    } catch (error) {
      await client.query('rollback').catch(() => undefined);
      throw error;
    } finally {
      client.release();
    }
  }

  /**
   * Asks for the repairs of a wiring: what is known of it, or a place in the queue. Another search that the
   * same person had under way ends.
   */
  async askRepair(
    attemptId: string,
    personId: string,
    exercise: Exercise,
    bench: Bench,
  ): Promise<RepairView> {
    const wiring = wiringKey(exercise, bench);
    await this.inTransaction(async (client) => {
      // One at a time for each person, also when two pages ask at the same moment.
      await client.query('select pg_advisory_xact_lock(hashtextextended($1, 1))', [personId]);
      await client.query("delete from repairs where state = 'failed' and wiring = $1", [wiring]);
      await client.query(
        "delete from repairs where person_id = $1 and wiring <> $2 and state in ('waiting', 'running')",
        [personId, wiring],
      );
      await client.query(
        "insert into repairs (wiring, attempt_id, person_id, state) values ($1, $2, $3, 'waiting') on conflict (wiring) do update set seen_at = now()",
        [wiring, attemptId, personId],
      );
      await wakeBackground((text, values) => client.query(text, values));
    });
    return (
      (await this.repair(exercise, bench)) ?? {
        state: 'waiting',
        before: 0,
        edits: 0,
        tried: 0,
        result: null,
      }
    );
  }

  /** How far a search is; null where none was asked for. To ask keeps it going. */
  async repair(exercise: Exercise, bench: Bench): Promise<RepairView | null> {
    const { rows } = await this.pool.query<{
      state: RepairView['state'];
      edits: number;
      tried: number;
      result: Repair | null;
      before: string;
    }>(
      `update repairs r set seen_at = now() where wiring = $1
        returning state, edits, tried, result, (select count(*) from repairs o where o.state in ('waiting', 'running') and o.asked_at < r.asked_at) as before`,
      [wiringKey(exercise, bench)],
    );
    const [row] = rows;
    return row
      ? {
          state: row.state,
          before: row.state === 'waiting' ? Number(row.before) : 0,
          edits: row.edits,
          tried: row.tried,
          result: row.result,
        }
      : null;
  }

  /** Ends a search that nobody needs any more. */
  async cancelRepair(personId: string, exercise: Exercise, bench: Bench): Promise<void> {
    await this.pool.query(
      "delete from repairs where wiring = $1 and person_id = $2 and state in ('waiting', 'running')",
      [wiringKey(exercise, bench), personId],
    );
  }
}

/** The same for wirings that are the same to a repair: what the exercise asks, the wires and the settings. */
function wiringKey(exercise: Exercise, bench: Bench): string {
  const wires = bench.wires.map(({ from, to }) => `${from} ${to}`);
  const settings = bench.devices.map(({ settings: own }) => own);
  return createHash('sha256')
    .update(JSON.stringify([exerciseKey(exercise), wires, settings]))
    .digest('base64url');
}
