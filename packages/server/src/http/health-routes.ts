import { Router } from 'express';
import type pg from 'pg';
import { isFull } from '../database/database.js';

/** How long what was found of the database's room is told, milliseconds. */
const PROBE_MS = 2_000;

/** Larger than what a sort may keep in memory here, so that the database must write a file. */
const SPILL =
  'select max(g) from (select g from generate_series(1, 8000) g order by random() offset 0) as sorted';

/** Fails where the database can read but takes no changes: its disk is full, or it is read-only. */
async function writes(pool: pg.Pool): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query("begin; set local work_mem = '64kB'");
    const { rows } = await client.query<{ readOnly: string }>(
      `select current_setting('transaction_read_only') as "readOnly"`,
    );
    if (rows[0]?.readOnly === 'on') throw new Error(TAKES_NO_CHANGES);
    await client.query(SPILL);
  } finally {
    await client.query('rollback').catch(() => undefined);
    client.release();
  }
}

const TAKES_NO_CHANGES = 'the database takes no changes';

const whyNot = (error: unknown): string =>
  isFull(error) || (error as Error).message === TAKES_NO_CHANGES
    ? `${TAKES_NO_CHANGES}: its disk is full, or it is read-only`
    : 'the database does not answer';

/**
 * For whoever watches the server: it answers (`/healthz`), and it can work (`/readyz`: its database answers
 * and takes changes).
 */
export function healthRoutes(pool: pg.Pool): Router {
  const router = Router();
  let probe: Promise<unknown> | null = null;
  const ready = (): Promise<unknown> => {
    probe ??= writes(pool).finally(() => setTimeout(() => (probe = null), PROBE_MS).unref());
    return Promise.all([pool.query('select 1'), probe]);
  };
  router.get('/healthz', (_request, response) => {
    response.json({ ok: true });
  });
  router.get('/readyz', (_request, response) => {
    ready().then(
      () => response.json({ ok: true }),
      (error: unknown) => response.status(503).json({ ok: false, why: whyNot(error) }),
    );
  });
  return router;
}
