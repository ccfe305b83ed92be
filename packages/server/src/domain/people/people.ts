import { randomBytes, randomInt } from 'node:crypto';
import type { Knex } from 'knex';
import type { FirstPassword, Person, PersonRequest, PersonRow } from '@contactum/contract';
import { PersonModel } from '../../database/models.js';
import { hashPassword } from '../../security/passwords.js';
import { note } from './audit.js';
import { tellOthers } from '../classes/consent.js';
import { classesOf, requireKeptPerson, requireMadePerson } from './permissions.js';
import { MARKS_ARE_OUT } from './sight.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';

/** Syllables of first passwords: easily read out, none like another. */
const SYLLABLES =
  'ba be bi bo da de di do fa fe fi fo ga ge gi go ka ke ki ko la le li lo ma me mi mo na ne ni no pa pe pi po ra re ri ro sa se si so ta te ti to va ve vi vo za ze zi zo'.split(
    ' ',
  );

/** A password for one sign-in: some 40 bits, and no letter that is taken for another. */
function firstPassword(): string {
  const word = () => Array.from({ length: 3 }, () => SYLLABLES[randomInt(SYLLABLES.length)]).join('');
  return `${word()}-${word()}-${randomInt(10, 100)}`;
}

export const personOfRow = ({ id, login, name, role }: PersonModel): Person => ({ id, login, name, role });

/** Who has done what nobody has who is signed in. */
const COMMAND_LINE = 'the command line';

/** Refuses a login that somebody has. */
export async function refuseTaken(database: Knex, login: string, path = 'login'): Promise<void> {
  if (await PersonModel.query(database).findOne({ login }))
    throw invalidAt(path, `"${login}" is somebody’s already`);
}

/** Adds somebody with a first password. */
export async function addPerson(
  database: Knex,
  { name, login, role }: PersonRequest,
  keeper: Person | null,
): Promise<FirstPassword> {
  await refuseTaken(database, login);
  const password = firstPassword();
  const row = await PersonModel.query(database)
    .insert({
      name,
      login,
      role,
      password: await hashPassword(password, 'first'),
      mustSetPassword: true,
      madeBy: keeper?.id ?? null,
    })
    .returning('*');
  await note(database, {
    actor: keeper,
    name: COMMAND_LINE,
    kind: 'added a person',
    about: `${name} (${login}), ${role}`,
  });
  return { person: personOfRow(row), password };
}

interface ListFilter {
  readonly text?: string | undefined;
  readonly role?: string | undefined;
}

/** Most rows of a list of people. */
const MOST = 500;

/** Everybody for an administrator; for an instructor the students of own classes. */
export async function listPeople(
  database: Knex,
  keeper: Person,
  { text, role }: ListFilter,
): Promise<PersonRow[]> {
  const query = database('people as p')
    .orderBy('p.name')
    .limit(MOST)
    .select<(PersonModel & { sessions: number; classes: string[] })[]>(
      'p.*',
      database.raw(
        '(select count(*)::int from sessions s where s.person_id = p.id and s.expire > now()) as sessions',
      ),
      database.raw(
        `(select coalesce(json_agg(c.name order by c.name), '[]') from classes c where c.archived_at is null and (
          exists (select 1 from class_members m where m.class_id = c.id and m.student_id = p.id)
          or exists (select 1 from class_instructors i where i.class_id = c.id and i.instructor_id = p.id))) as classes`,
      ),
    );
  if (keeper.role !== 'administrator')
    void query.whereIn(
      'p.id',
      database('class_members').whereIn('class_id', classesOf(database, keeper)).select('student_id'),
    );
  if (text)
    void query.where((any) => any.whereILike('p.name', `%${text}%`).orWhereILike('p.login', `%${text}%`));
  if (role) void query.where('p.role', role);
  const rows = await query;
  return rows.map((row) => ({
    ...personOfRow(row),
    classes: row.classes,
    isNew: row.mustSetPassword,
    sessions: row.sessions,
    erased: row.erasedAt !== null,
    createdAt: row.createdAt.toISOString(),
  }));
}

/** One change to administrators at a time, each by somebody who still is one: so there is always one left. */
async function requireStillAdministrator(trx: Knex, { id }: Person): Promise<void> {
  const left = await trx('people')
    .where({ role: 'administrator' })
    .whereNull('erased_at')
    .orderBy('id')
    .forUpdate()
    .select<{ id: string }[]>('id');
  if (!left.some((one) => one.id === id))
    throw new Refusal('forbidden', 'You are no administrator any more.');
}

/** Another name, login or role. */
export async function changePerson(
  database: Knex,
  id: string,
  change: { readonly [K in keyof PersonRequest]?: PersonRequest[K] | undefined },
  administrator: Person,
): Promise<Person> {
  const row = await requireKeptPerson(database, id, administrator);
  if (change.login !== undefined && change.login !== row.login) await refuseTaken(database, change.login);
  if (change.role !== undefined && change.role !== row.role)
    await refuseRole(database, row, change.role, administrator);
  return database.transaction(async (trx) => {
    await requireStillAdministrator(trx, administrator);
    const changed = await PersonModel.query(trx).patchAndFetchById(
      id,
      Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined)),
    );
    const { name, login, role } = row;
    await note(trx, {
      actor: administrator,
      kind: 'changed a person',
      about: name,
      detail: { before: { name, login, role }, after: change },
    });
    return personOfRow(changed);
  });
}

/** A student’s work, an instructor’s classes and the last administrator keep a role as it is. */
async function refuseRole(database: Knex, row: PersonModel, role: Person['role'], by: Person): Promise<void> {
  if (row.id === by.id) throw invalidAt('role', 'is your own; another administrator must change it');
  const [attempts, classes] = await Promise.all([
    database('attempts').where({ student_id: row.id }).limit(1).select<{ id: string }[]>('id'),
    database('class_instructors').where({ instructor_id: row.id }).select<{ classId: string }[]>('class_id'),
  ]);
  if (row.role === 'student' && attempts.length > 0)
    throw invalidAt('role', `${row.name} has attempts as a student`);
  if (role === 'student' && classes.length > 0)
    throw invalidAt('role', `${row.name} is the instructor of a class`);
  if (row.role === 'student') await database('class_members').where({ student_id: row.id }).delete();
}

/**
 * A new first password, in place of one that is forgotten; whoever is signed in with the old one is signed
 * out.
 */
export const resetPassword = async (database: Knex, id: string, keeper: Person): Promise<FirstPassword> =>
  giveFirstPassword(database, await requireMadePerson(database, id, keeper), keeper);

/** Gives somebody a first password; by the command line where no keeper is named. */
export async function giveFirstPassword(
  database: Knex,
  row: PersonModel,
  keeper: Person | null,
): Promise<FirstPassword> {
  const password = firstPassword();
  const hashed = await hashPassword(password, 'first');
  await database.transaction(async (trx) => {
    await PersonModel.query(trx).findById(row.id).patch({ password: hashed, mustSetPassword: true });
    await note(trx, {
      actor: keeper,
      name: COMMAND_LINE,
      kind: 'gave a first password',
      about: `${row.name} (${row.login})`,
      subjectId: row.id,
    });
    await tellOthers(
      trx,
      row,
      keeper,
      `${keeper?.name ?? 'The command line'} gave ${row.name} a first password.`,
    );
  });
  return { person: personOfRow(row), password };
}

/** Oneself, or somebody whom one keeps. */
async function selfOrKept(database: Knex, id: string, keeper: Person): Promise<PersonModel> {
  if (id !== keeper.id) return requireKeptPerson(database, id, keeper);
  const row = await PersonModel.query(database).findById(id);
  if (!row) throw notFound('person');
  return row;
}

/** Signs somebody out everywhere. */
export async function endSessions(database: Knex, id: string, keeper: Person): Promise<number> {
  const row = await selfOrKept(database, id, keeper);
  const ended = await database('sessions').where({ person_id: id }).delete();
  await note(database, {
    actor: keeper,
    kind: 'ended sessions',
    about: row.name,
    subjectId: row.id,
    detail: { sessions: ended },
  });
  return ended;
}

/**
 * What a person did: attempts with everything that hangs on them. Marks that are held back are in it once they
 * are out; the exercise of a variant, reference and all, is not.
 */
async function workKept(database: Knex, id: string): Promise<object> {
  const attempts = database('attempts').where({ student_id: id }).select('id');
  const of = (table: string) => database(table).whereIn('attempt_id', attempts.clone());
  const told = (table: string) => of(table).whereIn('attempt_id', toldAttempts(database, id));
  return {
    benchSheets: await of('bench_sheets').select(
      'id',
      'attempt_id',
      'entries',
      'photo_type',
      database.raw("encode(photo, 'base64') as photo"),
      'sent_at',
    ),
    attempts: await database('attempts')
      .join('assignments', 'assignments.id', 'attempts.assignment_id')
      .where('student_id', id)
      .orderBy('started_at')
      .select(
        'attempts.id',
        'attempts.number',
        'attempts.state',
        'attempts.started_at',
        'attempts.handed_in_at',
        'attempts.last_seq',
        'attempts.failure',
        'attempts.confirmed',
        'assignments.exercise_id',
      ),
    log: await of('attempt_log').orderBy(['attempt_id', 'seq']),
    markings: await told('markings'),
    formerMarkings: await told('former_markings'),
    pointChanges: await told('point_changes'),
    remarks: await told('remarks'),
    permissions: await of('permissions'),
  };
}

/** Attempts of a person whose marks are out. */
const toldAttempts = (database: Knex, id: string) =>
  database('attempts as t')
    .join('assignments as s', 's.id', 't.assignment_id')
    .where('t.student_id', id)
    .whereRaw(MARKS_ARE_OUT)
    .select('t.id');

/** Assessments that a person has sat; what examiners judged once it is released. */
async function sittingsKept(database: Knex, id: string): Promise<object> {
  const own = (table: string) => database(table).where({ student_id: id });
  const released = database('assessments').whereNotNull('released_at').select('id');
  return {
    sittings: await own('assessment_sittings'),
    sittingEvents: await own('assessment_events').orderBy('id'),
    judgements: await own('assessment_levels').whereIn('assessment_id', released.clone()),
    agreedJudgements: await own('assessment_agreed').whereIn('assessment_id', released.clone()),
    appeals: await own('assessment_appeals'),
  };
}

/** Classes, searches and records of a person. */
async function restKept(database: Knex, id: string): Promise<object> {
  const searches = database('searches').where({ person_id: id });
  const classes = (table: string, column: string) =>
    database('classes')
      .join(table, `${table}.class_id`, 'classes.id')
      .where(`${table}.${column}`, id)
      .select('classes.name', 'classes.term');
  return {
    classes: await classes('class_members', 'student_id'),
    teaches: await classes('class_instructors', 'instructor_id'),
    searches: await searches
      .clone()
      .select('id', 'attempt_id', 'title', 'complaint', 'minutes', 'state', 'report', 'started_at'),
    // What is hidden in a board is nobody's own record before its search is over.
    searchLog: await database('search_log')
      .join('searches', 'searches.id', 'search_log.search_id')
      .leftJoin('attempts', 'attempts.id', 'searches.attempt_id')
      .whereIn('search_id', searches.clone().select('id'))
      .where((released) =>
        released
          .whereRaw("coalesce(search_log.body->>'kind', '') not in ('inject', 'clear')")
          .orWhereNotNull('searches.report')
          .orWhereIn('searches.attempt_id', toldAttempts(database, id).where('t.state', 'marked')),
      )
      .orderBy(['search_id', 'seq'])
      .select('search_log.*'),
    messages: await database('bench_words').where({ author_id: id }).orderBy('id'),
    audit: await database('audit').where({ actor_id: id }).orderBy('id'),
  };
}

/** All that is kept of a person, as one document. */
export async function exportPerson(database: Knex, id: string, keeper: Person): Promise<object> {
  const row = await selfOrKept(database, id, keeper);
  const kept = {
    ...(await restKept(database, id)),
    ...(await workKept(database, id)),
    ...(await sittingsKept(database, id)),
  };
  await note(database, { actor: keeper, kind: 'exported a person', about: row.name });
  const person = { ...row.toJSON(), password: undefined };
  return { contactum: 'person/1', exportedAt: new Date().toISOString(), person, ...kept };
}

/**
 * Takes a name and a login out of what was written down about others' doings, and leaves the rest as it
 * was.
 */
async function takeOutOfAudit(trx: Knex, { name, login }: PersonModel): Promise<void> {
  const gone = 'somebody who has left';
  // In JSON a name stands as JSON writes it; a login is small letters, digits, dots, dashes and underlines.
  const written = JSON.stringify(name).slice(1, -1);
  const word = `(?<![a-z0-9._-])${login.replaceAll('.', '\\.')}(?![a-z0-9._-])`;
  await trx('audit').update({
    about: trx.raw('regexp_replace(replace(about, ?, ?), ?, ?, ?)', [name, gone, word, gone, 'g']),
    detail: trx.raw('regexp_replace(replace(detail::text, ?, ?), ?, ?, ?)::jsonb', [
      written,
      gone,
      word,
      gone,
      'g',
    ]),
  });
}

/** The same of what stands beside assessments: who acted, and what was written of a student. */
async function takeOutOfAssessments(trx: Knex, { id, name }: PersonModel): Promise<void> {
  const gone = 'Somebody who has left';
  for (const [table, column] of [
    ['assessment_events', 'actor'],
    ['assessment_agreed', 'by'],
    ['assessment_reviews', 'by'],
    ['assessment_appeals', 'answered_by'],
  ] as const)
    await trx(table)
      .where({ [column]: name })
      .update({ [column]: gone });
  await trx('assessment_sittings').where({ student_id: id }).update({ address: '', window: null });
  await trx('assessment_events')
    .where({ student_id: id })
    .whereIn('kind', ['note', 'another address'])
    .delete();
}

/**
 * Erases somebody: the name and login go; marks of a class, and what others' marks rest on, stay without
 * them.
 */
export async function erasePerson(database: Knex, id: string, administrator: Person): Promise<void> {
  if (id === administrator.id) throw new Refusal('conflict', 'Another administrator must erase you.');
  const row = await requireKeptPerson(database, id, administrator);
  await database.transaction(async (trx) => {
    await requireStillAdministrator(trx, administrator);
    const [work] = await trx('attempts').where({ student_id: id }).limit(1).select<{ id: string }[]>('id');
    if (row.role === 'student' && !work) await PersonModel.query(trx).deleteById(id);
    else {
      await trx('class_instructors').where({ instructor_id: id }).delete();
      await trx('searches').where({ person_id: id }).whereNull('attempt_id').delete();
      // Whoever stands beside a board may be seen on its photograph.
      await trx('bench_sheets')
        .whereIn('attempt_id', trx('attempts').where({ student_id: id }).select('id'))
        .update({ photo: null, photo_type: null });
      // Messages are what somebody said, and may name them.
      await trx('bench_words')
        .where({ author_id: id })
        .orWhereIn('attempt_id', trx('attempts').where({ student_id: id }).select('id'))
        .delete();
      await PersonModel.query(trx)
        .findById(id)
        .patch({
          name: 'Somebody who has left',
          login: `left-${randomBytes(8).toString('hex')}`,
          password: 'none',
          erasedAt: new Date(),
        });
    }
    // What they did stays written down, without their name.
    await trx('audit')
      .where({ actor_id: id })
      .update({ actor: 'Somebody who has left', actor_id: null, address: '' });
    await takeOutOfAudit(trx, row);
    await takeOutOfAssessments(trx, row);
    await note(trx, { actor: administrator, kind: 'erased a person', about: row.role });
  });
}
