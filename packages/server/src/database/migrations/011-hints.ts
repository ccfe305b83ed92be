import type { Migration } from './migration.js';

/** Hints that a student took at a bench, with the wiring for which each was. */
export const hints: Migration = {
  name: '011-hints',
  async up(knex) {
    await knex.schema.createTable('hints', (t) => {
      t.bigIncrements('id').primary();
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE').index();
      t.text('degree').notNullable();
      t.text('wiring').notNullable();
      t.text('text').notNullable();
      t.jsonb('places').notNullable();
      t.double('cost').notNullable();
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
      // The same hint twice, from two windows or a request sent again, is one hint.
      t.unique(['attempt_id', 'wiring', 'degree']);
    });
  },
  async down(knex) {
    await knex.schema.dropTable('hints');
  },
};
