import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { grade, referenceBench, type DeadTest, type Exercise, type Wire } from '@contactum/core';
import { openDatabase } from '../src/database/database.js';
import { ClassModel, PersonModel } from '../src/database/models.js';
import { hashPassword } from '../src/security/passwords.js';

const PACKAGE = join(import.meta.dirname, '..');
export const PASSWORD = 'low water';

/** A database of its own in the test cluster. */
export async function freshDatabase(): Promise<string> {
  const url = process.env.TEST_CLUSTER_URL;
  if (!url) throw new Error('the test cluster is not running');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  return url.replace(/\/[^/]*$/, `/${name}`);
}

/** Asks a database. */
export async function query<T extends object = any>(
  url: string,
  text: string,
  values: readonly unknown[] = [],
): Promise<T[]> {
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  try {
    return (await client.query<T>(text, [...values])).rows;
  } finally {
    await client.end();
  }
}

export interface Server {
  readonly base: string;
  readonly process: ChildProcess;
  kill(signal: NodeJS.Signals): Promise<void>;
}

/** Starts the built server as a process of its own. */
export async function startProcess(databaseUrl: string, more: Record<string, string> = {}): Promise<Server> {
  const child = spawn(process.execPath, [join(PACKAGE, 'dist', 'main.mjs')], {
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      DATABASE_URL: databaseUrl,
      PORT: '0',
      SESSION_SECRET: 'a secret of the tests',
      LOG_LEVEL: 'error',
      ...more,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const port = await new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (chunk: Buffer) => {
      const found = /listening (\d+)|marking/.exec(String(chunk));
      if (found) resolve(found[1] ?? '0');
    });
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return {
    base: `http://127.0.0.1:${port}`,
    process: child,
    kill: (signal) =>
      new Promise((resolve) => {
        child.once('exit', () => resolve());
        child.kill(signal);
      }),
  };
}

/** Three instructors, an administrator, two students in the first one's class, and one in none. */
export async function people(databaseUrl: string): Promise<{ classId: string }> {
  const database = openDatabase(databaseUrl);
  const password = await hashPassword(PASSWORD);
  const add = (login: string, role: 'administrator' | 'instructor' | 'student') =>
    PersonModel.query(database)
      .insert({ login, name: `Person ${login}`, role, password })
      .returning('*');
  const [first] = [
    await add('first', 'instructor'),
    await add('second', 'instructor'),
    await add('third', 'instructor'),
    await add('head', 'administrator'),
    await add('cora', 'student'),
  ];
  const students = [await add('ann', 'student'), await add('ben', 'student')];
  const group = await ClassModel.query(database)
    .insert({ name: '=Class 1', instructorId: first.id })
    .returning('*');
  await database('class_members').insert(students.map(({ id }) => ({ class_id: group.id, student_id: id })));
  await database.destroy();
  return { classId: group.id };
}

/** A browser's worth of requests: keeps its session. */
export class Client {
  cookie = '';

  constructor(readonly base: string) {}

  async ask(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; body: any; headers: Headers }> {
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...headers,
      },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const set = response.headers.getSetCookie();
    if (set.some((one) => one.startsWith('contactum.session=')))
      this.cookie = set.map((one) => one.split(';')[0]).join('; ');
    const text = await response.text();
    let value: unknown = text;
    try {
      value = JSON.parse(text);
    } catch {
      // CSV and empty answers stay as they are.
    }
    return { status: response.status, body: value, headers: response.headers };
  }

  async signIn(login: string, password = PASSWORD): Promise<this> {
    const { status } = await this.ask('POST', '/session', { login, password });
    if (status !== 201) throw new Error(`sign-in of ${login}: ${status}`);
    return this;
  }
}

/** An entry that lays a lead, named by its own number unless it says otherwise. */
export const connect = (seq: number, wire: Wire, lead = `w${seq}`) => ({
  seq,
  entry: { kind: 'edit', edit: { do: 'connect', lead, wire } },
});

/** Wires a whole board, entry by entry. */
export async function wire(client: Client, attemptId: string, wires: readonly Wire[]): Promise<void> {
  for (const [k, one] of wires.entries()) {
    const { status, body } = await client.ask('POST', `/attempts/${attemptId}/log`, connect(k + 1, one));
    if (status !== 201) throw new Error(JSON.stringify(body));
  }
}

/**
 * Does what is asked before a wired board is switched on, and switches it on: dead tests, the instructor's
 * permission.
 */
export async function energise(
  student: Client,
  instructor: Client,
  attemptId: string,
  { practice, reference }: Exercise,
): Promise<void> {
  let seq = reference.length;
  const log = async (entry: object) => {
    const { status, body } = await student.ask('POST', `/attempts/${attemptId}/log`, {
      seq: (seq += 1),
      entry,
    });
    if (status !== 201) throw new Error(JSON.stringify(body));
  };
  for (const { between, hold } of Array.isArray(practice?.deadTest)
    ? (practice.deadTest as DeadTest[])
    : []) {
    for (const tag of hold) await log({ kind: 'act', stimulus: { press: tag } });
    await log({ kind: 'reading', from: between[0], to: between[1] });
    for (const tag of hold) await log({ kind: 'act', stimulus: { release: tag } });
  }
  const { status } = await instructor.ask('POST', `/attempts/${attemptId}/permission`, {});
  if (status !== 201) throw new Error(`permission: ${status}`);
  await log({ kind: 'supply', on: true });
}

/** What a right wiring has that was handed in without a dead test and without having been switched on. */
export const neverEnergised = (exercise: Exercise): number =>
  grade(exercise, referenceBench(exercise), {
    log: [{ t: 0, kind: 'edit', edit: { do: 'connect', lead: 'w1', wire: exercise.reference[0]! } }],
    faults: false,
  }).score;

/** Waits until something holds; only a hang ends it otherwise. */
export async function until<T>(look: () => Promise<T | null | undefined | false>): Promise<T> {
  for (;;) {
    const found = await look();
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** Waits until a slip is marked, or could not be. */
export const marked = (client: Client, attemptId: string): Promise<any> =>
  until(async () => {
    const { body } = await client.ask('GET', `/attempts/${attemptId}/slip`);
    return body.attempt?.state === 'marked' || body.attempt?.state === 'failed' ? body : null;
  });

/** The repair of a marked wiring, once its search has ended. */
export async function repaired(client: Client, attemptId: string): Promise<any> {
  const asked = await client.ask('POST', `/attempts/${attemptId}/repair`, {});
  if (asked.status !== 202) return asked;
  return until(async () => {
    const answer = await client.ask('GET', `/attempts/${attemptId}/repair`);
    return answer.body.state === 'done' || answer.body.state === 'stopped' ? answer : null;
  });
}

/** A service with a class of its own, and some of its people signed in. */
export class College {
  first!: Client;
  second!: Client;
  ann!: Client;
  ben!: Client;

  private constructor(
    readonly databaseUrl: string,
    readonly classId: string,
    public server: Server,
  ) {}

  static async started(): Promise<College> {
    const databaseUrl = await freshDatabase();
    const server = await startProcess(databaseUrl);
    const { classId } = await people(databaseUrl);
    const college = new College(databaseUrl, classId, server);
    await college.signIn();
    return college;
  }

  private async signIn(): Promise<void> {
    const logins = ['first', 'second', 'ann', 'ben'] as const;
    for (const login of logins) this[login] = await new Client(this.server.base).signIn(login);
  }

  /** The process is killed, and another one takes its place. */
  async killed(): Promise<void> {
    await this.server.kill('SIGKILL');
    this.server = await startProcess(this.databaseUrl);
    await this.signIn();
  }

  /** Assigns an exercise to the class; the setting. */
  async set(exerciseId: string, more: object = {}): Promise<string> {
    const asked = { exerciseId, ...more };
    return (await this.first.ask('POST', `/classes/${this.classId}/assignments`, asked)).body.id;
  }

  /** Begins an attempt, or goes on with it; which it is. */
  async open(setting: string, who: Client = this.ann): Promise<string> {
    return (await who.ask('POST', `/assignments/${setting}/attempts`, {})).body.id;
  }

  /** What a question to the database answers. */
  async withDatabase<T>(work: (database: ReturnType<typeof openDatabase>) => Promise<T>): Promise<T> {
    const database = openDatabase(this.databaseUrl);
    try {
      return await work(database);
    } finally {
      await database.destroy();
    }
  }
}
