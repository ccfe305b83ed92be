/** Backup and restore of one database by PostgreSQL's own programs. */
import { spawnSync } from 'node:child_process';
import { closeSync, openSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { Plain } from './paths.mjs';
import { findBinaries } from './postgres.mjs';

/** The parts of an address as PostgreSQL's programs take them: a password never stands on a command line. */
function environment(url) {
  const { hostname, port, username, password, pathname, searchParams } = new URL(url);
  const host = searchParams.get('host') ?? decodeURIComponent(hostname);
  return {
    PATH: process.env.PATH,
    LC_ALL: 'C.UTF-8',
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
    ...(host ? { PGHOST: host } : {}),
    ...(port ? { PGPORT: port } : {}),
    ...(username ? { PGUSER: decodeURIComponent(username) } : {}),
    ...(password ? { PGPASSWORD: decodeURIComponent(password) } : {}),
    ...(searchParams.get('sslmode') ? { PGSSLMODE: searchParams.get('sslmode') } : {}),
  };
}

function must(name, argv, env) {
  const bin = findBinaries(null, ['pg_dump', 'pg_restore']);
  const done = spawnSync(bin ? join(bin, name) : name, argv, {
    env,
    encoding: 'utf8',
    maxBuffer: 64 << 20,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  if (done.error) throw new Plain(`${name} cannot be run: ${done.error.message}`);
  if (done.status !== 0)
    throw new Plain(`${name} failed: ${done.stderr.trim().split('\n').slice(0, 4).join('\n')}`);
  return done.stdout;
}

/** What is in a backup: the tables whose rows it carries. */
function tablesOf(file) {
  const list = must('pg_restore', ['--list', file], environment('postgres:///none'));
  return list.split('\n').filter((line) => / TABLE DATA /.test(line)).length;
}

/**
 * Writes everything of a database into one compressed file, while people work. The file gets its name only
 * once it is whole and has been read back.
 */
export function backup(url, file) {
  const part = `${file}.part`;
  try {
    // Names, marks and passwords' digests are in it: nobody else on this machine reads it, not while it is
    // written either.
    try {
      closeSync(openSync(part, 'w', 0o600));
    } catch (error) {
      throw new Plain(`${part} cannot be written: ${error.message}`);
    }
    must('pg_dump', ['--format=custom', '--no-owner', '--no-acl', `--file=${part}`], environment(url));
    const tables = tablesOf(part);
    if (tables === 0) throw new Plain('There is nothing to back up: the database has no tables.');
    renameSync(part, file);
    return { tables };
  } finally {
    rmSync(part, { force: true });
  }
}

/**
 * Makes the database again as it was in the file. It is made beside the one that is there and takes its
 * name at the end, so that a restore that fails changes nothing; the earlier one is kept under a name of
 * its own, which is returned. Refused while anybody is connected: stop the service first.
 */
export async function restore(url, file) {
  if (tablesOf(file) === 0) throw new Plain(`${file} holds no tables.`);
  const name = environment(url).PGDATABASE;
  const mark = new Date().toISOString().slice(0, 19).replace(/\D/g, '');
  const [fresh, kept] = [`${name}_restoring_${mark}`, `${name}_before_${mark}`];
  const at = (database) => {
    const one = new URL(url);
    one.pathname = `/${database}`;
    return one.href;
  };
  const client = new pg.Client({ connectionString: at('postgres') });
  await client.connect();
  const quoted = (one) => client.escapeIdentifier(one);
  try {
    const { rowCount: there } = await client.query('select 1 from pg_database where datname = $1', [name]);
    const refuseWhileUsed = async () => {
      const { rows } = await client.query(
        // The cluster's own workers come and go, and hold nobody up.
        "select count(*)::int as n from pg_stat_activity where datname = $1 and backend_type = 'client backend'",
        [name],
      );
      if (rows[0].n > 0)
        throw new Plain(`${rows[0].n} connections to ${name} are open. Stop the service, then restore.`);
    };
    await refuseWhileUsed();
    await client.query(`create database ${quoted(fresh)} template template0`);
    try {
      must(
        'pg_restore',
        ['--exit-on-error', '--no-owner', '--no-acl', '--jobs=2', `--dbname=${fresh}`, file],
        environment(at(fresh)),
      );
      const counts = await measured(at(fresh));
      await refuseWhileUsed();
      // Both names in one transaction: the database is never without one.
      await client.query('begin');
      if (there) await client.query(`alter database ${quoted(name)} rename to ${quoted(kept)}`);
      await client.query(`alter database ${quoted(fresh)} rename to ${quoted(name)}`);
      await client.query('commit');
      return { counts, kept: there ? kept : null };
    } catch (error) {
      await client.query('rollback').catch(() => undefined);
      await client.query(`drop database if exists ${quoted(fresh)}`);
      throw error;
    }
  } finally {
    await client.end();
  }
}

/** Counts what was restored, and measures its tables for the planner. */
async function measured(url) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('analyze');
    const { rows } = await client.query(
      'select (select count(*)::int from people) as people, (select count(*)::int from classes) as classes, (select count(*)::int from attempts) as attempts, (select count(*)::int from markings) as markings',
    );
    return rows[0];
  } finally {
    await client.end();
  }
}
