import type { Knex } from 'knex';

interface Migration {
  readonly name: string;
  up(knex: Knex): Promise<void>;
  down(knex: Knex): Promise<void>;
}

const migrations: Migration[] = [
  {
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
  },
  {
    name: '002-work-practice-and-marking-again',
    async up(knex) {
      await knex.raw('alter table attempt_log drop constraint if exists attempt_log_kind_check');
      await knex.raw(
        "alter table attempt_log add constraint attempt_log_kind_check check (kind in ('edit', 'supply', 'dead-test', 'incident'))",
      );
      // Given by the instructor while the student works, so beside the log whose order the student's browser keeps.
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
  },
  {
    name: '003-sound-ground',
    async up(knex) {
      // How far an attempt's log has come, and the supply by its last word, so that an entry is taken without reading the log.
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
  },
];

/** Migrations that stand in the code, so that a bundle carries them. */
export const migrationSource: Knex.MigrationSource<Migration> = {
  getMigrations: () => Promise.resolve(migrations),
  getMigrationName: ({ name }) => name,
  getMigration: (migration) => Promise.resolve(migration),
};
