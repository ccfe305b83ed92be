import type { Knex } from 'knex';
import { readClassList, type ListedStudent } from '@contactum/core/exchange';
import type { EnrolAnswer, EnrolLine, EnrolRequest, FirstPassword, Person } from '@contactum/contract';
import { login as loginSchema } from '@contactum/contract';
import { PersonModel } from '../../database/models.js';
import { note } from '../people/audit.js';
import { enrolledAtOnce, enter, invite } from './consent.js';
import { addPerson } from '../people/people.js';
import { requireKeptClass } from '../people/permissions.js';
import { Refusal, invalidAt } from '../../runtime/refusal.js';

/** Lists of students: read, understood line by line, and taken. */

/** Reads a list, or refuses it as a whole. */
function readList(csv: string): readonly ListedStudent[] {
  const read = readClassList(csv);
  if ('problem' in read) throw invalidAt('csv', read.problem);
  return read.students;
}

/** What a list would do to a class, line by line. */
async function understood(
  database: Knex,
  classId: string,
  raw: readonly ListedStudent[],
  keeper: Person,
): Promise<EnrolLine[]> {
  const logins = raw.map(({ login }) => login.toLowerCase());
  const [known, members] = await Promise.all([
    PersonModel.query(database).whereIn('login', logins),
    database('class_members').where({ class_id: classId }).select<{ studentId: string }[]>('student_id'),
  ]);
  const byLogin = new Map(known.map((row) => [row.login, row]));
  const isTheirs = await enrolledAtOnce(
    database,
    known.map(({ id }) => id),
    keeper,
  );
  const isMember = new Set(members.map(({ studentId }) => studentId));
  const seen = new Map<string, number>();
  return raw.map(({ line, name, login: given, group }): EnrolLine => {
    const read = loginSchema.safeParse(given);
    const login = read.success ? read.data : given;
    const bad = (problem: string): EnrolLine => ({ line, name, login, group, does: 'bad', problem });
    if (given === '') return bad('no login');
    if (!read.success) return bad(`login ${read.error.issues[0]?.message ?? 'cannot be read'}`);
    const before = seen.get(login);
    seen.set(login, line);
    if (before !== undefined) return bad(`"${login}" stands in line ${before} already`);
    if (group.length > 100) return bad('the name of the group is too long');
    const person = byLogin.get(login);
    if (!person) {
      if (name === '') return bad('no name');
      return name.length > 100
        ? bad('the name is too long')
        : { line, name, login, group, does: 'new', problem: null };
    }
    if (person.role !== 'student') return bad(`"${login}" is an instructor’s`);
    if (name !== '' && name.toLowerCase() !== person.name.toLowerCase())
      return bad(
        isTheirs.has(person.id)
          ? `"${login}" is ${person.name}’s, not ${name}’s`
          : `"${login}" is somebody else’s`,
      );
    // Whose login it is is told to those who teach them alone.
    if (!isTheirs.has(person.id)) return { line, name, login, group, does: 'ask', problem: null };
    return {
      line,
      name: person.name,
      login,
      group,
      does: isMember.has(person.id) ? 'member' : 'known',
      problem: null,
    };
  });
}

/** Looks at a list of students, and takes it where that is asked for: all of its good lines or none of it. */
export async function enrol(
  database: Knex,
  classId: string,
  { csv, commit, skipBad }: EnrolRequest,
  keeper: Person,
): Promise<EnrolAnswer> {
  const group = await requireKeptClass(database, classId, keeper);
  const lines = await understood(database, classId, readList(csv), keeper);
  const good = lines.filter(({ does }) => does !== 'bad');
  const answer = { lines, good: good.length, bad: lines.length - good.length };
  if (!commit) return { ...answer, committed: false, passwords: [] };
  if (answer.bad > 0 && !skipBad)
    throw new Refusal('invalid', `${answer.bad} lines cannot be taken.`, {
      problems: lines.flatMap(({ line, problem }) =>
        problem ? [{ path: `csv line ${line}`, message: problem }] : [],
      ),
    });
  const passwords = await database.transaction(async (trx) => {
    const made: FirstPassword[] = [];
    for (const line of good) {
      const one =
        line.does === 'new'
          ? await addPerson(trx, { name: line.name, login: line.login, role: 'student' }, keeper)
          : null;
      if (one) made.push(one);
    }
    const rows = await PersonModel.query(trx).whereIn(
      'login',
      good.map(({ login }) => login),
    );
    const asked = new Map(
      good.flatMap(({ login, group: own, does }) => (does === 'ask' ? [[login, own]] : [])),
    );
    const enrolled = rows.filter(({ login }) => !asked.has(login));
    await invite(
      trx,
      classId,
      rows.flatMap(({ id, login }) => (asked.has(login) ? [{ id, group: asked.get(login) ?? '' }] : [])),
      keeper,
    );
    await enter(
      trx,
      classId,
      enrolled.map(({ id }) => id),
    );
    await intoGroups(trx, classId, good, new Map(enrolled.map(({ login, id }) => [login, id])));
    await note(trx, {
      actor: keeper,
      kind: 'enrolled',
      about: `${enrolled.length} by a list in ${group.name}${asked.size > 0 ? `, ${asked.size} asked to join` : ''}`,
      classId,
    });
    return made;
  });
  return { ...answer, committed: true, passwords };
}

async function intoGroups(
  trx: Knex,
  classId: string,
  lines: readonly EnrolLine[],
  ids: ReadonlyMap<string, string>,
): Promise<void> {
  const names = [...new Set(lines.map(({ group }) => group).filter(Boolean))];
  if (names.length === 0) return;
  await trx('class_groups')
    .insert(names.map((name) => ({ class_id: classId, name })))
    .onConflict()
    .ignore();
  const groups = await trx('class_groups')
    .where({ class_id: classId })
    .whereIn('name', names)
    .select<{ id: string; name: string }[]>('id', 'name');
  const idOf = new Map(groups.map(({ id, name }) => [name, id]));
  const rows = lines.flatMap(({ group, login }) => {
    const [groupId, studentId] = [idOf.get(group), ids.get(login)];
    return groupId && studentId ? [{ group_id: groupId, student_id: studentId }] : [];
  });
  if (rows.length > 0) await trx('group_members').insert(rows).onConflict().ignore();
}
