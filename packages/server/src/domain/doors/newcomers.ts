import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { login as loginSchema, type Person } from '@contactum/contract';
import { PersonModel } from '../../database/models.js';
import { Refusal, invalidAt } from '../../runtime/refusal.js';
import { note } from '../people/audit.js';
import { personOfRow } from '../people/people.js';

/** Stored in the place of a password where somebody has none: no password is right. */
const NO_PASSWORD = 'none$$';

/** Somebody whom a platform or the college's sign-on vouches for. */
export interface Newcomer {
  readonly issuer: string;
  readonly subject: string;
  readonly name: string;
  readonly role: 'administrator' | 'instructor' | 'student';
  /** A login of ours that a trusted claim names; an account with it is joined, whoever made it. */
  readonly login: string | null;
  /** A login for a new account, where it is free. */
  readonly wish: string | null;
}

/** The person who is known by an external id; null where nobody is. */
async function personBy(database: Knex, issuer: string, subject: string): Promise<Person | null> {
  const row = await PersonModel.query(database)
    .whereNull('erasedAt')
    .whereIn('id', database('person_links').where({ issuer, subject }).select('person_id'))
    .first();
  return row ? personOfRow(row) : null;
}

/**
 * The person who is known by an external id, made where there is none. An account that is there already is
 * joined where a trusted claim names its login, and never by a name or an address for post.
 */
export async function personFor(database: Knex, newcomer: Newcomer): Promise<Person> {
  const { issuer, subject } = newcomer;
  const known = await personBy(database, issuer, subject);
  if (known) return known;
  return database.transaction(async (trx) => {
    await trx.raw('select pg_advisory_xact_lock(hashtext(?))', [`${issuer} ${subject}`]);
    const meanwhile = await personBy(trx, issuer, subject);
    if (meanwhile) return meanwhile;
    const named = newcomer.login === null ? undefined : await requireNamed(trx, newcomer, newcomer.login);
    const row =
      named ??
      (await PersonModel.query(trx)
        .insert({
          name: newcomer.name.slice(0, 100) || 'No name',
          login: newcomer.login ?? (await freeLogin(trx, newcomer.wish)),
          role: newcomer.role,
          password: NO_PASSWORD,
        })
        .returning('*'));
    await trx('person_links').insert({ issuer, subject, person_id: row.id });
    await note(trx, {
      actor: null,
      name: issuer,
      kind: named ? 'joined to a sign-on' : 'added a person',
      about: `${row.name} (${row.login}), ${row.role}`,
      subjectId: row.id,
    });
    return personOfRow(row);
  });
}

/** The account that a trusted claim names; undefined where there is none. An administrator's is never joined so. */
async function requireNamed(
  trx: Knex,
  { issuer }: Newcomer,
  login: string,
): Promise<PersonModel | undefined> {
  const row = await PersonModel.query(trx).findOne({ login }).whereNull('erasedAt');
  if (!row) return undefined;
  if (row.role === 'administrator')
    throw new Refusal('forbidden', 'An administrator is joined to a sign-on by an administrator alone.');
  // One account, one person at an issuer.
  const taken = await trx('person_links')
    .where({ issuer, person_id: row.id })
    .first<{ subject: string } | undefined>('subject');
  if (taken) throw new Refusal('forbidden', 'This account belongs to somebody else at this sign-on.');
  return row;
}

async function freeLogin(trx: Knex, wish: string | null): Promise<string> {
  const read = loginSchema.safeParse((wish ?? '').toLowerCase());
  if (read.success && !(await PersonModel.query(trx).findOne({ login: read.data }))) return read.data;
  return `guest-${randomBytes(5).toString('hex')}`;
}

/** Joins an account to an external id, or parts them: by an administrator. */
export async function joinLink(
  database: Knex,
  personId: string,
  { issuer, subject }: { readonly issuer: string; readonly subject: string },
  administrator: Person,
): Promise<void> {
  const row = await PersonModel.query(database).findById(personId).whereNull('erasedAt');
  if (!row) throw invalidAt('personId', 'names nobody');
  await database.transaction(async (trx) => {
    await trx('person_links')
      .insert({ issuer, subject, person_id: personId })
      .onConflict(['issuer', 'subject'])
      .merge(['person_id']);
    await note(trx, {
      actor: administrator,
      kind: 'joined to a sign-on',
      about: `${row.name} (${row.login}): ${issuer}`,
      subjectId: personId,
    });
  });
}
