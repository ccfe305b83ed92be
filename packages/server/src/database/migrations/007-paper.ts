import type { Migration } from './migration.js';

/** Physical boards: attempts that were made at one, with what was entered there and perhaps a photograph. */
export const paper: Migration = {
  name: '007-paper',
  async up(knex) {
    await knex.schema.createTable('bench_sheets', (t) => {
      // Made where it was entered, perhaps without a network: sent twice it is taken once.
      t.uuid('id').primary();
      t.uuid('attempt_id').notNullable().unique().references('attempts.id').onDelete('CASCADE');
      t.uuid('entered_by').references('people.id').onDelete('SET NULL');
      t.jsonb('entries').notNullable();
      t.text('digest').notNullable();
      t.text('photo_type');
      t.binary('photo');
      t.timestamp('sent_at').notNullable().defaultTo(knex.fn.now());
    });
  },
  async down(knex) {
    await knex.schema.dropTableIfExists('bench_sheets');
  },
};
