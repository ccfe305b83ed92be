import type { Migration } from './migration.js';

/** Who waits for their password to be looked at; of use for seconds, and not kept over a crash. */
export const line: Migration = {
  name: '013-line',
  async up(knex) {
    await knex.raw(
      'create unlogged table sign_in_line (ticket uuid primary key, at timestamptz not null default clock_timestamp())',
    );
    await knex.schema.alterTable('sign_in_line', (t) => {
      t.index('at');
    });
  },
  async down(knex) {
    await knex.schema.dropTable('sign_in_line');
  },
};
