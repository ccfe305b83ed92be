/**
 * A database on two machines: a primary that streams its log to a standby, a promotion, an old primary that
 * becomes a standby again, and an archive from which any moment is restored. All of it by PostgreSQL's own
 * programs. Each function works on a folder of data of this machine.
 */
import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  chownSync,
  cpSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { Plain, isRoot } from './paths.mjs';
import { account, binariesFor, initdbArguments } from './postgres.mjs';

const SLOT = 'contactum_standby';

function tools(data) {
  const who = account();
  const bin = binariesFor(data);
  const env = (password) => ({
    PATH: process.env.PATH,
    LC_ALL: 'C.UTF-8',
    ...(password === undefined ? {} : { PGPASSWORD: password }),
  });
  const run = (name, args, { password, quiet = false } = {}) => {
    const done = spawnSync(join(bin, name), args, {
      ...who,
      cwd: '/',
      encoding: 'utf8',
      // A daemon would hold pipes open.
      stdio: quiet ? 'ignore' : ['ignore', 'pipe', 'pipe'],
      env: env(password),
    });
    if (done.status !== 0)
      throw new Plain(`PostgreSQL's ${name} failed:\n${done.stderr || done.stdout || `exit ${done.status}`}`);
    return done.stdout ?? '';
  };
  return { who, run };
}

const own = (who, path) => {
  if (isRoot) chownSync(path, who.uid, who.gid);
};

function folder(who, path) {
  mkdirSync(dirname(path), { recursive: true });
  mkdirSync(path, { recursive: true, mode: 0o700 });
  own(who, path);
}

/** Sets lines of the configuration that a command writes; what an administrator wrote stays. */
function configure(data, settings) {
  const file = join(data, 'postgresql.auto.conf');
  const keys = Object.keys(settings);
  const before = existsSync(file) ? readFileSync(file, 'utf8').split('\n') : [];
  const kept = before.filter((line) => !keys.some((key) => line.startsWith(`${key} `)));
  const lines = Object.entries(settings).flatMap(([key, value]) =>
    value === null ? [] : [`${key} = '${String(value).replaceAll("'", "''")}'`],
  );
  writeFileSync(file, `${[...kept.filter(Boolean), ...lines].join('\n')}\n`);
}

/** Where a folder of data listens; what a command has set. */
function setOf(data) {
  const file = join(data, 'postgresql.auto.conf');
  const lines = existsSync(file) ? readFileSync(file, 'utf8') : '';
  const value = (key) => new RegExp(`^${key} = '(.*)'$`, 'm').exec(lines)?.[1];
  return {
    port: Number(value('port') ?? 5432),
    listen: value('listen_addresses'),
    archive: value('contactum.archive') ?? null,
  };
}

/** Copies a running database into a folder, with the log that the copy needs. */
function copyOf({ host, port }, into, { run, password, more = [] }) {
  const from = ['-h', host, '-p', String(port), '-U', 'contactum'];
  run('pg_basebackup', ['-D', into, ...from, '-X', 'stream', '-c', 'fast', ...more], { password });
}

export function start(data) {
  const { run } = tools(data);
  const log = join(data, 'server.log');
  try {
    run('pg_ctl', ['-w', '-t', '120', '-D', data, '-l', log, 'start'], { quiet: true });
  } catch {
    const said = existsSync(log) ? readFileSync(log, 'utf8').split('\n').slice(-8).join('\n') : '';
    throw new Plain(`PostgreSQL did not start in ${data}:\n${said}`);
  }
}

/** @param mode `fast` lets nobody finish and loses nothing; `immediate` is a crash. */
export function stop(data, mode = 'fast') {
  const { run } = tools(data);
  run('pg_ctl', ['-w', '-D', data, '-m', mode, 'stop'], { quiet: true });
}

export const isRunning = (data) => {
  const { who } = tools(data);
  const done = spawnSync(join(binariesFor(data), 'pg_ctl'), ['-D', data, 'status'], {
    ...who,
    cwd: '/',
    stdio: 'ignore',
  });
  return done.status === 0;
};

function shared({ port, listen, archive }) {
  return {
    port,
    listen_addresses: listen,
    unix_socket_directories: '',
    max_connections: 160,
    wal_level: 'replica',
    max_wal_senders: 10,
    max_replication_slots: 10,
    hot_standby: 'on',
    // So that an old primary can be rewound to the new one's log.
    wal_log_hints: 'on',
    wal_compression: 'lz4',
    wal_keep_size: '256MB',
    jit: 'off',
    ...(archive
      ? {
          'contactum.archive': archive,
          archive_mode: 'on',
          archive_timeout: '60s',
          // Never over what is there: the other machine may have put the same segment into the same folder.
          archive_command: [
            `if [ -f ${archive}/%f ]; then cmp -s %p ${archive}/%f;`,
            `else cp %p ${archive}/.%f && mv ${archive}/.%f ${archive}/%f; fi`,
          ].join(' '),
        }
      : {}),
  };
}

/** A new primary. */
export function makePrimary({
  data: given,
  port,
  password,
  listen = '127.0.0.1',
  peers = ['127.0.0.1/32'],
  archive = null,
}) {
  const data = resolve(given);
  const { who, run } = tools(data);
  if (existsSync(join(data, 'PG_VERSION'))) throw new Plain(`There is a database in ${data} already.`);
  folder(who, data);
  if (archive) folder(who, resolve(archive));
  const secret = join(data, '..', `.password-${process.pid}`);
  writeFileSync(secret, password, { mode: 0o600 });
  own(who, secret);
  try {
    run('initdb', [...initdbArguments(data, secret), '--data-checksums']);
  } finally {
    rmSync(secret, { force: true });
  }
  for (const peer of peers)
    appendFileSync(
      join(data, 'pg_hba.conf'),
      `host all contactum ${peer} scram-sha-256\nhost replication contactum ${peer} scram-sha-256\n`,
    );
  configure(data, shared({ port, listen, archive: archive && resolve(archive) }));
  start(data);
}

/** Words of a connection as PostgreSQL's own library reads them. */
const source = ({ host, port }, password) =>
  `host=${host} port=${port} user=contactum application_name=${SLOT} password='${password.replace(/[\\']/g, '\\$&')}'`;

async function asked({ host, port, password }, text, values = []) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({
    host,
    port,
    user: 'contactum',
    password,
    database: 'postgres',
    connectionTimeoutMillis: 5_000,
  });
  client.on('error', () => undefined);
  await client.connect();
  try {
    return (await client.query(text, values)).rows;
  } finally {
    await client.end();
  }
}

/** A standby of a primary: a copy of it that follows its log. */
export async function makeStandby({
  data: given,
  port,
  from,
  password,
  listen = '127.0.0.1',
  archive = null,
}) {
  const data = resolve(given);
  const { who, run } = tools(data);
  if (existsSync(data) && readdirSync(data).length > 0) throw new Plain(`${data} is not empty.`);
  folder(who, data);
  await ensureSlot({ ...from, password });
  copyOf(from, data, { run, password, more: ['-S', SLOT] });
  follow(data, { from, password, port, listen, archive });
  start(data);
  await until(() => isCaughtUp({ ...from, password }), 'the standby does not follow');
}

const ensureSlot = (of) =>
  asked(
    of,
    `select pg_create_physical_replication_slot($1, true)
      where not exists (select 1 from pg_replication_slots where slot_name = $1)`,
    [SLOT],
  );

function follow(data, { from, password, port, listen, archive }) {
  const { who } = tools(data);
  configure(data, {
    ...shared({ port, listen, archive: archive && resolve(archive) }),
    primary_conninfo: source(from, password),
    primary_slot_name: SLOT,
    // A standby of its own does not wait for one.
    synchronous_standby_names: null,
    recovery_target_timeline: 'latest',
  });
  const signal = join(data, 'standby.signal');
  writeFileSync(signal, '');
  own(who, signal);
}

async function isCaughtUp(of) {
  const [row] = await asked(
    of,
    `select count(*)::int as n from pg_stat_replication where state = 'streaming' and application_name = $1`,
    [SLOT],
  );
  return row.n > 0;
}

async function until(look, problem, seconds = 60) {
  for (const end = Date.now() + 1000 * seconds; Date.now() < end;) {
    if (await look().catch(() => false)) return;
    await new Promise((done) => setTimeout(done, 200));
  }
  throw new Plain(`After ${seconds} s ${problem}.`);
}

/**
 * Whether a primary acknowledges nothing that its standby has not written down. Without a standby that answers
 * nothing is acknowledged then.
 */
export async function setSynchronous(of, on) {
  await asked(of, `alter system set synchronous_standby_names = '${on ? SLOT : ''}'`);
  await asked(of, 'select pg_reload_conf()');
}

/** Makes a standby the primary. Nothing waits for a standby until one is rebuilt. */
export async function promote({ data: given, password }) {
  const data = resolve(given);
  const { run } = tools(data);
  if (!existsSync(join(data, 'standby.signal'))) throw new Plain(`${data} is no standby.`);
  configure(data, { synchronous_standby_names: null, primary_conninfo: null, primary_slot_name: null });
  run('pg_ctl', ['-w', '-t', '60', '-D', data, 'promote'], { quiet: true });
  await ensureSlot({ host: '127.0.0.1', port: setOf(data).port, password });
}

/**
 * Makes an old primary a standby of the new one: rewound where its own log tells how, copied anew otherwise.
 * Returns which.
 */
export async function rebuild({ data: given, from, password }) {
  const data = resolve(given);
  const { run } = tools(data);
  const { port, listen, archive } = setOf(data);
  if (isRunning(data)) stop(data, 'immediate');
  let how = 'rewound';
  try {
    await ensureSlot({ ...from, password });
    // What was promoted just now says so in its control file after a checkpoint only.
    await asked({ ...from, password }, 'checkpoint');
    run('pg_rewind', [
      '-D',
      data,
      '--source-server',
      `${source(from, password)} dbname=postgres`,
      '--no-sync',
    ]);
    follow(data, { from, password, port, listen, archive });
    start(data);
    await until(() => isCaughtUp({ ...from, password }), 'the standby does not follow', 30);
  } catch {
    how = 'copied anew';
    if (isRunning(data)) stop(data, 'immediate');
    rmSync(data, { recursive: true, force: true });
    await makeStandby({ data, port, from, password, listen, archive });
  }
  return how;
}

/** What a database is and who follows it. */
export async function statusOf(of) {
  const [row] = await asked(
    of,
    `select pg_is_in_recovery() as standby, current_setting('synchronous_standby_names') as waits`,
  );
  const followers = row.standby
    ? []
    : await asked(
        of,
        `select application_name as name, state, sync_state as sync,
          coalesce(extract(epoch from replay_lag), 0)::float as lag from pg_stat_replication`,
      );
  return { ...row, followers };
}

/** Copies stand in the order of their names. */
const baseName = (date) => `base-${date.toISOString().replace(/[-:]/g, '').slice(0, 15)}`;

/** A copy of a whole database beside its archive: every moment after it can be restored. */
export function baseBackup({ of, data, into, password }) {
  const { who, run } = tools(resolve(data));
  const target = resolve(into, baseName(new Date()));
  folder(who, resolve(into));
  copyOf(of, target, { run, password });
  return target;
}

/** The newest copy that was complete before a moment. */
function baseBefore(archive, moment) {
  const bases = readdirSync(archive)
    .filter((one) => one.startsWith('base-') && one <= baseName(moment))
    .sort();
  const last = bases.at(-1);
  if (!last) throw new Plain(`There is no copy from before ${moment.toISOString()} in ${archive}.`);
  return join(archive, last);
}

/** Restores a moment into a new folder of data and starts it there, as a database of its own. */
export async function restoreTo({
  archive: given,
  moment,
  data: into,
  port,
  password,
  listen = '127.0.0.1',
}) {
  const archive = resolve(given);
  const data = resolve(into);
  if (existsSync(data) && readdirSync(data).length > 0) throw new Plain(`${data} is not empty.`);
  cpSync(baseBefore(archive, moment), data, { recursive: true });
  const { who } = tools(data);
  if (isRoot) spawnSync('chown', ['-R', `${who.uid}:${who.gid}`, data]);
  spawnSync('chmod', ['700', data]);
  configure(data, {
    ...shared({ port, listen, archive: null }),
    archive_mode: 'off',
    archive_command: null,
    archive_timeout: null,
    'contactum.archive': null,
    synchronous_standby_names: null,
    primary_conninfo: null,
    primary_slot_name: null,
    restore_command: `cp ${archive}/%f %p`,
    // Without the letters of ISO 8601, which it does not read here.
    recovery_target_time: moment.toISOString().replace('T', ' ').replace('Z', '+00'),
    recovery_target_action: 'promote',
    recovery_target_timeline: 'latest',
  });
  const signal = join(data, 'recovery.signal');
  writeFileSync(signal, '');
  own(who, signal);
  start(data);
  const of = { host: '127.0.0.1', port, password };
  await until(async () => !(await statusOf(of)).standby, 'the moment is not reached', 600);
  configure(data, { restore_command: null, recovery_target_time: null, recovery_target_action: null });
}

/** Writes out what is in the present segment of the log, so that the archive has it. */
export async function switchLog(of) {
  await asked(of, 'select pg_switch_wal()');
}
