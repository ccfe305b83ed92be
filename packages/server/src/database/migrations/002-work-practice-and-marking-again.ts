import type { Migration } from './migration.js';

export const workPractice: Migration = {
  name: '002-work-practice-and-marking-again',
  async up(knex) {
    await knex.raw('alter table attempt_log drop constraint if exists attempt_log_kind_check');
    await knex.raw(
      "alter table attempt_log add constraint attempt_log_kind_check check (kind in ('edit', 'supply', 'dead-test', 'incident'))",
    );
    // Given by the instructor while the student works, so beside the log whose order the student's browser
    // keeps.
    await knex.schema.createTable('permissions', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE').index();
      t.uuid('author_id').notNullable().references('people.id');
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    });
    // What an attempt was given before it was marked again.
    await knex.schema.createTable('former_markings', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE').index();
      t.jsonb('report').notNullable();
      t.timestamp('marked_at').notNullable();
    });
  },
  async down(knex) {
    await knex.schema.dropTableIfExists('former_markings');
    await knex.schema.dropTableIfExists('permissions');
    await knex('attempt_log').whereNotIn('kind', ['edit', 'supply']).delete();
    await knex.raw('alter table attempt_log drop constraint if exists attempt_log_kind_check');
    await knex.raw(
      "alter table attempt_log add constraint attempt_log_kind_check check (kind in ('edit', 'supply'))",
    );
  },
};
