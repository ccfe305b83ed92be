import knex, { type Knex } from 'knex';
import { knexSnakeCaseMappers } from 'objection';
import pg from 'pg';
import { migrationSource } from './migrations.js';

// NUMERIC columns here hold tenths of a point: exact as a JavaScript number.
pg.types.setTypeParser(pg.types.builtins.NUMERIC, Number);

export function openDatabase(url: string): Knex {
  return knex({
    client: 'pg',
    connection: url,
    pool: { min: 0, max: 12 },
    ...knexSnakeCaseMappers(),
  });
}

/** Brings the schema up to date; several processes may try at once, one of them does it. */
export async function migrate(database: Knex): Promise<void> {
  await database.migrate.latest({ migrationSource });
}
