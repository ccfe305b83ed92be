/**
 * Load on the whole service: many students at once, killed processes, searches without end. Everything
 * stays on loopback, bounded in number and time.
 */
import { randomBytes, randomUUID, scrypt } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { pause } from './measure.mjs';
import { ROOT } from './paths.mjs';

const PASSWORD = 'tidewater';

/** As the server derives keys: N 2^15, r 8. */
async function hash(password) {
  const salt = randomBytes(16);
  const key = await promisify(scrypt)(password, salt, 32, {
    N: 2 ** 15,
    r: 8,
    p: 1,
    maxmem: 64 * 1024 * 1024,
  });
  return `scrypt$${salt.toString('base64')}$${key.toString('base64')}`;
}

/**
 * Some students with passwords of their own salts, in one class that has an exercise set; and an open
 * attempt each.
 */
export async function makeStudents(client, count, exerciseId) {
  const { rows: teachers } = await client.query("select id from people where login = 'brack'");
  const { rows: groups } = await client.query(
    'insert into classes (name, instructor_id) values ($1, $2) returning id',
    [`Load ${randomUUID().slice(0, 6)}`, teachers[0].id],
  );
  const classId = groups[0].id;
  const mark = randomUUID().slice(0, 6);
  const hashes = [];
  for (let k = 0; k < count; k += 2) hashes.push(...(await Promise.all([hash(PASSWORD), hash(PASSWORD)])));
  const { rows: people } = await client.query(
    "insert into people (login, name, role, password) select login, 'Load', 'student', password from unnest($1::text[], $2::text[]) as p(login, password) returning id, login",
    [Array.from({ length: count }, (_, k) => `load-${mark}-${k}`), hashes.slice(0, count)],
  );
  await client.query('insert into class_members (class_id, student_id) select $1, unnest($2::uuid[])', [
    classId,
    people.map(({ id }) => id),
  ]);
  const exercise = await shipped(client, exerciseId);
  const { rows: assignments } = await client.query(
    'insert into assignments (class_id, exercise_id, document, set_by) select $1, id, document, $2 from exercises where id = $3 returning id',
    [classId, teachers[0].id, exerciseId],
  );
  const { rows: attempts } = await client.query(
    "insert into attempts (assignment_id, student_id, number, state) select $1, unnest($2::uuid[]), 1, 'open' returning id, student_id",
    [assignments[0].id, people.map(({ id }) => id)],
  );
  const attemptOf = new Map(attempts.map(({ id, student_id }) => [student_id, id]));
  return {
    exercise,
    assignment: assignments[0].id,
    students: people.map(({ id, login }) => ({
      id,
      login,
      attempt: attemptOf.get(id),
      seq: 0,
      wires: 0,
      acknowledged: 0,
    })),
  };
}

/** One browser's worth of requests over a kept connection. */
export class Caller {
  cookie = '';

  constructor(base, agent) {
    const { hostname, port } = new URL(base);
    this.to = { hostname, port, agent };
  }

  ask(method, path, body, timeout = 60_000) {
    return new Promise((resolve, reject) => {
      const text = body === undefined ? undefined : JSON.stringify(body);
      const headers = {
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(text === undefined
          ? {}
          : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) }),
      };
      const call = request({ ...this.to, method, path: `/api${path}`, headers, timeout }, (response) => {
        let answer = '';
        response.setEncoding('utf8');
        response.on('data', (chunk) => (answer += chunk));
        response.on('error', reject);
        response.on('end', () => {
          const set = sessionOf(response.headers['set-cookie'] ?? []);
          if (set) this.cookie = set;
          resolve({ status: response.statusCode, text: answer });
        });
      });
      call.on('error', reject);
      call.on('timeout', () => call.destroy(new Error('timeout')));
      call.end(text);
    });
  }
}

/** The session's cookie among those that an answer sets; empty where it sets none. */
export const sessionOf = (set) =>
  set.find((one) => one.startsWith('contactum.session='))?.split(';')[0] ?? '';

/** One of the demo's people signs in: the session's cookie and who it is. */
export async function signIn(base, login) {
  const response = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: PASSWORD }),
  });
  if (response.status !== 201) throw new Error(`sign-in of ${login}: ${response.status}`);
  const { id } = await response.json();
  return { id, cookie: sessionOf(response.headers.getSetCookie()) };
}

export const agent = () => new Agent({ keepAlive: true, maxSockets: 400 });

/** Everybody signs in at one moment; milliseconds until the last one is in. */
export async function signInAll(base, students, shared) {
  for (const student of students) student.caller = new Caller(base, shared);
  const begun = performance.now();
  const answers = await Promise.all(
    students.map(({ caller, login }) => caller.ask('POST', '/session', { login, password: PASSWORD })),
  );
  const wrong = answers.filter(({ status }) => status !== 201);
  if (wrong.length > 0)
    throw new Error(`${wrong.length} sign-ins failed: ${wrong[0].status} ${wrong[0].text}`);
  return performance.now() - begun;
}

const LEADS = 24;

/**
 * The next edit of a student: leads are laid one by one, then taken away again, so that a log of any length
 * leaves a small board.
 */
function nextEntry(student, { reference }) {
  const n = student.wires % (2 * LEADS);
  // Each round lays leads with names of its own.
  const first = Math.floor(student.wires / (2 * LEADS)) * LEADS + 1;
  const wire = (k) => ({
    from: reference[k % reference.length].from,
    to: reference[k % reference.length].to,
  });
  const k = n < LEADS ? n : 2 * LEADS - 1 - n;
  const edit = { do: n < LEADS ? 'connect' : 'cut', lead: `w${first + k}`, wire: wire(k) };
  return { seq: student.seq + 1, entry: { kind: 'edit', edit } };
}

/** Sends one entry until it is acknowledged. */
async function acknowledge(student, entry, until) {
  let last = '';
  for (;;) {
    try {
      const { status, text } = await student.caller.ask(
        'POST',
        `/attempts/${student.attempt}/log`,
        entry,
        10_000,
      );
      last = `${status} ${text}`;
      if (status === 201) return true;
      if (status < 500 && status !== 429)
        throw Object.assign(new Error(`${status} ${text}`), { isRefusal: true });
    } catch (error) {
      if (error.isRefusal) throw error;
      last = error.message;
    }
    if (performance.now() > until) throw new Error(`not acknowledged in time: ${last}`);
    await pause(100);
  }
}

/**
 * Students at two edits a second each for some seconds; milliseconds of every acknowledged edit, and when
 * it came.
 */
export async function editing({ students, exercise }, seconds, perSecond = 2) {
  const taken = [];
  const begun = performance.now();
  const end = begun + seconds * 1000;
  await Promise.all(
    students.map(async (student, k) => {
      const step = 1000 / perSecond;
      let due = begun + (k / students.length) * step;
      while (due < end) {
        const wait = due - performance.now();
        if (wait > 0) await pause(wait);
        const entry = nextEntry(student, student.exercise ?? exercise);
        await acknowledge(student, entry, end + 30_000);
        const now = performance.now();
        taken.push({ ms: now - due, at: now });
        student.seq += 1;
        student.wires += 1;
        student.acknowledged = student.seq;
        due = Math.max(due + step, now - step);
      }
    }),
  );
  return taken;
}

/** Acknowledged entries that the database does not hold; gaps and doubles in the logs. */
export async function lost(client, students) {
  const { rows } = await client.query(
    'select attempt_id, count(*)::int as entries, max(seq) as last from attempt_log where attempt_id = any($1) group by attempt_id',
    [students.map(({ attempt }) => attempt)],
  );
  const found = new Map(rows.map((row) => [row.attempt_id, row]));
  return students.reduce((sum, { attempt, acknowledged }) => {
    const { entries = 0, last = 0 } = found.get(attempt) ?? {};
    return sum + Math.max(0, acknowledged - entries) + Math.abs(entries - last);
  }, 0);
}

/** Processes below one, itself included. */
export function processTree(root) {
  const parents = new Map();
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
      parents.set(Number(pid), Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]));
    } catch {
      // Gone meanwhile.
    }
  }
  const tree = new Set([root]);
  for (let grown = true; grown;) {
    grown = false;
    for (const [pid, parent] of parents)
      if (tree.has(parent) && !tree.has(pid)) grown = Boolean(tree.add(pid));
  }
  return [...tree];
}

const TICKS = 100;

/** Processor seconds that some processes have used. */
export function processorSeconds(pids) {
  let ticks = 0;
  for (const pid of pids) {
    try {
      const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
      ticks += Number(fields[11]) + Number(fields[12]);
    } catch {
      // Gone meanwhile.
    }
  }
  return ticks / TICKS;
}

/** A shipped exercise as the server has it. */
export async function shipped(client, id) {
  const { rows } = await client.query('select document from exercises where id = $1', [id]);
  return rows[0].document;
}

/** Puts edits into the log of an attempt as if they had been made there. */
export async function putLog(client, attempt, edits) {
  await client.query(
    'insert into attempt_log (attempt_id, seq, body) select $1, row_number() over (), body::jsonb from unnest($2::text[]) as e(body)',
    [attempt, edits.map((edit) => JSON.stringify({ kind: 'edit', edit }))],
  );
}

/** The edits that lay these wires one after another. */
export const laying = (wires) => wires.map((wire, n) => ({ do: 'connect', lead: `w${n + 1}`, wire }));

/** Gives an attempt a log of some length, as edits that were laid and taken away. */
export async function lengthen(client, student, exercise, entries) {
  const edits = [];
  for (let k = 0; k < entries; k += 1) {
    edits.push(nextEntry(student, exercise).entry.edit);
    student.seq += 1;
    student.wires += 1;
  }
  await putLog(client, student.attempt, edits);
  await client.query('update attempts set last_seq = $2 where id = $1', [student.attempt, entries]);
  student.acknowledged = entries;
}

/** Memory that some processes hold, MB. */
export function residentMegabytes(pids) {
  let pages = 0;
  for (const pid of pids) {
    try {
      pages += Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
    } catch {
      // Gone meanwhile.
    }
  }
  return (pages * 4096) / 1e6;
}
