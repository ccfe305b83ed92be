import type { Migration } from './migration.js';

/** Channel on which every change of what somebody may do is told, whoever makes it. */
export const RIGHTS_CHANNEL = 'contactum_rights';

/** Tables on which rights rest, and which of their changes take any away or give any. */
const CHANGES = [
  ['class_members', 'insert or update or delete'],
  ['class_instructors', 'insert or update or delete'],
  ['group_members', 'insert or update or delete'],
  ['assignment_people', 'insert or update or delete'],
  ['assignments', 'insert or update or delete'],
  ['people', 'delete or update of role, password, must_set_password, erased_at'],
  ['sessions', 'delete'],
] as const;

const nameOf = (table: string): string => `contactum_rights_of_${table}`;

/**
 * Whatever is open when rights change is looked at again: the database tells of it, so that no route can
 * forget to.
 */
export const rights: Migration = {
  name: '009-rights',
  async up(knex) {
    await knex.raw(`create function contactum_rights_changed() returns trigger language plpgsql as $$
      begin
        perform pg_notify('${RIGHTS_CHANNEL}', '');
        return null;
      end $$`);
    for (const [table, changes] of CHANGES)
      await knex.raw(
        `create trigger ${nameOf(table)} after ${changes} on ${table} for each statement execute function contactum_rights_changed()`,
      );
  },
  async down(knex) {
    for (const [table] of CHANGES) await knex.raw(`drop trigger ${nameOf(table)} on ${table}`);
    await knex.raw('drop function contactum_rights_changed()');
  },
};
