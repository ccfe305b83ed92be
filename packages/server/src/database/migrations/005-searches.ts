import type { Migration } from './migration.js';

/**
 * Searches for faults: their boards run on the server, each in one process at a time, and are what their
 * log says.
 */
export const searches: Migration = {
  name: '005-searches',
  async up(knex) {
    await knex.schema.createTable('searches', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.uuid('attempt_id').unique().references('attempts.id').onDelete('CASCADE');
      t.uuid('person_id').notNullable().references('people.id').onDelete('CASCADE').index();
      t.jsonb('document').notNullable();
      // What is hidden in the board from the beginning, and what its student is told.
      t.jsonb('hidden').notNullable();
      t.text('title').notNullable();
      t.text('complaint').notNullable();
      t.double('minutes').notNullable();
      // Of a practice: as an attempt has it.
      t.text('state').notNullable().defaultTo('open').checkIn(['open', 'handed-in', 'marked', 'failed']);
      t.jsonb('report');
      t.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
      // The process that runs it, fenced by a number that grows with each change of hands, and how far its
      // clock has come.
      t.uuid('owner');
      t.integer('epoch').notNullable().defaultTo(0);
      t.double('t').notNullable().defaultTo(0);
      t.integer('last_seq').notNullable().defaultTo(0);
      t.timestamp('seen_at');
    });
    await knex.schema.createTable('search_log', (t) => {
      t.uuid('search_id').notNullable().references('searches.id').onDelete('CASCADE');
      t.integer('seq').notNullable();
      t.double('t').notNullable();
      t.jsonb('body').notNullable();
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
      t.primary(['search_id', 'seq']);
    });
    // What an instructor wants done to a bench, until the process that runs it has done it.
    await knex.schema.createTable('search_orders', (t) => {
      t.bigIncrements('id');
      t.uuid('search_id').notNullable().references('searches.id').onDelete('CASCADE').index();
      t.uuid('author_id').notNullable().references('people.id').onDelete('CASCADE');
      t.jsonb('body').notNullable();
      t.timestamp('at').notNullable().defaultTo(knex.fn.now());
      t.boolean('taken').notNullable().defaultTo(false);
    });
  },
  async down(knex) {
    await knex.schema.dropTableIfExists('search_orders');
    await knex.schema.dropTableIfExists('search_log');
    await knex.schema.dropTableIfExists('searches');
  },
};
