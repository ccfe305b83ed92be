import { randomBytes, randomUUID, scryptSync } from 'node:crypto';
import { test as base, type Page } from '@playwright/test';
import pg from 'pg';
import { PASSWORD, reference } from './place.js';

/** People and a class of one story alone: no story stands on what another one did. */
export interface College {
  readonly instructor: string;
  readonly student: string;
  readonly studentName: string;
  readonly className: string;
  /** Sets an exercise to the class. */
  readonly set: (exercise: string) => Promise<string>;
  /** Opens an attempt of the student's with some leads in it, as if they had been laid before. */
  readonly wired: (assignment: string, wires: ReturnType<typeof reference>) => Promise<string>;
  /** Hands an attempt in and waits until it is marked. */
  readonly handIn: (attempt: string) => Promise<void>;
  /** The instructor permits an attempt to be energised. */
  readonly permit: (attempt: string) => Promise<void>;
  readonly sql: (text: string, values?: unknown[]) => Promise<pg.QueryResult>;
}

const baseURL = process.env.BASE_URL ?? '';

/** The password of everybody here as the service keeps it, derived once. */
const KEPT = kept(PASSWORD);

function kept(password: string): string {
  const salt = randomBytes(16);
  const key = scryptSync(password, salt, 32, { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 });
  return `scrypt$${salt.toString('base64')}$${key.toString('base64')}`;
}

/** A browser's worth of requests without a browser. */
class Caller {
  private cookie = '';

  async ask(
    method: string,
    path: string,
    body: unknown,
  ): Promise<{ id: string; attempt: { state: string } }> {
    const response = await fetch(`${baseURL}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json', cookie: this.cookie },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    this.cookie =
      response.headers
        .getSetCookie()
        .find((one) => one.startsWith('contactum.session='))
        ?.split(';')[0] ?? this.cookie;
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as { id: string; attempt: { state: string } };
  }
}

export const test = base.extend<{ college: College; faults: string[] }>({
  college: async ({}, use) => {
    const client = new pg.Client({ connectionString: process.env.DATABASE_URL });
    await client.connect();
    const sql = (text: string, values: unknown[] = []) => client.query(text, values);
    const mark = randomUUID().slice(0, 8);
    const person = async (login: string, name: string, role: string) => {
      const { rows } = await sql(
        'insert into people (login, name, role, password) values ($1, $2, $3, $4) returning id',
        [login, name, role, KEPT],
      );
      return (rows[0] as { id: string }).id;
    };
    const [instructor, student] = [`i${mark}`, `s${mark}`];
    const teacher = await person(instructor, `Instructor ${mark}`, 'instructor');
    const learner = await person(student, `Student ${mark}`, 'student');
    const className = `Class ${mark}`;
    const { rows } = await sql('insert into classes (name, instructor_id) values ($1, $2) returning id', [
      className,
      teacher,
    ]);
    const classId = (rows[0] as { id: string }).id;
    await sql('insert into class_members (class_id, student_id) values ($1, $2)', [classId, learner]);
    const signedIn = async (login: string) => {
      const caller = new Caller();
      await caller.ask('POST', '/session', { login, password: PASSWORD });
      return caller;
    };
    const first = await signedIn(instructor);
    const second = await signedIn(student);
    await use({
      instructor,
      student,
      studentName: `Student ${mark}`,
      className,
      sql,
      set: async (exerciseId) =>
        (await first.ask('POST', `/classes/${classId}/assignments`, { exerciseId })).id,
      wired: async (assignment, wires) => {
        const { id } = await second.ask('POST', `/assignments/${assignment}/attempts`, {});
        for (const [index, wire] of wires.entries())
          await second.ask('POST', `/attempts/${id}/log`, {
            seq: index + 1,
            entry: { kind: 'edit', edit: { do: 'connect', lead: `w${index + 1}`, wire } },
          });
        return id;
      },
      permit: async (attempt) => {
        await first.ask('POST', `/attempts/${attempt}/permission`, {});
      },
      handIn: async (attempt) => {
        await second.ask('POST', `/attempts/${attempt}/hand-in`, {});
        while (
          (await second.ask('GET', `/attempts/${attempt}/slip`, undefined)).attempt.state === 'handed-in'
        )
          await new Promise((resolve) => setTimeout(resolve, 100));
      },
    });
    await client.end();
  },
  /** Errors that the page threw; a story ends with none. */
  faults: [
    async ({ page }: { page: Page }, use: (faults: string[]) => Promise<void>) => {
      const faults: string[] = [];
      page.on('pageerror', (error) => faults.push(error.message));
      await use(faults);
      if (faults.length > 0) throw new Error(`the page threw: ${faults.join('; ')}`);
    },
    { auto: true },
  ],
});
