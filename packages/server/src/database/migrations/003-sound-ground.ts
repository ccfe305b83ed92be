import type { Migration } from './migration.js';

export const soundGround: Migration = {
  name: '003-sound-ground',
  async up(knex) {
    // How far an attempt's log has come, and the supply by its last word, so that an entry is taken without
    // reading the log.
    await knex.schema.alterTable('attempts', (t) => {
      t.integer('last_seq').notNullable().defaultTo(0);
      t.boolean('supply_on').notNullable().defaultTo(false);
      // Why it could not be marked.
      t.text('failure');
    });
    await knex.raw(`update attempts a set
      last_seq = coalesce((select max(seq) from attempt_log l where l.attempt_id = a.id), 0),
      supply_on = coalesce((select (body->>'on')::boolean from attempt_log l where l.attempt_id = a.id and kind = 'supply' order by seq desc limit 1), false)`);
    await knex.raw('alter table attempts drop constraint if exists attempts_state_check');
    await knex.raw(
      "alter table attempts add constraint attempts_state_check check (state in ('open', 'handed-in', 'marked', 'failed'))",
    );
    await knex.raw('alter table attempt_log drop constraint if exists attempt_log_kind_check');
    await knex.raw(
      "alter table attempt_log add constraint attempt_log_kind_check check (kind in ('edit', 'supply', 'act', 'reading', 'dead-test', 'incident'))",
    );
    // What is wired, beside the log that it can be rebuilt from, by the last entry that it holds.
    await knex.schema.createTable('attempt_boards', (t) => {
      t.uuid('attempt_id').primary().references('attempts.id').onDelete('CASCADE');
      t.integer('seq').notNullable();
      t.jsonb('wires').notNullable();
      t.jsonb('settings').notNullable();
    });
    // Given after an entry of the log, whatever a clock says.
    await knex.schema.alterTable(
      'permissions',
      (t) => void t.integer('after_seq').notNullable().defaultTo(0),
    );
    await knex.raw(
      'update permissions p set after_seq = (select count(*) from attempt_log l where l.attempt_id = p.attempt_id and l.at <= p.at)',
    );
    // A session belongs to a person: who is removed, or takes another password, has none.
    await knex.schema.dropTableIfExists('sessions');
    await knex.schema.createTable('sessions', (t) => {
      t.text('sid').primary();
      t.uuid('person_id').references('people.id').onDelete('CASCADE').index();
      t.jsonb('sess').notNullable();
      t.timestamp('expire').notNullable().index();
    });
    await knex.raw(`create function end_sessions() returns trigger language plpgsql as $$
      begin delete from sessions where person_id = new.id; return new; end $$`);
    await knex.raw(
      'create trigger password_changed after update of password on people for each row when (old.password is distinct from new.password) execute function end_sessions()',
    );
    // Searches for repairs: one a wiring, kept; at most one under way a person.
    await knex.schema.createTable('repairs', (t) => {
      t.uuid('id').primary().defaultTo(knex.fn.uuid());
      t.text('wiring').notNullable().unique();
      t.uuid('attempt_id').notNullable().references('attempts.id').onDelete('CASCADE');
      t.uuid('person_id').notNullable().references('people.id').onDelete('CASCADE').index();
      t.text('state').notNullable().checkIn(['waiting', 'running', 'done', 'stopped', 'failed']);
      t.integer('tried').notNullable().defaultTo(0);
      t.integer('edits').notNullable().defaultTo(0);
      t.jsonb('result');
      t.timestamp('asked_at').notNullable().defaultTo(knex.fn.now());
      t.timestamp('seen_at').notNullable().defaultTo(knex.fn.now());
      t.index(['state', 'asked_at']);
    });
  },
  async down(knex) {
    await knex.schema.dropTableIfExists('repairs');
    await knex.raw('drop trigger if exists password_changed on people');
    await knex.raw('drop function if exists end_sessions()');
    await knex.schema.dropTableIfExists('sessions');
    await knex.schema.dropTableIfExists('attempt_boards');
    await knex.schema.alterTable('permissions', (t) => void t.dropColumn('after_seq'));
    await knex('attempt_log').whereIn('kind', ['act', 'reading']).delete();
    await knex('attempts').where({ state: 'failed' }).update({ state: 'handed-in' });
    await knex.raw('alter table attempts drop constraint if exists attempts_state_check');
    await knex.raw(
      "alter table attempts add constraint attempts_state_check check (state in ('open', 'handed-in', 'marked'))",
    );
    await knex.schema.alterTable('attempts', (t) => t.dropColumns('last_seq', 'supply_on', 'failure'));
  },
};
