import type { Migration } from './migration.js';

/** The college's own sign-on and gradebooks: who is who there, which course is which class, what was sent. */
export const doors: Migration = {
  name: '018-doors',
  async up(knex) {
    await knex.schema.createTable('platforms', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.text('name').notNullable();
      t.text('issuer').notNullable();
      t.text('client_id').notNullable();
      t.text('auth_url').notNullable();
      t.text('token_url').notNullable();
      t.text('keys_url').notNullable();
      // The claim that names logins of ours, where the platform is trusted to name them.
      t.text('login_claim');
      t.specificType('deployments', 'text[]').notNullable().defaultTo('{}');
      t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
      t.unique(['issuer', 'client_id']);
    });
    // Keys with which we sign what we say to platforms.
    await knex.schema.createTable('door_keys', (t) => {
      t.text('kid').primary();
      t.jsonb('private_jwk').notNullable();
      t.jsonb('public_jwk').notNullable();
      t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('retired_at');
    });
    // A sign-in that was begun with somebody else: good once, in the browser that began it.
    await knex.schema.createTable('door_visits', (t) => {
      t.text('state').primary();
      t.text('browser').notNullable();
      t.text('nonce').notNullable();
      t.text('verifier');
      t.uuid('platform_id').references('platforms.id').onDelete('CASCADE');
      t.text('target').notNullable().defaultTo('/');
      t.timestamp('expires_at').notNullable();
    });
    await knex.schema.createTable('person_links', (t) => {
      t.text('issuer').notNullable();
      t.text('subject').notNullable();
      t.uuid('person_id').notNullable().references('people.id').onDelete('CASCADE');
      t.timestamp('made_at').notNullable().defaultTo(knex.fn.now());
      t.primary(['issuer', 'subject']);
      t.index('person_id');
    });
    await knex.schema.createTable('course_links', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.uuid('platform_id').notNullable().references('platforms.id').onDelete('CASCADE');
      t.text('deployment_id').notNullable();
      t.text('context_id').notNullable();
      t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
      t.text('members_url');
      t.unique(['platform_id', 'deployment_id', 'context_id']);
      t.index('class_id');
    });
    await knex.schema.createTable('line_items', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.uuid('course_id').notNullable().references('course_links.id').onDelete('CASCADE');
      t.uuid('assignment_id').notNullable().references('assignments.id').onDelete('CASCADE');
      t.text('url').notNullable();
      t.unique(['course_id', 'assignment_id', 'url']);
    });
    await knex.schema.createTable('deep_links', (t) => {
      t.uuid('id').primary().defaultTo(knex.raw('gen_random_uuid()'));
      t.uuid('course_id').notNullable().references('course_links.id').onDelete('CASCADE');
      t.uuid('person_id').notNullable().references('people.id').onDelete('CASCADE');
      t.text('return_url').notNullable();
      t.text('data');
      t.uuid('assignment_id').references('assignments.id').onDelete('CASCADE');
      t.timestamp('expires_at').notNullable();
    });
    // What was told of a student's mark, to a line item or to a store of statements.
    await knex.schema.createTable('told_marks', (t) => {
      t.text('place').notNullable();
      t.uuid('assignment_id').notNullable().references('assignments.id').onDelete('CASCADE');
      t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE');
      t.text('mark').notNullable();
      t.timestamp('told_at');
      t.integer('tries').notNullable().defaultTo(0);
      t.text('problem');
      t.timestamp('next_at').notNullable().defaultTo(knex.fn.now());
      t.primary(['place', 'assignment_id', 'student_id']);
    });
  },
  async down(knex) {
    for (const table of [
      'told_marks',
      'deep_links',
      'line_items',
      'course_links',
      'person_links',
      'door_visits',
      'door_keys',
      'platforms',
    ])
      await knex.schema.dropTable(table);
  },
};
