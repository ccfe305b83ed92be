import type { Knex } from 'knex';
import type { Invitation, Notice, Person } from '@contactum/contract';
import { note } from '../people/audit.js';
import { classesOf } from '../people/permissions.js';
import { notFound } from '../../runtime/refusal.js';

/**
 * What needs the consent of whom it concerns. Whoever has an account joins a class by an own act: by its
 * code, or by saying yes to who asks. An administrator enrols anybody; an instructor those whom they teach
 * already, and those whose account they made.
 */

/** Who of some students may be enrolled without being asked. */
export async function enrolledAtOnce(
  database: Knex,
  ids: readonly string[],
  keeper: Person,
): Promise<ReadonlySet<string>> {
  if (keeper.role === 'administrator') return new Set(ids);
  const rows = await database('people')
    .whereIn('id', [...ids])
    .where((known) =>
      known
        .where('made_by', keeper.id)
        .orWhereIn(
          'id',
          database('class_members').whereIn('class_id', classesOf(database, keeper)).select('student_id'),
        ),
    )
    .select<{ id: string }[]>('id');
  return new Set(rows.map(({ id }) => id));
}

/** Puts students into a class; who is in it already stays. */
export async function enter(trx: Knex, classId: string, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  await trx('class_members')
    .insert(ids.map((id) => ({ class_id: classId, student_id: id })))
    .onConflict()
    .ignore();
}

interface Invited {
  readonly id: string;
  readonly group: string;
}

/** Asks students to join a class; whoever is asked already is asked once. */
export async function invite(
  trx: Knex,
  classId: string,
  students: readonly Invited[],
  keeper: Person,
): Promise<void> {
  if (students.length === 0) return;
  await trx('class_invitations')
    .insert(
      students.map(({ id, group }) => ({
        class_id: classId,
        student_id: id,
        asked_by: keeper.id,
        group_name: group,
      })),
    )
    .onConflict(['class_id', 'student_id'])
    .merge(['asked_by', 'group_name', 'asked_at']);
}

/** Classes that a student is asked to join. */
export async function invitationsOf(database: Knex, student: Person): Promise<Invitation[]> {
  const rows = await database('class_invitations as i')
    .join('classes as c', 'c.id', 'i.class_id')
    .leftJoin('people as p', 'p.id', 'i.asked_by')
    .where('i.student_id', student.id)
    .whereNull('c.archived_at')
    .orderBy('i.asked_at')
    .select<{ classId: string; className: string; askedBy: string | null; askedAt: Date }[]>(
      'i.class_id',
      'c.name as class_name',
      'p.name as asked_by',
      'i.asked_at',
    );
  return rows.map(({ askedBy, askedAt, ...row }) => ({
    ...row,
    askedBy: askedBy ?? 'an instructor',
    askedAt: askedAt.toISOString(),
  }));
}

/** A student joins a class that they are asked to join, or does not. */
export async function answerInvitation(
  database: Knex,
  classId: string,
  yes: boolean,
  student: Person,
): Promise<void> {
  await database.transaction(async (trx) => {
    const [asked] = await trx('class_invitations')
      .where({ class_id: classId, student_id: student.id })
      .delete()
      .returning<{ groupName: string }[]>('group_name');
    const group = await trx('classes')
      .where({ id: classId })
      .whereNull('archived_at')
      .first<{ name: string } | undefined>('name');
    if (!asked || !group) throw notFound('invitation');
    if (yes) {
      await enter(trx, classId, [student.id]);
      await trx.raw(
        `insert into group_members (group_id, student_id) select id, ? from class_groups where class_id = ? and name = ?
          on conflict do nothing`,
        [student.id, classId, asked.groupName],
      );
    }
    await note(trx, {
      actor: student,
      kind: yes ? 'joined when asked' : 'declined a class',
      about: group.name,
      classId,
    });
  });
}

/**
 * Tells the other instructors of a person, and the person where named, what somebody did with the account.
 */
export async function tellOthers(
  trx: Knex,
  person: { readonly id: string },
  actor: Person | null,
  text: string,
): Promise<void> {
  await trx.raw(
    `insert into notices (person_id, text)
      select distinct i.instructor_id, ? from class_members m join class_instructors i on i.class_id = m.class_id
        where m.student_id = ? and i.instructor_id is distinct from ?::uuid`,
    [text, person.id, actor?.id ?? null],
  );
}

/** What a person was told of and has not put away, newest first. */
export async function noticesOf(database: Knex, person: Person): Promise<Notice[]> {
  const rows = await database('notices')
    .where({ person_id: person.id })
    .orderBy('id', 'desc')
    .limit(50)
    .select<{ id: string; text: string; at: Date }[]>('id', 'text', 'at');
  return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
}

export async function dismissNotice(database: Knex, id: string, person: Person): Promise<void> {
  const gone = /^\d{1,18}$/.test(id)
    ? await database('notices').where({ id, person_id: person.id }).delete()
    : 0;
  if (gone === 0) throw notFound('notice');
}
