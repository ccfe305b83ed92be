import type { Migration } from './migration.js';

/**
 * A course may link a whole assessment: its line item and what was told of it name that in place of an
 * assignment. Everything is added beside what was there, so that processes of the release before go on.
 */
export const linkedAssessments: Migration = {
  name: '019-linked-assessments',
  async up(knex) {
    for (const table of ['line_items', 'deep_links', 'told_marks'])
      await knex.schema.alterTable(table, (t) => {
        t.uuid('assessment_id').references('assessments.id').onDelete('CASCADE');
      });
    await knex.raw('alter table told_marks drop constraint told_marks_pkey');
    for (const table of ['line_items', 'told_marks'])
      await knex.schema.alterTable(table, (t) => t.setNullable('assignment_id'));
    await knex.schema.alterTable('line_items', (t) => t.unique(['course_id', 'assessment_id', 'url']));
    await knex.schema.alterTable('told_marks', (t) => {
      t.unique(['place', 'assignment_id', 'student_id']);
      t.unique(['place', 'assessment_id', 'student_id']);
    });
  },
  async down(knex) {
    for (const table of ['line_items', 'told_marks']) await knex(table).whereNull('assignment_id').delete();
    await knex.schema.alterTable('told_marks', (t) => {
      t.dropUnique(['place', 'assignment_id', 'student_id']);
      t.primary(['place', 'assignment_id', 'student_id']);
    });
    for (const table of ['line_items', 'told_marks'])
      await knex.schema.alterTable(table, (t) => t.dropNullable('assignment_id'));
    for (const table of ['line_items', 'deep_links', 'told_marks'])
      await knex.schema.alterTable(table, (t) => t.dropColumn('assessment_id'));
  },
};
