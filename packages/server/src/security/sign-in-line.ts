import type pg from 'pg';
import type { LinePlace } from '@contactum/contract';
import { derivationMs, derivationsWaiting } from './passwords.js';

/** From so many passwords that wait to be looked at in a process on, those who come are told their place. */
const SHORT = 3;
/** Nobody waits longer: what is older was left behind by a process that ended. */
const OLDEST = '5 minutes';

/**
 * Those whose password waits to be looked at, in order of coming, across all processes: a password takes its
 * time on purpose, and where a whole college comes at once each sees that the line moves.
 */
export class SignInLine {
  constructor(
    private readonly pool: pg.Pool,
    /** Processes that look at passwords. */
    private readonly processes: number,
  ) {}

  /** Does what may have to wait; while it does, its ticket has a place. */
  async during<T>(ticket: string | undefined, work: () => Promise<T>): Promise<T> {
    if (ticket === undefined || derivationsWaiting() < SHORT) return work();
    await this.pool.query({
      name: 'line-enter',
      text: 'insert into sign_in_line (ticket) values ($1) on conflict (ticket) do nothing',
      values: [ticket],
    });
    try {
      return await work();
    } finally {
      await this.pool.query({
        name: 'line-leave',
        text: 'delete from sign_in_line where ticket = $1',
        values: [ticket],
      });
    }
  }

  /** Place of a ticket; null of one that does not wait. */
  async place(ticket: string): Promise<LinePlace | null> {
    const { rows } = await this.pool.query<{ before: number }>({
      name: 'line-place',
      text: `select (select count(*)::int from sign_in_line other
          where other.at < own.at and other.at > now() - interval '${OLDEST}') as before
        from sign_in_line own where ticket = $1`,
      values: [ticket],
    });
    const [row] = rows;
    if (!row) return null;
    const seconds = Math.ceil(((row.before + 1) * derivationMs()) / 1000 / this.processes);
    return { before: row.before, seconds };
  }
}

/** Forgets those who stand in the line because their process ended. */
export async function pruneLine(pool: pg.Pool): Promise<void> {
  await pool.query(`delete from sign_in_line where at < now() - interval '${OLDEST}'`);
}
