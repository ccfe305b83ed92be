import type { Migration } from './migration.js';

export const founding: Migration = {
  name: '001-founding',
  async up(knex) {
    await knex.schema.createTable('people', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.text('login').notNullable().unique();
      t.text('name').notNullable();
      t.text('role').notNullable().checkIn(['instructor', 'student']);
      t.text('password').notNullable();
      t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.createTable('classes', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.text('name').notNullable();
      t.uuid('instructor_id').notNullable().references('people.id');
      t.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.createTable('class_members', (t) => {
      t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
      t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE');
      t.primary(['class_id', 'student_id']);
      t.index('student_id');
    });
    await knex.schema.createTable('exercises', (t) => {
      t.text('id').primary();
      t.jsonb('document').notNullable();
      t.integer('position').notNullable();
      t.timestamp('loaded_at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.createTable('assignments', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
      t.text('exercise_id').notNullable().references('exercises.id');
      // The exercise as it was when it was set: a later edit never changes a mark.
      t.jsonb('document').notNullable();
      t.uuid('set_by').notNullable().references('people.id');
      t.timestamp('set_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('due_at');
      t.unique(['class_id', 'exercise_id']);
    });
    await knex.schema.createTable('attempts', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('assignment_id').notNullable().references('assignments.id').onDelete('CASCADE');
      t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE');
      t.integer('number').notNullable();
      t.text('state').notNullable().defaultTo('open').checkIn(['open', 'handed-in', 'marked']);
      t.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('handed_in_at');
      t.unique(['assignment_id', 'student_id', 'number']);
      t.index('student_id');
    });
    await knex.schema.createTable('attempt_log', (t) => {
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE');
      t.integer('seq').notNullable();
      t.text('kind').notNullable().checkIn(['edit', 'supply']);
      t.jsonb('body').notNullable();
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
      t.primary(['attempt_id', 'seq']);
    });
    await knex.schema.createTable('markings', (t) => {
      t.uuid('attempt_id').primary().references('attempts.id').onDelete('CASCADE');
      t.jsonb('report').notNullable();
      t.timestamp('marked_at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.createTable('point_changes', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE').index();
      t.text('part').notNullable();
      t.text('criterion').notNullable();
      t.decimal('before', 8, 1).notNullable();
      t.decimal('after', 8, 1).notNullable();
      t.text('reason').notNullable();
      t.uuid('author_id').notNullable().references('people.id');
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    });
    await knex.schema.createTable('remarks', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE').index();
      t.text('text').notNullable();
      t.uuid('author_id').notNullable().references('people.id');
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    });
  },
  async down(knex) {
    for (const table of [
      'remarks',
      'point_changes',
      'markings',
      'attempt_log',
      'attempts',
      'assignments',
      'exercises',
      'class_members',
      'classes',
      'people',
    ]) {
      await knex.schema.dropTableIfExists(table);
    }
  },
};
