import type { Migration } from './migration.js';

/** What a mark book takes of a mark: where it has not passed, at most one point under the pass mark. */
export const recorded: Migration = {
  name: '008-recorded',
  async up(knex) {
    await knex.schema.alterTable('markings', (t) => {
      t.decimal('recorded', 8, 1);
    });
    // A report of before says its pass mark and whether it has passed; what it earned stays beside it.
    await knex.raw(
      `update markings set recorded = case when passed then score else least(score, greatest(0, (report->>'pass')::numeric - 1)) end where score is not null`,
    );
  },
  async down(knex) {
    await knex.schema.alterTable('markings', (t) => {
      t.dropColumn('recorded');
    });
  },
};
