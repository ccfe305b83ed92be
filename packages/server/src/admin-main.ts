import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { login as loginSchema, platformRequest } from '@contactum/contract';
import { alone, migrate, openDatabase, schemaSteps, stepBack } from './database/database.js';
import { oneAddress } from './database/primary.js';
import { PersonModel } from './database/models.js';
import { loadExercises } from './domain/authoring/exercises.js';
import { Platforms } from './domain/doors/platforms.js';
import { keysOf, makeKey } from './domain/records/keys.js';
import { addPerson, giveFirstPassword } from './domain/people/people.js';

/** What is done at the machine itself, before anybody can sign in, or when nobody can any more. */

const USAGE = `usage:
  admin create LOGIN "FULL NAME"   the first administrator, or another one
  admin reset LOGIN                a first password for somebody who has lost theirs
  admin people                     who is administrator or instructor
  admin key                        a new key to sign evidence packs with; the one before it is retired
  admin keys                       every key that packs were signed with
  admin platform FILE              registers a learning platform by a file (JSON), or changes the one it names
  admin schema                     the steps of the database's schema, and whether this release knows them all
  admin back                       takes the schema's last step back, before an earlier release is put in place
`;

function fail(message: string): never {
  process.stderr.write(`${message}\n`);
  process.exit(2);
}

async function create(database: Knex, [given = '', ...words]: readonly string[]): Promise<void> {
  const name = words.join(' ').trim();
  const read = loginSchema.safeParse(given);
  if (!read.success || name === '') fail(USAGE);
  if (await PersonModel.query(database).findOne({ login: read.data }))
    fail(`"${read.data}" is somebody's already.`);
  const { password } = await database.transaction((trx) =>
    addPerson(trx, { name, login: read.data, role: 'administrator' }, null),
  );
  process.stdout.write(
    `${name} signs in as ${read.data} with the first password ${password}\nIt is good until another one is set.\n`,
  );
}

async function reset(database: Knex, [login = '']: readonly string[]): Promise<void> {
  const row = await PersonModel.query(database).findOne({ login: login.toLowerCase() }).whereNull('erasedAt');
  if (!row) fail(`Nobody signs in as "${login}".`);
  const { password } = await giveFirstPassword(database, row, null);
  process.stdout.write(`${row.name} signs in as ${row.login} with the first password ${password}\n`);
}

async function people(database: Knex): Promise<void> {
  const rows = await PersonModel.query(database)
    .whereNot({ role: 'student' })
    .whereNull('erasedAt')
    .orderBy('role')
    .orderBy('login');
  for (const { login, name, role } of rows)
    process.stdout.write(`${role.padEnd(14)} ${login.padEnd(20)} ${name}\n`);
}

async function key(database: Knex): Promise<void> {
  process.stdout.write(`Evidence packs are signed from now on with the key ${await makeKey(database)}\n`);
}

async function keys(database: Knex): Promise<void> {
  for (const { fingerprint, madeAt, retiredAt } of await keysOf(database))
    process.stdout.write(
      `${fingerprint}  made ${madeAt.toISOString()}${retiredAt ? `, retired ${retiredAt.toISOString()}` : ', in use'}\n`,
    );
}

async function platform(database: Knex, [file = '']: readonly string[]): Promise<void> {
  const read = platformRequest.safeParse(JSON.parse(readFileSync(file, 'utf8')));
  if (!read.success)
    fail(read.error.issues.map(({ path, message }) => `${file}: ${path.join('.')}: ${message}`).join('\n'));
  const platforms = new Platforms(database);
  const known = (await platforms.list()).find(
    ({ issuer, clientId }) => issuer === read.data.issuer && clientId === read.data.clientId,
  );
  const { name } = await platforms.put(read.data, known?.id ?? null, null);
  process.stdout.write(`${name} is registered\n`);
}

const COMMANDS: Readonly<Record<string, (database: Knex, words: readonly string[]) => Promise<void>>> = {
  create,
  reset,
  people,
  key,
  keys,
  platform,
};

async function schema(database: Knex): Promise<void> {
  const { had, missing } = await schemaSteps(database);
  for (const name of had) process.stdout.write(`${name}\n`);
  for (const name of missing) process.stdout.write(`${name} (missing; made at the next start)\n`);
}

async function back(database: Knex): Promise<void> {
  const name = await stepBack(database);
  process.stdout.write(name ? `${name} is taken back\n` : 'There is no step to take back\n');
}

/** Looked at and changed as it is: everything else first brings the schema up to date. */
const OF_THE_SCHEMA: Readonly<Record<string, (database: Knex) => Promise<void>>> = { schema, back };

const [command = '', ...words] = process.argv.slice(2);
if (!process.env.DATABASE_URL) fail('DATABASE_URL: is missing');
const url = await oneAddress(process.env.DATABASE_URL);
const work = COMMANDS[command];
const ofSchema = OF_THE_SCHEMA[command];
if (!work && !ofSchema) fail(USAGE);
const database = openDatabase(url);
try {
  await alone(url, async () => {
    if (ofSchema) return ofSchema(database);
    await migrate(database);
    await loadExercises(database);
    return work?.(database, words);
  });
} catch (error) {
  fail((error as Error).message);
} finally {
  await database.destroy();
}
