import type { Knex } from 'knex';
import type { Migration } from './migration.js';

/**
 * What a college needs: administrators, several instructors a class, groups, versions of exercises,
 * settings with dates, records.
 */
export const college: Migration = {
  name: '006-college',
  async up(knex) {
    await people(knex);
    await classes(knex);
    await exercises(knex);
    await settings(knex);
    await marks(knex);
    await records(knex);
    await floor(knex);
  },
  async down(knex) {
    for (const table of [
      'bench_words',
      'bench_states',
      'audit',
      'sign_in_failures',
      'exercise_drafts',
      'exercise_versions',
    ])
      await knex.schema.dropTableIfExists(table);
    await knex.raw('drop view if exists assignment_students');
    await knex.schema.dropTableIfExists('assignment_people');
    // Settings to groups and single people, and further ones of one exercise, cannot stand in the older
    // schema.
    await knex.raw("delete from assignments where audience <> 'class' or withdrawn_at is not null");
    await knex.raw(
      'delete from assignments a using assignments b where a.class_id = b.class_id and a.exercise_id = b.exercise_id and (a.set_at, a.id) > (b.set_at, b.id)',
    );
    await knex.schema.alterTable('assignments', (t) => {
      t.dropIndex(['class_id', 'exercise_id']);
      t.dropColumns(
        'version',
        'opens_at',
        'closes_at',
        'attempts_allowed',
        'counts',
        'mode',
        'audience',
        'group_id',
        'withdrawn_at',
      );
      t.unique(['class_id', 'exercise_id']);
    });
    await knex.schema.alterTable('markings', (t) =>
      t.dropColumns('score', 'max', 'passed', 'reason', 'lost', 'joints'),
    );
    await knex.schema.alterTable('exercises', (t) =>
      t.dropColumns('origin', 'author_id', 'version', 'retired_at'),
    );
    await knex.schema.dropTableIfExists('group_members');
    await knex.schema.dropTableIfExists('class_groups');
    await knex.raw('drop trigger if exists founded on classes');
    await knex.raw('drop function if exists found_class()');
    await knex.raw(
      'update classes c set instructor_id = (select instructor_id from class_instructors i where i.class_id = c.id order by instructor_id limit 1) where instructor_id is null',
    );
    await knex.schema.dropTableIfExists('class_instructors');
    await knex.raw('delete from classes where instructor_id is null');
    await knex.schema.alterTable('classes', (t) => {
      t.dropColumns('term', 'archived_at', 'join_code');
      t.dropNullable('instructor_id');
    });
    await knex.raw("delete from people where role = 'administrator'");
    await knex.raw('alter table people drop constraint if exists people_role_check');
    await knex.raw(
      "alter table people add constraint people_role_check check (role in ('instructor', 'student'))",
    );
    await knex.schema.alterTable('people', (t) => t.dropColumns('must_set_password', 'erased_at'));
  },
};

async function people(knex: Knex): Promise<void> {
  await knex.schema.alterTable('people', (t) => {
    // A first password is for one sign-in: nothing else is done before another one is set.
    t.boolean('must_set_password').notNullable().defaultTo(false);
    t.timestamp('erased_at');
  });
  await knex.raw('alter table people drop constraint if exists people_role_check');
  await knex.raw(
    "alter table people add constraint people_role_check check (role in ('administrator', 'instructor', 'student'))",
  );
}

async function classes(knex: Knex): Promise<void> {
  await knex.schema.createTable('class_instructors', (t) => {
    t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
    t.uuid('instructor_id').notNullable().references('people.id').onDelete('CASCADE');
    t.primary(['class_id', 'instructor_id']);
    t.index('instructor_id');
  });
  await knex.raw('insert into class_instructors select id, instructor_id from classes');
  await knex.schema.alterTable('classes', (t) => {
    t.setNullable('instructor_id');
    t.text('term').notNullable().defaultTo('');
    t.timestamp('archived_at');
    t.text('join_code').unique();
  });
  // Who founds a class is one of its instructors, however it is founded.
  await knex.raw(`create function found_class() returns trigger language plpgsql as $$
    begin
      if new.instructor_id is not null then
        insert into class_instructors values (new.id, new.instructor_id) on conflict do nothing;
      end if;
      return new;
    end $$`);
  await knex.raw(
    'create trigger founded after insert on classes for each row execute function found_class()',
  );
  await knex.schema.createTable('class_groups', (t) => {
    t.uuid('id').primary().defaultTo(knex.fn.uuid());
    t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
    t.text('name').notNullable();
    t.unique(['class_id', 'name']);
  });
  await knex.schema.createTable('group_members', (t) => {
    t.uuid('group_id').notNullable().references('class_groups.id').onDelete('CASCADE');
    t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE');
    t.primary(['group_id', 'student_id']);
  });
}

async function exercises(knex: Knex): Promise<void> {
  await knex.schema.alterTable('exercises', (t) => {
    t.text('origin').notNullable().defaultTo('shipped').checkIn(['shipped', 'own'], 'exercises_origin_check');
    t.uuid('author_id').references('people.id').onDelete('SET NULL');
    t.integer('version').notNullable().defaultTo(1);
    t.timestamp('retired_at');
  });
  await knex.raw("update exercises set origin = 'own' where id like 'own-%'");
  await knex.schema.createTable('exercise_versions', (t) => {
    t.text('exercise_id').notNullable().references('exercises.id').onDelete('CASCADE');
    t.integer('version').notNullable();
    t.jsonb('document').notNullable();
    t.uuid('author_id').references('people.id').onDelete('SET NULL');
    t.text('note').notNullable().defaultTo('');
    t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    t.primary(['exercise_id', 'version']);
  });
  await knex.raw(
    'insert into exercise_versions (exercise_id, version, document, at) select id, 1, document, loaded_at from exercises',
  );
  await knex.schema.createTable('exercise_drafts', (t) => {
    t.uuid('id').primary().defaultTo(knex.fn.uuid());
    // Of which it will be the next version; of none it is a new exercise.
    t.text('exercise_id').references('exercises.id').onDelete('SET NULL');
    t.uuid('author_id').notNullable().references('people.id').onDelete('CASCADE').index();
    t.jsonb('document').notNullable();
    t.integer('seq').notNullable().defaultTo(0);
    t.timestamp('updated_at').notNullable().defaultTo(knex.fn.now());
  });
}

async function settings(knex: Knex): Promise<void> {
  await knex.schema.alterTable('assignments', (t) => {
    t.dropUnique(['class_id', 'exercise_id']);
    t.index(['class_id', 'exercise_id']);
    t.integer('version').notNullable().defaultTo(1);
    t.timestamp('opens_at');
    t.timestamp('closes_at');
    t.integer('attempts_allowed');
    t.text('counts').notNullable().defaultTo('best').checkIn(['best', 'last'], 'assignments_counts_check');
    t.text('mode')
      .notNullable()
      .defaultTo('practice')
      .checkIn(['practice', 'assessment'], 'assignments_mode_check');
    t.text('audience')
      .notNullable()
      .defaultTo('class')
      .checkIn(['class', 'group', 'people'], 'assignments_audience_check');
    t.uuid('group_id').references('class_groups.id').onDelete('CASCADE');
    t.timestamp('withdrawn_at');
  });
  await knex.schema.createTable('assignment_people', (t) => {
    t.uuid('assignment_id').notNullable().references('assignments.id').onDelete('CASCADE');
    t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE');
    t.boolean('included').notNullable().defaultTo(false);
    t.integer('extra_minutes').notNullable().defaultTo(0);
    t.primary(['assignment_id', 'student_id']);
    t.index('student_id');
  });
  // Who has which exercise to do, and until when: asked with every entry of a log.
  await knex.raw(`create view assignment_students as
    select s.id as assignment_id, m.student_id, s.class_id, coalesce(p.extra_minutes, 0) as extra_minutes, s.opens_at,
      s.due_at + make_interval(mins => coalesce(p.extra_minutes, 0)) as due_at,
      s.closes_at + make_interval(mins => coalesce(p.extra_minutes, 0)) as closes_at
    from assignments s
      join class_members m on m.class_id = s.class_id
      left join assignment_people p on p.assignment_id = s.id and p.student_id = m.student_id
    where s.withdrawn_at is null and (
      s.audience = 'class'
      or (s.audience = 'people' and p.included)
      or (s.audience = 'group' and exists (select 1 from group_members g where g.group_id = s.group_id and g.student_id = m.student_id)))`);
}

/** What a mark book needs of a report stands beside it: a report is long, and a class has thousands. */
async function marks(knex: Knex): Promise<void> {
  await knex.schema.alterTable('markings', (t) => {
    t.decimal('score', 8, 1);
    t.decimal('max', 8, 1);
    t.boolean('passed');
    t.text('reason');
    t.jsonb('lost').notNullable().defaultTo('[]');
    // Joints that a wiring which did not pass lacks, or has too many of.
    t.jsonb('joints').notNullable().defaultTo('[]');
  });
  await knex.raw(`update markings set score = (report->>'score')::numeric, max = (report->>'max')::numeric,
    passed = (report->>'passed')::boolean, reason = report->>'reason',
    lost = coalesce((select jsonb_agg(jsonb_build_object('part', c->>'part', 'id', c->>'id', 'title', c->>'title'))
      from jsonb_array_elements(report->'criteria') c where c->'evidence' <> 'null'::jsonb), '[]'::jsonb)`);
}

async function records(knex: Knex): Promise<void> {
  // What was done stays known when who did it is erased: names stand in it as they were.
  await knex.schema.createTable('audit', (t) => {
    t.bigIncrements('id');
    t.timestamp('at').notNullable().defaultTo(knex.fn.now()).index();
    t.uuid('actor_id').index();
    t.text('actor').notNullable();
    t.text('kind').notNullable();
    t.text('about').notNullable().defaultTo('');
    t.uuid('class_id').index();
    t.jsonb('detail');
    t.text('address').notNullable().defaultTo('');
  });
  // Wrong sign-ins, by address, by name and by both, whichever process they came to.
  await knex.schema.createTable('sign_in_failures', (t) => {
    t.text('key').primary();
    t.double('count').notNullable();
    t.timestamp('at').notNullable().index();
  });
}

async function floor(knex: Knex): Promise<void> {
  // How each open bench stands, as its browser told last and the server has worked out.
  await knex.schema.createTable('bench_states', (t) => {
    t.uuid('attempt_id').primary().references('attempts.id').onDelete('CASCADE');
    t.jsonb('status').notNullable();
    t.timestamp('seen_at').notNullable().defaultTo(knex.fn.now());
    t.timestamp('asks_at');
    // The best that the board has come to, and since when.
    t.integer('progress').notNullable().defaultTo(0);
    t.integer('progress_of').notNullable().defaultTo(0);
    t.timestamp('progress_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('bench_words', (t) => {
    t.bigIncrements('id');
    t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE');
    t.uuid('attempt_id').references('attempts.id').onDelete('CASCADE').index();
    t.uuid('author_id').notNullable().references('people.id').onDelete('CASCADE');
    t.text('text').notNullable();
    t.timestamp('at').notNullable().defaultTo(knex.fn.now());
  });
}
