import type { Migration } from './migration.js';

/** Students write to their instructors: when a message of theirs was answered or dismissed. */
export const answers: Migration = {
  name: '012-answers',
  async up(knex) {
    await knex.schema.alterTable('bench_words', (t) => {
      t.timestamp('heard_at');
      t.index(['class_id', 'at']);
    });
  },
  async down(knex) {
    // The older schema knows instructors' messages only.
    await knex.raw(
      'delete from bench_words w using attempts t where t.id = w.attempt_id and t.student_id = w.author_id',
    );
    await knex.schema.alterTable('bench_words', (t) => {
      t.dropIndex(['class_id', 'at']);
      t.dropColumns('heard_at');
    });
  },
};
