import type { Migration } from './migration.js';

/**
 * What needs somebody's own act: joining a class, a sheet of a student's own that counts, a permission; and
 * notices of what others did with a person whom one teaches too.
 */
export const consent: Migration = {
  name: '010-consent',
  async up(knex) {
    await knex.schema.alterTable('people', (t) => {
      // Who keeps the first password; nobody of those that were made before is known.
      t.uuid('made_by').references('people.id').onDelete('SET NULL');
    });
    await knex.schema.createTable('class_invitations', (t) => {
      t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
      t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE').index();
      t.uuid('asked_by').references('people.id').onDelete('SET NULL');
      t.text('group_name').notNullable().defaultTo('');
      t.timestamp('asked_at').notNullable().defaultTo(knex.fn.now());
      t.primary(['class_id', 'student_id']);
    });
    await knex.schema.alterTable('audit', (t) => {
      // Whom it concerns: seen by everybody who teaches them. It is a name for nobody once they are erased.
      t.uuid('subject_id').index().references('people.id').onDelete('SET NULL');
    });
    await knex.schema.createTable('notices', (t) => {
      t.bigIncrements('id').primary();
      t.uuid('person_id').notNullable().references('people.id').onDelete('CASCADE').index();
      t.text('text').notNullable();
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.alterTable('attempts', (t) => {
      // False only of a sheet that a student has entered and no instructor has confirmed.
      t.boolean('confirmed').notNullable().defaultTo(true);
    });
    await knex.schema.alterTable('bench_sheets', (t) => {
      t.uuid('confirmed_by').references('people.id').onDelete('SET NULL');
      t.timestamp('confirmed_at');
      t.boolean('photo_clean').notNullable().defaultTo(false);
      // Seconds that the device's clock was behind the server's when the sheet was sent; null where it did
      // not say.
      t.double('clock_behind');
    });
    await knex.raw(
      `update attempts a set confirmed = false from bench_sheets b
        where b.attempt_id = a.id and b.entered_by = a.student_id`,
    );
    await knex.raw(
      `update bench_sheets b set confirmed_by = b.entered_by, confirmed_at = b.sent_at from attempts a
        where b.attempt_id = a.id and a.confirmed`,
    );
  },
  async down(knex) {
    await knex.schema.alterTable('bench_sheets', (t) =>
      t.dropColumns('confirmed_by', 'confirmed_at', 'clock_behind', 'photo_clean'),
    );
    await knex.schema.alterTable('attempts', (t) => t.dropColumns('confirmed'));
    await knex.schema.dropTable('notices');
    await knex.schema.alterTable('audit', (t) => t.dropColumns('subject_id'));
    await knex.schema.dropTable('class_invitations');
    await knex.schema.alterTable('people', (t) => t.dropColumns('made_by'));
  },
};
