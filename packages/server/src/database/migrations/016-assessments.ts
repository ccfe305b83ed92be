import type { Knex } from 'knex';
import type { Migration } from './migration.js';

/** Who has which exercise to do, and until when, where it was set by itself. */
const BY_ITSELF = `select s.id as assignment_id, m.student_id, s.class_id,
    coalesce(p.extra_minutes, 0) as extra_minutes, s.opens_at,
      s.due_at + make_interval(mins => coalesce(p.extra_minutes, 0)) as due_at,
      s.closes_at + make_interval(mins => coalesce(p.extra_minutes, 0)) as closes_at`;
const BY_ITSELF_FROM = `from assignments s
      join class_members m on m.class_id = s.class_id
      left join assignment_people p on p.assignment_id = s.id and p.student_id = m.student_id
    where s.withdrawn_at is null and (
      s.audience = 'class'
      or (s.audience = 'people' and p.included)
      or (s.audience = 'group' and exists (select 1 from group_members g
        where g.group_id = s.group_id and g.student_id = m.student_id)))`;

/**
 * Assessments of several tasks: each task that is an exercise is set as an assignment of its own, which a
 * student has from the start of the sitting until its time is over.
 */
export const assessments: Migration = {
  name: '016-assessments',
  async up(knex) {
    await tables(knex);
    await sittings(knex);
    await examining(knex);
    // A task of an assessment is a student's while the sitting lasts; while it is paused nothing can be done
    // in it, and nothing is handed in for anybody.
    await knex.raw('drop view assignment_students');
    await knex.raw(`create view assignment_students as
    ${BY_ITSELF}, false as paused
    ${BY_ITSELF_FROM} and s.assessment_id is null
    union all
    select s.id, t.student_id, s.class_id, t.extra_minutes, t.started_at, null::timestamptz,
      case when t.handed_in_at is not null or t.voided_at is not null then least(t.handed_in_at, t.voided_at)
        when t.paused_at is not null then null else least(t.ends_at, b.ends_at) end,
      t.paused_at is not null and t.handed_in_at is null and t.voided_at is null
    from assignments s
      join assessment_sittings t on t.assessment_id = s.assessment_id and t.started_at is not null
      join class_members m on m.class_id = s.class_id and m.student_id = t.student_id
      left join assessment_begun b on b.assessment_id = s.assessment_id and b.student_id = t.student_id and b.task = s.task
    where s.withdrawn_at is null`);
    await knex.raw(`create trigger contactum_rights_of_assessment_sittings
      after insert or update of started_at, paused_at, handed_in_at, voided_at on assessment_sittings
      for each statement execute function contactum_rights_changed()`);
  },
  async down(knex) {
    await knex.raw('drop view assignment_students');
    await knex.raw('drop trigger contactum_rights_of_assessment_sittings on assessment_sittings');
    // What was done in an assessment cannot be read without it.
    await knex.raw('delete from assignments where assessment_id is not null');
    await knex.schema.alterTable('assignments', (t) => {
      t.dropColumns('assessment_id', 'task');
    });
    for (const table of [
      'assessment_appeals',
      'assessment_reviews',
      'assessment_agreed',
      'assessment_levels',
      'assessment_events',
      'assessment_begun',
      'assessment_sittings',
      'assessments',
    ])
      await knex.schema.dropTable(table);
    await knex.raw(`create view assignment_students as ${BY_ITSELF} ${BY_ITSELF_FROM}`);
  },
};

async function tables(knex: Knex): Promise<void> {
  await knex.schema.createTable('assessments', (t) => {
    t.uuid('id').primary().defaultTo(knex.fn.uuid());
    t.uuid('class_id').notNullable().references('classes.id').onDelete('CASCADE').index();
    t.text('title').notNullable();
    // Tasks, weights, aids, time, and what passes.
    t.jsonb('plan').notNullable();
    // The code of the room, which is told there.
    t.text('code');
    t.timestamp('opens_at');
    t.timestamp('closes_at');
    t.timestamp('paused_at');
    t.timestamp('withdrawn_at');
    t.timestamp('signed_off_at');
    t.uuid('signed_off_by').references('people.id').onDelete('SET NULL');
    t.timestamp('released_at');
    t.uuid('set_by').notNullable().references('people.id').onDelete('CASCADE');
    t.timestamp('set_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.alterTable('assignments', (t) => {
    t.uuid('assessment_id').references('assessments.id').onDelete('CASCADE').index();
    t.text('task');
  });
}

async function sittings(knex: Knex): Promise<void> {
  await knex.schema.createTable('assessment_sittings', (t) => {
    t.uuid('assessment_id').notNullable().references('assessments.id').onDelete('CASCADE');
    t.uuid('student_id').notNullable().references('people.id').onDelete('CASCADE').index();
    t.integer('extra_minutes').notNullable().defaultTo(0);
    t.timestamp('started_at');
    t.timestamp('ends_at');
    t.timestamp('paused_at');
    t.timestamp('handed_in_at');
    t.timestamp('voided_at');
    t.text('void_reason').notNullable().defaultTo('');
    // The window that was seen last, from where, and for how long none was.
    t.text('window');
    t.timestamp('seen_at');
    t.text('address').notNullable().defaultTo('');
    t.integer('away_seconds').notNullable().defaultTo(0);
    t.primary(['assessment_id', 'student_id']);
  });
  await knex.schema.createTable('assessment_begun', (t) => {
    t.uuid('assessment_id').notNullable();
    t.uuid('student_id').notNullable();
    t.text('task').notNullable();
    // Where the task has a time of its own.
    t.timestamp('ends_at');
    t.primary(['assessment_id', 'student_id', 'task']);
    t.foreign(['assessment_id', 'student_id'])
      .references(['assessment_id', 'student_id'])
      .inTable('assessment_sittings')
      .onDelete('CASCADE');
  });
  await knex.schema.createTable('assessment_events', (t) => {
    t.bigIncrements('id');
    t.uuid('assessment_id').notNullable().references('assessments.id').onDelete('CASCADE').index();
    // Of everybody where none is named.
    t.uuid('student_id').references('people.id').onDelete('CASCADE');
    t.text('kind').notNullable();
    t.text('text').notNullable().defaultTo('');
    t.text('actor').notNullable();
    t.timestamp('at').notNullable().defaultTo(knex.fn.now());
  });
}

/** A judgement of a criterion of somebody's work. */
function judged(knex: Knex, t: Knex.CreateTableBuilder): void {
  t.uuid('assessment_id').notNullable();
  t.uuid('student_id').notNullable();
  t.text('task').notNullable();
  t.text('criterion').notNullable();
  t.integer('level').notNullable();
  t.timestamp('at').notNullable().defaultTo(knex.fn.now());
  t.foreign(['assessment_id', 'student_id'])
    .references(['assessment_id', 'student_id'])
    .inTable('assessment_sittings')
    .onDelete('CASCADE');
}

async function examining(knex: Knex): Promise<void> {
  await knex.schema.createTable('assessment_levels', (t) => {
    judged(knex, t);
    t.uuid('examiner_id').notNullable().references('people.id').onDelete('CASCADE');
    t.text('note').notNullable().defaultTo('');
    t.primary(['assessment_id', 'student_id', 'task', 'criterion', 'examiner_id']);
  });
  // What stands where two examiners differed, or after an appeal.
  await knex.schema.createTable('assessment_agreed', (t) => {
    judged(knex, t);
    t.text('by').notNullable();
    t.text('reason').notNullable();
    t.primary(['assessment_id', 'student_id', 'task', 'criterion']);
  });
  await knex.schema.createTable('assessment_reviews', (t) => {
    t.uuid('assessment_id').notNullable();
    t.uuid('student_id').notNullable();
    t.text('verdict')
      .notNullable()
      .checkIn(['confirmed', 'to be changed'], 'assessment_reviews_verdict_check');
    t.text('note').notNullable().defaultTo('');
    t.text('by').notNullable();
    t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    t.primary(['assessment_id', 'student_id']);
    t.foreign(['assessment_id', 'student_id'])
      .references(['assessment_id', 'student_id'])
      .inTable('assessment_sittings')
      .onDelete('CASCADE');
  });
  await knex.schema.createTable('assessment_appeals', (t) => {
    t.uuid('id').primary().defaultTo(knex.fn.uuid());
    t.uuid('assessment_id').notNullable();
    t.uuid('student_id').notNullable();
    t.text('task').notNullable();
    t.text('criterion').notNullable();
    t.text('text').notNullable();
    t.timestamp('at').notNullable().defaultTo(knex.fn.now());
    t.text('answer');
    t.boolean('upheld');
    t.text('answered_by');
    t.timestamp('answered_at');
    t.foreign(['assessment_id', 'student_id'])
      .references(['assessment_id', 'student_id'])
      .inTable('assessment_sittings')
      .onDelete('CASCADE');
  });
}
