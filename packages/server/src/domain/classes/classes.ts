import { randomInt } from 'node:crypto';
import type { Knex } from 'knex';
import type {
  ClassChange,
  ClassRequest,
  ClassSummary,
  FirstPassword,
  Person,
  Roster,
} from '@contactum/contract';
import { ClassModel, PersonModel } from '../../database/models.js';
import { note } from '../people/audit.js';
import { enrolledAtOnce, enter, invite } from './consent.js';
import { addPerson, personOfRow } from '../people/people.js';
import type { Throttle } from '../../security/throttle.js';
import { classesOf, requireKeptClass } from '../people/permissions.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';

/** How long after its last sign a bench counts as worked at, seconds. */
export const HERE_SECONDS = 8;

/** The classes of an instructor; every class for an administrator. Those that are put away come last. */
export async function classSummaries(database: Knex, person: Person): Promise<ClassSummary[]> {
  const query = database('classes')
    .orderByRaw('archived_at is not null, name')
    .select<(Omit<ClassSummary, 'archived'> & { archivedAt: Date | null })[]>(
      'id',
      'name',
      'term',
      'archived_at',
      database.raw('(select count(*)::int from class_members m where m.class_id = classes.id) as students'),
      database.raw(
        '(select count(*)::int from assignments a where a.class_id = classes.id and a.withdrawn_at is null) as assignments',
      ),
      database.raw(
        `(select count(*)::int from bench_states b
           join attempts t on t.id = b.attempt_id join assignments a on a.id = t.assignment_id
           where a.class_id = classes.id and t.state = 'open'
           and b.seen_at > now() - interval '${HERE_SECONDS} seconds') as "atWork"`,
      ),
      database.raw(
        `(select coalesce(json_agg(p.name order by p.name), '[]') from class_instructors i join people p on p.id = i.instructor_id where i.class_id = classes.id) as instructors`,
      ),
    );
  if (person.role !== 'administrator') void query.whereIn('id', classesOf(database, person));
  return (await query).map(({ archivedAt, ...row }) => ({ ...row, archived: archivedAt !== null }));
}

/** A class with everybody in it. */
export async function rosterOf(database: Knex, id: string, keeper: Person): Promise<Roster> {
  const group = await requireKeptClass(database, id, keeper);
  await group
    .$fetchGraph('[members(byName), instructors(byName)]', { transaction: database as never })
    .modifiers({ byName: (query) => void query.orderBy('name') });
  const groups = await database('class_groups')
    .where({ class_id: id })
    .orderBy('name')
    .select<{ id: string; name: string; members: string[] }[]>(
      'id',
      'name',
      database.raw(
        `(select coalesce(json_agg(student_id), '[]') from group_members g where g.group_id = class_groups.id) as members`,
      ),
    );
  const asked = await database('class_invitations as i')
    .join('people as p', 'p.id', 'i.student_id')
    .where('i.class_id', id)
    .orderBy('p.login')
    .select<{ id: string; login: string }[]>('p.id', 'p.login');
  const course = await database('course_links as c')
    .join('platforms as p', 'p.id', 'c.platform_id')
    .where('c.class_id', id)
    .whereNotNull('c.members_url')
    .first<{ name: string } | undefined>('p.name');
  return {
    id: group.id,
    name: group.name,
    term: group.term,
    platform: course?.name ?? null,
    archivedAt: group.archivedAt?.toISOString() ?? null,
    joinCode: group.joinCode,
    instructors: (group.instructors ?? []).map(personOfRow),
    members: (group.members ?? []).map((row) => ({ ...personOfRow(row), isNew: row.mustSetPassword })),
    groups,
    asked,
  };
}

/** Adds a class, in a transaction; returns its id. */
export async function addClass(trx: Knex, { name, term }: ClassRequest, founder: Person): Promise<string> {
  const { id } = await ClassModel.query(trx).insert({ name, term, instructorId: founder.id }).returning('*');
  await note(trx, { actor: founder, kind: 'founded a class', about: name, classId: id });
  return id;
}

/** Founds a class; an instructor who does is its first instructor. */
export async function foundClass(database: Knex, request: ClassRequest, founder: Person): Promise<Roster> {
  const id = await database.transaction((trx) => addClass(trx, request, founder));
  return rosterOf(database, id, founder);
}

/** Letters of join codes: none that is taken for another. */
const CODE_LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';
const newCode = (): string =>
  Array.from({ length: 8 }, () => CODE_LETTERS[randomInt(CODE_LETTERS.length)]).join('');

export async function changeClass(
  database: Knex,
  id: string,
  change: ClassChange,
  keeper: Person,
): Promise<Roster> {
  const group = await requireKeptClass(database, id, keeper);
  const { archived, joinCode, ...plain } = change;
  await database.transaction(async (trx) => {
    await ClassModel.query(trx)
      .findById(id)
      .patch({
        ...plain,
        ...(archived === undefined ? {} : { archivedAt: archived ? new Date() : null }),
        ...(joinCode === undefined ? {} : { joinCode: joinCode === 'new' ? newCode() : null }),
        // Nobody joins what is put away.
        ...(archived ? { joinCode: null } : {}),
        updatedAt: undefined,
      } as never);
    await note(trx, {
      actor: keeper,
      kind: 'changed a class',
      about: group.name,
      classId: id,
      detail: change,
    });
  });
  return rosterOf(database, id, keeper);
}

/** Makes somebody an instructor of a class too. */
export async function addInstructor(
  database: Knex,
  id: string,
  login: string,
  keeper: Person,
): Promise<Roster> {
  const group = await requireKeptClass(database, id, keeper);
  const row = await PersonModel.query(database)
    .findOne({ login })
    .whereNot({ role: 'student' })
    .whereNull('erasedAt');
  if (!row) throw invalidAt('login', `"${login}" is no instructor’s`);
  await database('class_instructors').insert({ class_id: id, instructor_id: row.id }).onConflict().ignore();
  await note(database, {
    actor: keeper,
    kind: 'changed a class',
    about: `${group.name}: ${row.name} teaches it`,
    classId: id,
  });
  return rosterOf(database, id, keeper);
}

export async function removeInstructor(
  database: Knex,
  id: string,
  personId: string,
  keeper: Person,
): Promise<Roster> {
  const group = await requireKeptClass(database, id, keeper);
  return database.transaction(async (trx) => {
    // One after the other, so that two who go at once do not leave a class to nobody.
    await trx('classes').where({ id }).forUpdate().first('id');
    const others = await trx('class_instructors')
      .where({ class_id: id })
      .whereNot({ instructor_id: personId });
    if (others.length === 0)
      throw new Refusal('conflict', 'A class needs an instructor: name another one first.');
    await trx('class_instructors').where({ class_id: id, instructor_id: personId }).delete();
    await note(trx, {
      actor: keeper,
      kind: 'changed a class',
      about: `${group.name}: an instructor has left it`,
      classId: id,
    });
    // Whoever has taken themselves out may not see it any more; what they did is told.
    return rosterOf(trx, id, { ...keeper, role: 'administrator' });
  });
}

/** Puts one student into a class, or asks them to join it: known by a login, or new. */
export async function addMember(
  database: Knex,
  id: string,
  { login, name }: { login: string; name?: string | undefined },
  keeper: Person,
): Promise<{ roster: Roster; password: FirstPassword | null }> {
  const group = await requireKeptClass(database, id, keeper);
  const password = await database.transaction(async (trx) => {
    const known = await PersonModel.query(trx).findOne({ login });
    if (known && known.role !== 'student') throw invalidAt('login', `"${login}" is no student’s`);
    if (!known && name === undefined)
      throw invalidAt('login', `nobody signs in as "${login}"; give a name to add somebody new`);
    if (known && !(await enrolledAtOnce(trx, [known.id], keeper)).has(known.id)) {
      await invite(trx, id, [{ id: known.id, group: '' }], keeper);
      await note(trx, {
        actor: keeper,
        kind: 'asked to join',
        // Nothing is told of somebody who has not said yes.
        about: `${login}: ${group.name}`,
        classId: id,
        subjectId: known.id,
      });
      return null;
    }
    const made = known ? null : await addPerson(trx, { login, name: name ?? login, role: 'student' }, keeper);
    const student = known ?? made?.person;
    if (student) await enter(trx, id, [student.id]);
    await note(trx, {
      actor: keeper,
      kind: 'enrolled',
      about: `${known?.name ?? name ?? ''} in ${group.name}`,
      classId: id,
      subjectId: student?.id,
    });
    return made;
  });
  return { roster: await rosterOf(database, id, keeper), password };
}

/** Takes a student out of a class, or back what they were asked; what they did in it stays. */
export async function removeMember(
  database: Knex,
  id: string,
  studentId: string,
  keeper: Person,
): Promise<Roster> {
  const group = await requireKeptClass(database, id, keeper);
  await database.transaction(async (trx) => {
    const student = await PersonModel.query(trx).findById(studentId);
    const taken = await trx('class_invitations').where({ class_id: id, student_id: studentId }).delete();
    if (taken > 0) return;
    const gone = await trx('class_members').where({ class_id: id, student_id: studentId }).delete();
    if (gone === 0) throw notFound('member');
    await trx('group_members')
      .whereIn('group_id', trx('class_groups').where({ class_id: id }).select('id'))
      .where({ student_id: studentId })
      .delete();
    await note(trx, {
      actor: keeper,
      kind: 'took out of a class',
      about: `${student?.name ?? ''} out of ${group.name}`,
      classId: id,
    });
  });
  return rosterOf(database, id, keeper);
}

/** A group of a class with its members; another name or other members where it is there already. */
export async function putGroup(
  database: Knex,
  id: string,
  { groupId, name, members }: { groupId: string | null; name: string; members: readonly string[] },
  keeper: Person,
): Promise<Roster> {
  await requireKeptClass(database, id, keeper);
  const known = await database('class_members')
    .where({ class_id: id })
    .whereIn('student_id', [...members])
    .select('student_id');
  if (known.length < new Set(members).size)
    throw invalidAt('members', 'name somebody who is not in the class');
  await database.transaction(async (trx) => {
    const same = await trx('class_groups')
      .where({ class_id: id, name })
      .first<{ id: string } | undefined>('id');
    if (same && same.id !== groupId) throw invalidAt('name', `"${name}" is another group of this class`);
    const row =
      groupId === null
        ? (await trx('class_groups').insert({ class_id: id, name }).returning<{ id: string }[]>('id'))[0]
        : (
            await trx('class_groups')
              .where({ class_id: id, id: groupId })
              .update({ name })
              .returning<{ id: string }[]>('id')
          )[0];
    if (!row) throw notFound('group');
    await trx('group_members').where({ group_id: row.id }).delete();
    if (members.length > 0)
      await trx('group_members').insert(
        [...new Set(members)].map((studentId) => ({ group_id: row.id, student_id: studentId })),
      );
  });
  return rosterOf(database, id, keeper);
}

export async function removeGroup(
  database: Knex,
  id: string,
  groupId: string,
  keeper: Person,
): Promise<Roster> {
  await requireKeptClass(database, id, keeper);
  const set = await database('assignments').where({ group_id: groupId }).select<{ id: string }[]>('id');
  if (set.length > 0)
    throw new Refusal(
      'conflict',
      'An exercise is set to this group. Withdraw that first, or leave the group.',
    );
  const gone = await database('class_groups').where({ class_id: id, id: groupId }).delete();
  if (gone === 0) throw notFound('group');
  return rosterOf(database, id, keeper);
}

/**
 * Looks whether a code is of a class; codes are guessed as passwords are, and slowed down alike, by whoever
 * tries them.
 */
export async function requireCode(
  database: Knex,
  throttle: Throttle,
  code: string,
  who: string,
): Promise<void> {
  const found = await throttle.attempt(who, `join ${who}`, async () => {
    const group = await ClassModel.query(database).findOne({ joinCode: code }).whereNull('archivedAt');
    return { right: group !== undefined, value: group !== undefined };
  });
  if (found === null) throw new Refusal('too-many', 'Too many codes at once. Wait a moment and try again.');
  if (!found) throw invalidAt('code', 'is the code of no class');
}

/** Somebody joins the class that a code is of. */
export async function joinClass(
  database: Knex,
  code: string,
  student: Person,
): Promise<{ className: string }> {
  const group = await ClassModel.query(database).findOne({ joinCode: code }).whereNull('archivedAt');
  if (!group) throw invalidAt('code', 'is the code of no class');
  await database.transaction(async (trx) => {
    await enter(trx, group.id, [student.id]);
    await trx('class_invitations').where({ class_id: group.id, student_id: student.id }).delete();
    await note(trx, { actor: student, kind: 'joined by code', about: group.name, classId: group.id });
  });
  return { className: group.name };
}
