import knex, { type Knex } from 'knex';
import { knexSnakeCaseMappers } from 'objection';
import pg from 'pg';
import type { Logger } from 'pino';
import { migrationSource } from './migrations/index.js';

// NUMERIC columns here hold tenths of a point: exact as a JavaScript number.
pg.types.setTypeParser(pg.types.builtins.NUMERIC, Number);

export function openDatabase(url: string, log?: Logger): Knex {
  const say = (text: string) => log?.warn({ knex: text.slice(0, 500) }, 'database');
  return knex({
    client: 'pg',
    connection: url,
    pool: { min: 0, max: 8 },
    acquireConnectionTimeout: 8_000,
    log: { warn: say, error: say, deprecate: say, debug: () => undefined },
    ...knexSnakeCaseMappers(),
  });
}

/**
 * Plain connections for what is asked many times a second. A connection that drops while it is idle is only
 * noted.
 */
export function openPool(url: string, log: Logger, max = 6): pg.Pool {
  const pool = new pg.Pool({ connectionString: url, max, connectionTimeoutMillis: 8_000 });
  pool.on('error', (error) => log.warn({ err: error }, 'an idle database connection was lost'));
  return pool;
}

/** Any number: whoever holds it in the database is the only one that changes the schema. */
const SCHEMA_LOCK = 4_180_006;

/**
 * Does work that one process at a time may do, as changing the schema; others wait. The lock is the
 * session's own, so that a process that is killed leaves nothing locked.
 */
export async function alone<T>(url: string, work: () => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [SCHEMA_LOCK]);
    return await work();
  } finally {
    await client.end();
  }
}

/**
 * Brings the schema up to date. Only under `alone`: a mark that a killed process left in the table is taken
 * away.
 */
export async function migrate(database: Knex): Promise<void> {
  await database.migrate.forceFreeMigrationsLock({ migrationSource });
  await database.migrate.latest({ migrationSource });
}

/** The steps of the schema that the database has had, and those that it has not. */
export async function schemaSteps(database: Knex): Promise<{ had: string[]; missing: string[] }> {
  const [had, missing] = (await database.migrate.list({ migrationSource })) as [
    readonly { readonly name: string }[],
    readonly { readonly name: string }[],
  ];
  return { had: had.map(({ name }) => name), missing: missing.map(({ name }) => name) };
}

/** Takes the last step of the schema back, before an earlier release is put in place. Returns its name. */
export async function stepBack(database: Knex): Promise<string | null> {
  await database.migrate.forceFreeMigrationsLock({ migrationSource });
  const [, names] = (await database.migrate.down({ migrationSource })) as [number, readonly string[]];
  return names[0] ?? null;
}

/**
 * SQLSTATE classes and codes of a database that is away, stopping or starting: 08 connection, 53300 too
 * many, 57P01 to 57P03.
 */
const AWAY = /^(08...|53300|57P0[123])$/;
const AWAY_CODES: ReadonlySet<unknown> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOTFOUND',
]);
const AWAY_WORDS =
  /Connection terminated|connection timeout|timeout exceeded when trying to connect|Timeout acquiring a connection|the database system is/i;

/** What PostgreSQL says of an error: its SQLSTATE, also from within an error of the builder of queries. */
function sqlState(error: unknown): string | null {
  if (typeof error !== 'object' || error === null) return null;
  const { code, nativeError, cause } = error as { code?: unknown; nativeError?: unknown; cause?: unknown };
  if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return code;
  return sqlState(nativeError) ?? sqlState(cause);
}

/**
 * True where the database has no room or memory (class 53), cannot write its files (58), or takes no
 * changes (25006).
 */
export const isFull = (error: unknown): boolean => /^(53[124]..|58...|25006)$/.test(sqlState(error) ?? '');

/**
 * True where somebody else has done the same, or the opposite, at the same moment: unique, foreign key,
 * serialisation, deadlock.
 */
export const isRace = (error: unknown): boolean =>
  ['23505', '23503', '40001', '40P01'].includes(sqlState(error) ?? '');

/** True where an error says that the database cannot be reached now. */
export function isAway(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, message, nativeError, cause } = error as {
    code?: unknown;
    message?: unknown;
    nativeError?: unknown;
    cause?: unknown;
  };
  if (typeof code === 'string' && (AWAY.test(code) || AWAY_CODES.has(code))) return true;
  return (typeof message === 'string' && AWAY_WORDS.test(message)) || isAway(nativeError) || isAway(cause);
}
