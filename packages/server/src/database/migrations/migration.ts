import type { Knex } from 'knex';

/** One step of the schema, and the way back. */
export interface Migration {
  readonly name: string;
  up(knex: Knex): Promise<void>;
  down(knex: Knex): Promise<void>;
}
