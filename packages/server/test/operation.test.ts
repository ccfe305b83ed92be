import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { WebSocket } from 'ws';
import { openDatabase } from '../src/database/database.js';
import { exercise } from '../../core/test/help.js';
import { backup, restore } from '../../../scripts/lib/keeping.mjs';
import {
  Client,
  connect,
  freshDatabase,
  marked,
  neverEnergised,
  people,
  startProcess,
  until,
  wire,
  type Server,
  query,
} from './help.js';

/**
 * The service as whoever looks after it sees it: begun, kept, put back, gone back, and several processes as
 * one.
 */

const pump = exercise('brine-pump-three-wire');
const folder = mkdtempSync(join(tmpdir(), 'contactum-'));
afterAll(() => rmSync(folder, { recursive: true }));

const admin = (url: string, ...words: string[]) => {
  const done = spawnSync(process.execPath, [join(import.meta.dirname, '..', 'dist', 'admin.mjs'), ...words], {
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: url },
  });
  return { status: done.status, said: done.stdout + done.stderr };
};

/** Every row of every table, as text. */
async function contents(url: string): Promise<Record<string, string>> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows: tables } = await client.query<{ name: string }>(
    "select format('%I.%I', schemaname, tablename) as name from pg_tables where schemaname not in ('pg_catalog', 'information_schema') order by 1",
  );
  const found: Record<string, string> = {};
  for (const { name } of tables) {
    const { rows } = await client.query(
      `select count(*)::int as n, md5(coalesce(string_agg(t::text, '' order by t::text), '')) as sum from ${name} t`,
    );
    found[name] = `${rows[0].n} ${rows[0].sum}`;
  }
  await client.end();
  return found;
}

/** Sets a password of one's own in place of the first one. */
async function chooses(client: Client, password: string, next: string): Promise<void> {
  const { status, body } = await client.ask('POST', '/session/password', { password, next });
  if (status >= 300) throw new Error(JSON.stringify(body));
}

describe('an empty machine', () => {
  test('one command makes the first administrator, who makes an instructor, who has a class', async () => {
    const url = await freshDatabase();
    const made = admin(url, 'create', 'Orla', 'Orla', 'Fenwick');
    expect(made).toMatchObject({ status: 0 });
    const password = /first password (\S+)/.exec(made.said)?.[1] ?? '';
    expect(admin(url, 'create', 'orla', 'Another One')).toMatchObject({ status: 2 });
    expect(admin(url, 'people').said).toMatch(/administrator\s+orla\s+Orla Fenwick/);
    // The interface and the marking apart, as on two machines.
    const [web, work] = await Promise.all([
      startProcess(url, { SERVE: 'web', WEB_PROCESSES: '1' }),
      startProcess(url, { SERVE: 'work' }),
    ]);
    try {
      const orla = new Client(web.base);
      expect((await orla.ask('POST', '/session', { login: 'orla', password })).status).toBe(201);
      await chooses(orla, password, 'neap tide 4');
      const given = await orla.ask('POST', '/people', {
        name: 'Piet Warde',
        login: 'piet',
        role: 'instructor',
      });
      const piet = new Client(web.base);
      const first = given.body.password as string;
      await piet.ask('POST', '/session', { login: 'piet', password: first });
      await chooses(piet, first, 'neap tide 5');
      const group = await piet.ask('POST', '/classes', { name: 'Pans 1' });
      expect(group.status).toBe(201);
      const enrolled = await piet.ask('POST', `/classes/${group.body.id}/enrol`, {
        csv: 'login,name\nbo,Bo Lant\n',
        commit: true,
      });
      expect(enrolled.status).toBeLessThan(300);
      const set = await piet.ask('POST', `/classes/${group.body.id}/assignments`, { exerciseId: pump.id });
      const bo = new Client(web.base);
      const pass = enrolled.body.passwords[0].password as string;
      await bo.ask('POST', '/session', { login: 'bo', password: pass });
      await chooses(bo, pass, 'neap tide 6');
      const attempt = await bo.ask('POST', `/assignments/${set.body.id}/attempts`, {});
      await wire(bo, attempt.body.id, pump.reference);
      expect((await bo.ask('POST', `/attempts/${attempt.body.id}/hand-in`, {})).status).toBe(202);
      // Marked by the other process.
      expect((await marked(bo, attempt.body.id)).result.score).toBe(neverEnergised(pump));
    } finally {
      await Promise.all([web.kill('SIGTERM'), work.kill('SIGTERM')]);
    }
  });
});

describe('kept and put back', () => {
  let url: string;
  beforeAll(async () => {
    url = await freshDatabase();
    const server = await startProcess(url);
    const { classId } = await people(url);
    const teacher = await new Client(server.base).signIn('first');
    const ann = await new Client(server.base).signIn('ann');
    const set = await teacher.ask('POST', `/classes/${classId}/assignments`, { exerciseId: pump.id });
    const { id } = (await ann.ask('POST', `/assignments/${set.body.id}/attempts`, {})).body;
    await wire(ann, id, pump.reference);
    await ann.ask('POST', `/attempts/${id}/hand-in`, {});
    await marked(ann, id);
    await server.kill('SIGTERM');
  });

  test('what a backup restores is, row for row, what was backed up, and what was there meanwhile is kept', async () => {
    const file = join(folder, 'whole.backup');
    const before = await contents(url);
    expect(Object.keys(before).length).toBeGreaterThan(25);
    expect(backup(url, file).tables).toBeGreaterThan(25);
    // Names and marks are in it.
    expect(statSync(file).mode & 0o077).toBe(0);
    await query(url, "update people set name = 'Somebody else'");
    await query(url, 'delete from markings');
    const { kept, counts } = await restore(url, file);
    expect(counts).toMatchObject({ attempts: 1, markings: 1 });
    expect(await contents(url)).toEqual(before);
    expect(await query(url.replace(/\/[^/]*$/, `/${kept}`), 'select distinct name from people')).toEqual([
      { name: 'Somebody else' },
    ]);
    // The service goes on on it.
    const server = await startProcess(url);
    expect((await (await new Client(server.base).signIn('ann')).ask('GET', '/session')).status).toBe(200);
    await server.kill('SIGTERM');
  });

  test('a restore that cannot be done changes nothing and leaves nothing behind', async () => {
    const file = join(folder, 'cut.backup');
    backup(url, file);
    truncateSync(file, Math.floor(readFileSync(file).length * 0.6));
    const before = await contents(url);
    const names = () => query(url, "select datname from pg_database where datname like '%restoring%'");
    await expect(restore(url, file)).rejects.toThrow(/pg_restore failed/);
    expect(await names()).toEqual([]);
    writeFileSync(file, 'no backup at all');
    await expect(restore(url, file)).rejects.toThrow(/pg_restore failed/);
    const good = join(folder, 'good.backup');
    backup(url, good);
    const busy = new pg.Client({ connectionString: url });
    await busy.connect();
    await expect(restore(url, good)).rejects.toThrow(/connections to .* are open/);
    await busy.end();
    expect(await names()).toEqual([]);
    expect(await contents(url)).toEqual(before);
    // A backup that cannot be written takes no name.
    expect(() => backup(url, join(folder, 'nowhere', 'x.backup'))).toThrow(/cannot be written/);
  });

  test('going back: a release that lacks a step of the schema refuses to start; the step taken back and made again loses no marks', async () => {
    const marks = () => query(url, 'select attempt_id, report from markings');
    const before = await marks();
    await query(
      url,
      "insert into knex_migrations (name, batch, migration_time) values ('999-later', 9, now())",
    );
    await expect(startProcess(url)).rejects.toThrow(/ended with 1/);
    await query(url, "delete from knex_migrations where name = '999-later'");
    const steps = [
      '020-fresh-readings',
      '019-linked-assessments',
      '018-doors',
      '017-scanners',
      '016-assessments',
      '015-signing-keys',
      '014-variants',
      '013-line',
      '012-answers',
      '011-hints',
      '010-consent',
      '009-rights',
      '008-recorded',
      '007-paper',
      '006-college',
    ];
    for (const step of steps) expect(admin(url, 'back').said).toContain(`${step} is taken back`);
    expect(admin(url, 'schema').said).toMatch(/006-college \(missing/);
    expect(await marks()).toEqual(before);
    // What a process left locked that died while it changed the schema holds nobody up.
    await query(url, 'update knex_migrations_lock set is_locked = 1');
    const server = await startProcess(url);
    const ann = await new Client(server.base).signIn('ann');
    const [{ attempt_id: id }] = before;
    expect((await ann.ask('GET', `/attempts/${id}/slip`)).body.result.score).toBe(neverEnergised(pump));
    await server.kill('SIGTERM');
  });
});

/** A page's line to the server: what it was told, and what it says. */
class Line {
  readonly told: any[] = [];
  closed = false;

  private constructor(private readonly socket: WebSocket) {
    socket.on('message', (data: Buffer) => this.told.push(JSON.parse(data.toString('utf8'))));
    socket.on('close', () => (this.closed = true));
    socket.on('error', () => (this.closed = true));
  }

  static open(client: Client, path: string): Promise<Line> {
    const socket = new WebSocket(`${client.base.replace('http', 'ws')}/api${path}`, {
      headers: { cookie: client.cookie },
    });
    const line = new Line(socket);
    return new Promise((resolve, reject) => {
      socket.once('open', () => resolve(line));
      socket.once('error', reject);
    });
  }

  say(what: object): void {
    this.socket.send(JSON.stringify(what));
  }

  hears(is: (one: any) => boolean): Promise<any> {
    return until(() => Promise.resolve(this.told.find(is)));
  }

  close(): void {
    this.socket.terminate();
  }
}

const at = (client: Client, server: Server): Client => {
  const there = new Client(server.base);
  there.cookie = client.cookie;
  return there;
};

test('three processes killed in turn are one service: sessions, edits, live lines, permission, limits, and marks', async () => {
  const url = await freshDatabase();
  const first = await startProcess(url);
  const { classId } = await people(url);
  const servers = [first, ...(await Promise.all([startProcess(url), startProcess(url)]))];
  const teacher = await new Client(first.base).signIn('first');
  const ann = await new Client(first.base).signIn('ann');
  const set = await teacher.ask('POST', `/classes/${classId}/assignments`, {
    exerciseId: pump.id,
    attemptsAllowed: 5,
  });
  try {
    for (let turn = 0; turn < 3; turn += 1) {
      const [dying, second, third] = [0, 1, 2].map((k) => servers[(turn + k) % 3]) as [
        Server,
        Server,
        Server,
      ];
      const [annDying, annSecond, annThird] = [dying, second, third].map((one) => at(ann, one)) as Client[];
      const { id } = (await annDying!.ask('POST', `/assignments/${set.body.id}/attempts`, {})).body;
      // The bench is with one process, its instructor with another.
      const bench = await Line.open(annDying!, `/attempts/${id}/floor`);
      const floor = await Line.open(at(teacher, third), `/classes/${classId}/floor`);
      const seen = (leads: number) =>
        until(() =>
          Promise.resolve(
            floor.told
              .flatMap((news) => news.benches ?? [])
              .findLast(
                (one) => one.attemptId === id && one.status?.leads === pump.bench.wires.length + leads,
              ),
          ),
        );
      // How it stands is told by its log, not by its page.
      await seen(0);
      floor.say({ kind: 'word', attemptId: id, text: `Word ${turn}` });
      await bench.hears((one) => one.kind === 'word' && one.word.text === `Word ${turn}`);
      // The answer crosses from process to process, and so does that it was seen.
      const word = (text: string | null) =>
        until(() =>
          Promise.resolve(
            floor.told
              .flatMap((news) => news.benches ?? [])
              .findLast(
                (one) => one.attemptId === id && one.word !== undefined && (one.word?.text ?? null) === text,
              ),
          ),
        );
      bench.say({ kind: 'word', text: `Answer ${turn}` });
      await word(`Answer ${turn}`);
      floor.say({ kind: 'heard', attemptId: id });
      await until(() =>
        Promise.resolve(
          floor.told
            .flatMap((news) => news.benches ?? [])
            .findLast((one) => one.attemptId === id && 'word' in one)?.word === null,
        ),
      );
      // An edit by each process in turn; the last one is acknowledged by the process that dies.
      const half = pump.reference.slice(0, 6);
      for (const [k, one] of half.entries()) {
        const client = [annSecond, annThird, annDying][k % 3]!;
        expect((await client.ask('POST', `/attempts/${id}/log`, connect(k + 1, one))).status).toBe(201);
      }
      await dying.kill('SIGKILL');
      await until(() => Promise.resolve(bench.closed));
      // Another process takes the bench over; the instructor's line goes on, and permission gets there.
      const again = await Line.open(annSecond!, `/attempts/${id}/floor`);
      again.say({ kind: 'asks', yes: true });
      await until(async () => (await seen(6)).status.asks);
      floor.say({ kind: 'permit', attemptId: id });
      await again.hears((one) => one.kind === 'permitted');
      const log = (await annThird!.ask('GET', `/attempts/${id}`)).body.log as { entry: { kind: string } }[];
      expect(log.filter(({ entry }) => entry.kind === 'edit').length).toBe(half.length);
      for (const [k, one] of pump.reference.slice(6).entries()) {
        const client = [annSecond, annThird][k % 2]!;
        const answer = await client.ask('POST', `/attempts/${id}/log`, connect(log.length + k + 1, one));
        expect(answer.status).toBe(201);
      }
      const handed = await annSecond!.ask('POST', `/attempts/${id}/hand-in`, {});
      expect(handed.status).toBe(202);
      expect((await marked(annThird!, id)).result.score).toBe(neverEnergised(pump));
      again.close();
      floor.close();
      servers[turn] = await startProcess(url);
    }
    const [row] = await query(
      url,
      'select count(*)::int as markings, count(distinct attempt_id)::int as attempts from markings',
    );
    expect(row).toEqual({ markings: 3, attempts: 3 });
    // Wrong sign-ins count wherever they were made.
    for (const server of servers)
      await new Client(server.base).ask('POST', '/session', { login: 'ben', password: 'wrong' });
    const database = openDatabase(url);
    const counts = await database('sign_in_failures').where('key', 'like', '%ben%').max('count as n');
    await database.destroy();
    expect(Number(counts[0]?.n)).toBeGreaterThan(2.5);
    // Ended at one, a session is ended at all.
    await at(ann, servers[0]!).ask('DELETE', '/session');
    for (const server of servers) expect((await at(ann, server).ask('GET', '/exercises')).status).toBe(401);
  } finally {
    await Promise.all(servers.map((one) => one.kill('SIGTERM')));
  }
});
