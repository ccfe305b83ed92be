import type { Migration } from './migration.js';

/** How often a scanner was asked to read its board anew: what it tells before that is older. */
export const freshReadings: Migration = {
  name: '020-fresh-readings',
  async up(knex) {
    await knex.schema.alterTable('scanners', (t) => {
      t.integer('fresh_wanted').notNullable().defaultTo(0);
    });
  },
  async down(knex) {
    await knex.schema.alterTable('scanners', (t) => t.dropColumn('fresh_wanted'));
  },
};
