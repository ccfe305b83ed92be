import type { Migration } from './migration.js';

/** Told when a scanner has read something, or something was decided of it; the id is told with it. */
export const SCANNERS_CHANNEL = 'contactum_scanners';

/** Scanners of physical boards, with what their gateways have read last. */
export const scanners: Migration = {
  name: '017-scanners',
  async up(knex) {
    await knex.schema.createTable('scanners', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.text('name').notNullable().unique();
      t.text('token_hash').notNullable().unique();
      t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('seen_at');
      t.jsonb('reading');
      // What was read with devices worked, since a lead was last changed.
      t.jsonb('worked').notNullable().defaultTo('[]');
      t.uuid('attempt_id').references('attempts.id').onDelete('SET NULL');
      // The reading for which the permit relay may close.
      t.bigInteger('permitted_reading');
      t.text('permitted_by');
    });
    await knex.raw('create unique index scanners_one_board on scanners (attempt_id)');
  },
  async down(knex) {
    await knex.schema.dropTable('scanners');
  },
};
