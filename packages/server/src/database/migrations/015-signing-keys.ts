import type { Migration } from './migration.js';

/** Keys that evidence packs are signed with; a retired one stays, for the packs that it has signed. */
export const signingKeys: Migration = {
  name: '015-signing-keys',
  async up(knex) {
    await knex.schema.createTable('signing_keys', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.text('public_key').notNullable();
      t.text('private_key').notNullable();
      t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('retired_at');
    });
    await knex.raw('create unique index signing_keys_one on signing_keys ((true)) where retired_at is null');
  },
  async down(knex) {
    await knex.schema.dropTable('signing_keys');
  },
};
