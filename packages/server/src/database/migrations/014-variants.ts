import type { Migration } from './migration.js';

/** Settings of which every attempt has an exercise of its own; it is kept with the attempt. */
export const variants: Migration = {
  name: '014-variants',
  async up(knex) {
    await knex.schema.alterTable('assignments', (t) => {
      t.boolean('variants').notNullable().defaultTo(false);
    });
    await knex.schema.alterTable('attempts', (t) => {
      t.jsonb('document');
    });
  },
  async down(knex) {
    // An attempt at a variant cannot be read without it.
    await knex.raw('delete from attempts where document is not null');
    await knex.schema.alterTable('attempts', (t) => {
      t.dropColumn('document');
    });
    await knex.schema.alterTable('assignments', (t) => {
      t.dropColumn('variants');
    });
  },
};
