import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import { WebSocket } from 'ws';
import { describeFault, possibleFaults, compile, readFault } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { Client, freshDatabase, marked, people, startProcess, until, type Server } from './help.js';

const ID = 'find-seal-in';
const exercise = shippedExercise(ID)!;
const lead = (from: string, to: string) =>
  exercise.bench.wires.findIndex((wire) => wire.from === from && wire.to === to);

/** A live bench as a browser has it: every byte that came, and answers by number. */
class LiveClient {
  readonly messages: { at: number; text: string }[] = [];
  private n = 0;
  private closed: string | null = null;

  private constructor(private readonly socket: WebSocket) {
    socket.on('message', (data: Buffer) =>
      this.messages.push({ at: Date.now(), text: data.toString('utf8') }),
    );
    socket.on('close', () => (this.closed = 'closed'));
  }

  static open(base: string, cookie: string, id: string): Promise<LiveClient> {
    const socket = new WebSocket(`${base.replace('http', 'ws')}/api/searches/${id}/live`, {
      headers: { cookie },
    });
    const client = new LiveClient(socket);
    return new Promise((resolve, reject) => {
      socket.once('open', () => resolve(client));
      socket.once('error', reject);
    });
  }

  get isClosed(): boolean {
    return this.closed !== null;
  }

  get news(): any[] {
    return this.messages.map(({ text }) => JSON.parse(text));
  }

  get frame(): any {
    return this.news.findLast(({ kind }) => kind === 'frame')?.frame;
  }

  /** Does something and does not wait for the answer. */
  send(entry: object): number {
    this.n += 1;
    this.socket.send(JSON.stringify({ n: this.n, entry }));
    return this.n;
  }

  async do(entry: object): Promise<any> {
    const n = this.send(entry);
    return until(async () =>
      Promise.resolve(this.news.find((one) => one.kind === 'answer' && one.n === n) ?? this.isClosed),
    );
  }

  act(stimulus: object): Promise<any> {
    return this.do({ kind: 'act', stimulus });
  }

  /** A deliberate push. */
  async push(tag: string): Promise<void> {
    await this.act({ press: tag });
    await new Promise((resolve) => setTimeout(resolve, 350));
    await this.act({ release: tag });
    await new Promise((resolve) => setTimeout(resolve, 350));
  }

  close(): void {
    this.socket.terminate();
  }
}

let database: string;
let classId: string;
let server: Server;
let instructor: Client;
let assignment: string;

beforeAll(async () => {
  database = await freshDatabase();
  server = await startProcess(database);
  ({ classId } = await people(database));
  instructor = await new Client(server.base).signIn('first');
  const set = await instructor.ask('POST', `/classes/${classId}/assignments`, { exerciseId: ID });
  expect(set.status).toBe(201);
  assignment = set.body.id;
});

afterAll(async () => {
  await server.kill('SIGTERM');
});

async function begin(student: Client) {
  const attempt = (await student.ask('POST', `/assignments/${assignment}/attempts`, {})).body.id as string;
  const { id } = (await student.ask('GET', `/attempts/${attempt}/search`)).body;
  return { attempt, id: id as string };
}

/** Texts that would tell what is hidden. */
function secretsOf(): string[] {
  const circuit = compile(exercise.bench);
  const titles = possibleFaults(circuit).map(describeFault);
  const kinds = [
    'open-wire',
    'loose-wire',
    'coil-open',
    'contact-stuck',
    'lost-phase',
    'lamp-failed',
    '"hidden"',
    // Of a fault; the rungs of a program that is fitted begin with a list.
    '"when":{',
    // The right program where one is to be written.
    '"program":{"A1"',
    '"every"',
  ];
  return [...titles, ...kinds, '"sets"', '"faults"', '"reference"'];
}

describe('a search for faults', () => {
  test('is worked at live, tells nothing of what is hidden, and is marked from its log', async () => {
    const ann = await new Client(server.base).signIn('ann');
    const { attempt, id } = await begin(ann);
    const view = await ann.ask('GET', `/searches/${id}`);
    expect(view.body.order.complaint).toBe(exercise.sets![0]!.complaint);
    const seen = [
      JSON.stringify(view.body),
      JSON.stringify((await ann.ask('GET', '/exercises')).body),
      JSON.stringify((await ann.ask('GET', `/exercises/${ID}`)).body),
    ];
    const live = await LiveClient.open(server.base, ann.cookie, id);
    await until(() => Promise.resolve(live.frame));
    await live.act({ close: 'G1' });
    await live.push('S2');
    expect(live.frame.states).toContain('out');
    const volts = await live.do({ kind: 'read', request: { mode: 'volts', at: ['F1:2', 'G1:N'] } });
    expect(volts.answer.reading.value).toBeCloseTo(231, 0);
    await live.act({ open: 'G1' });
    await live.do({ kind: 'lock', on: true });
    expect((await live.act({ close: 'G1' })).answer).toEqual({
      kind: 'refused',
      reason: 'the supply is locked off',
    });
    await live.do({ kind: 'read', request: { mode: 'volts', at: ['F1:1', 'G1:N'] } });
    const ohms = await live.do({ kind: 'read', request: { mode: 'ohms', at: ['KM1:14', 'S2:14'] } });
    expect(ohms.line.text).toContain('no connection');
    // Everything that came until here, before anything was named by the student.
    seen.push(...live.messages.map(({ text }) => text));
    for (const text of seen) for (const secret of secretsOf()) expect(text).not.toContain(secret);
    expect((await live.do({ kind: 'verdict', fault: { 'coil-open': 'KM1' } })).line.verdict).toBe('wrong');
    const right = await live.do({ kind: 'verdict', fault: { 'open-wire': 'S2:14 KM1:14' } });
    expect(right.line.verdict).toBe('right');
    await live.do({ kind: 'renew', wire: lead('KM1:14', 'S2:14') });
    await live.do({ kind: 'lock', on: false });
    await live.act({ close: 'G1' });
    await live.push('S2');
    expect(live.frame.states).toContain('in');
    live.close();
    expect((await ann.ask('POST', `/attempts/${attempt}/hand-in`, {})).status).toBe(202);
    const slip = await marked(ann, attempt);
    const points = Object.fromEntries(
      slip.report.criteria.map((one: any) => [one.id, [one.points, one.max]]),
    );
    expect(points.place[0]).toBe(points.place[1]);
    expect(points.cause[0]).toBeCloseTo(points.cause[1] / 2, 1);
    expect(points.isolation[0]).toBe(points.isolation[1]);
    expect(slip.report.search.faults).toEqual(['wire KM1:14 to S2:14 broken']);
    // The instructor overrules, as on any slip.
    const changed = await instructor.ask('POST', `/attempts/${attempt}/points`, {
      part: 'behaviour',
      criterion: 'cause',
      points: points.cause[1],
      reason: 'the first verdict was a slip of the hand',
    });
    expect(changed.status).toBe(201);
    expect(await LiveClient.open(server.base, ann.cookie, id).catch(() => null)).toBeNull();
  });

  test('nobody else gets to a bench, and what is no entry is refused', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const ann = await new Client(server.base).signIn('ann');
    const { id } = await begin(ben);
    for (const cookie of [ann.cookie, instructor.cookie, '', 'contactum.session=s%3Aforged.forged'])
      await expect(LiveClient.open(server.base, cookie, id)).rejects.toThrow(/40[134]/);
    const live = await LiveClient.open(server.base, ben.cookie, id);
    await until(() => Promise.resolve(live.frame));
    expect((await live.act({ press: 'S99' })).answer.kind).toBe('refused');
    // Another window of the same student sees the notebook as it is.
    const window = await LiveClient.open(server.base, ben.cookie, id);
    const shape = await until(() => Promise.resolve(window.news.find(({ kind }) => kind === 'shape')));
    expect(shape.notes.map(({ text }: any) => text)).toEqual([expect.stringContaining('refused')]);
    window.close();
    live.close();
    // What is ordered while nobody is at the bench waits for them.
    const order = { searches: [id], what: { fault: { 'coil-open': 'KM1' } } };
    expect((await instructor.ask('POST', '/searches/inject', order)).body[0]).toMatchObject({ waiting: 1 });
    const again = await LiveClient.open(server.base, ben.cookie, id);
    const row = async () =>
      (await instructor.ask('GET', `/classes/${classId}/searches`)).body.find((one: any) => one.id === id);
    await until(async () => (await row()).waiting === 0);
    expect((await row()).faults).toContain('coil of KM1 open');
    again.close();
    for (const path of [`/searches/${id}/watch`, `/classes/${classId}/searches`])
      expect((await ben.ask('GET', path)).status).toBe(403);
    expect(
      (await ben.ask('POST', '/searches/inject', { searches: [id], what: { fault: { 'coil-open': 'KM1' } } }))
        .status,
    ).toBe(403);
  });

  test('who leaves and comes back at once goes on, and what is ordered meanwhile is done once', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const { id } = await begin(ben);
    const row = async () =>
      (await instructor.ask('GET', `/classes/${classId}/searches`)).body.find((one: any) => one.id === id);
    const faults = [
      { 'contact-stuck-open': 'S2:13-14' },
      { 'open-wire': 'F2:96 S1:21' },
      { 'contact-stuck-open': 'S1:21-22' },
      { 'contact-stuck-open': 'KM1:13-14' },
    ];
    const before = (await row()).faults.length;
    let live = await LiveClient.open(server.base, ben.cookie, id);
    await until(() => Promise.resolve(live.frame));
    for (let turn = 0; turn < 12; turn += 1) {
      const fault = faults[turn];
      const ordered = fault
        ? instructor.ask('POST', '/searches/inject', { searches: [id], what: { fault } })
        : Promise.resolve(null);
      // A page that is loaded again: the old line ends as the new one opens.
      live.close();
      live = await LiveClient.open(server.base, ben.cookie, id);
      await ordered;
      await until(() => Promise.resolve(live.frame ?? live.isClosed));
      await until(async () => (await row()).waiting === 0 || live.isClosed);
      expect((await live.act({ close: 'G1' })).answer?.kind).toBe('done');
      await live.act({ open: 'G1' });
      expect(live.isClosed).toBe(false);
    }
    expect((await row()).faults).toHaveLength(before + faults.length);
    // The same while the database is slow: the last entry of the old line is written, the new line has the
    // bench, and only then the old one is put away.
    const slow = new pg.Client({ connectionString: database });
    await slow.connect();
    await slow.query('begin');
    await slow.query('select 1 from searches where id = $1 for update', [id]);
    const pause = () => new Promise((resolve) => setTimeout(resolve, 300));
    live.send({ kind: 'act', stimulus: { close: 'G1' } });
    await pause();
    live.close();
    live = await LiveClient.open(server.base, ben.cookie, id);
    await pause();
    await slow.query('rollback');
    await slow.end();
    await until(() => Promise.resolve(live.frame ?? live.isClosed));
    await pause();
    expect((await live.act({ open: 'G1' })).answer?.kind).toBe('done');
    expect(live.isClosed).toBe(false);
    live.close();
  });

  test('two faults that look alike give the same messages, byte for byte and in the same number', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const told: string[][] = [];
    for (const fault of [{ 'open-wire': 'F2:96 S1:21' }, { 'contact-stuck-open': 'S1:21-22' }]) {
      const { id } = await begin(ben);
      const live = await LiveClient.open(server.base, ben.cookie, id);
      await until(() => Promise.resolve(live.frame));
      expect((await instructor.ask('POST', '/searches/clear', { searches: [id] })).status).toBe(201);
      expect(
        (await instructor.ask('POST', '/searches/inject', { searches: [id], what: { fault } })).status,
      ).toBe(201);
      await until(async () => {
        const [one] = (await instructor.ask('GET', `/classes/${classId}/searches`)).body.filter(
          (row: any) => row.id === id,
        );
        return one?.faults.join() === describeFault(readFault(fault));
      });
      const from = live.messages.length;
      await live.act({ close: 'G1' });
      await live.push('S2');
      await live.act({ open: 'G1' });
      await until(() => Promise.resolve(!live.frame.supplyOn && live.frame.events.length === 0));
      // Moments differ from run to run; everything else is what is perceived.
      const bare = live.messages
        .slice(from)
        .map(({ text }) => text.replace(/"t":[\d.]+/g, '"t":0').replace(/"n":\d+/, '"n":0'));
      told.push([...new Set(bare)]);
      live.close();
    }
    expect(told[0]!.sort()).toEqual(told[1]!.sort());
  });

  test('a bench whose process is killed goes on in another one, at the moment to which it had come', async () => {
    const other = await startProcess(database);
    const ann = await new Client(server.base).signIn('ann');
    const { id } = await begin(ann);
    const dying = await startProcess(database);
    const live = await LiveClient.open(dying.base, ann.cookie, id);
    await until(() => Promise.resolve(live.frame));
    await live.act({ close: 'G1' });
    await live.act({ press: 'S2' });
    await until(() => Promise.resolve(live.frame.t > 1.5));
    const { frame } = live;
    await dying.kill('SIGKILL');
    const begun = Date.now();
    const again = await LiveClient.open(other.base, ann.cookie, id);
    await until(() => Promise.resolve(again.frame));
    expect(Date.now() - begun).toBeLessThan(5_000);
    const [first] = again.news.filter(({ kind }) => kind === 'frame');
    // Written down four times a second: nothing that was acknowledged is lost, and hardly a moment.
    expect(Math.abs(first.frame.t - frame.t)).toBeLessThan(1);
    expect(first.frame.supplyOn).toBe(true);
    expect(first.frame.states).toEqual(frame.states);
    expect(again.news.find(({ kind }) => kind === 'shape').notes).toHaveLength(2);
    again.close();
    await other.kill('SIGTERM');
  });

  test('practice without end: another one at a degree, the same for the same seed', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const orders: string[] = [];
    for (const seed of [7, 7]) {
      const { status, body } = await ben.ask('POST', '/practice', {
        exerciseId: 'brine-pump-three-wire',
        degree: 2,
        seed,
      });
      expect(status).toBe(201);
      const view = await ben.ask('GET', `/searches/${body.id}`);
      orders.push(view.body.order.complaint);
      const ended = await ben.ask('POST', `/searches/${body.id}/end`, {});
      expect(ended.body).toMatchObject({ contactum: 'report/1', passed: false });
    }
    expect(orders[0]).toBe(orders[1]);
    expect((await ben.ask('POST', '/practice', { exerciseId: 'no-such', degree: 1 })).status).toBe(400);
  });

  test('observations of a physical board get the causes that agree with them', async () => {
    const ben = await new Client(server.base).signIn('ben');
    const observations = [
      { steps: [{ press: 'S2' }], see: { KM1: 'in' } },
      { steps: [{ press: 'S2' }, { release: 'S2' }], see: { KM1: 'out' } },
      { dead: true, steps: [], meter: { mode: 'ohms', between: ['KM1:14', 'S2:14'] }, read: 'open' },
    ];
    const { status, body } = await ben.ask('POST', `/exercises/${ID}/diagnose`, { observations });
    expect(status).toBe(200);
    expect(body.candidates.map(({ title }: any) => title)).toEqual(['wire KM1:14 to S2:14 broken']);
    const wrong = await ben.ask('POST', `/exercises/${ID}/diagnose`, {
      observations: [{ steps: [], see: { KM9: 'in' } }],
    });
    expect(wrong).toMatchObject({ status: 400, body: { error: { type: 'invalid' } } });
  });

  // Last: from here on everybody is assessed on this board.
  test('in an assessment its bench ends with the sitting, whoever ends it', async () => {
    const set = await instructor.ask('POST', `/classes/${classId}/assessments`, {
      title: 'Fault finding',
      tasks: [{ kind: 'exercise', exerciseId: ID, weight: 1, mustPass: true }],
      minutes: 30,
      pass: { sum: null, each: false },
    });
    expect(set.status).toBe(201);
    const { id, sittings } = set.body;
    const invigilate = (act: object) => instructor.ask('POST', `/assessments/${id}/invigilation`, act);
    await invigilate({ do: 'start' });
    const ends: Record<string, (student: Client) => Promise<unknown>> = {
      ann: (student) => student.ask('POST', `/sittings/${id}/hand-in`, {}),
      ben: () => {
        const row = sittings.find((one: any) => one.student.login === 'ben');
        return invigilate({ do: 'void', student: row.student.id, why: 'taken ill' });
      },
    };
    for (const [login, end] of Object.entries(ends)) {
      const student = await new Client(server.base).signIn(login);
      const { attemptId } = (await student.ask('POST', `/sittings/${id}/tasks/task-1`, {})).body;
      const search = (await student.ask('GET', `/attempts/${attemptId}/search`)).body.id;
      const live = await LiveClient.open(server.base, student.cookie, search);
      await until(() => Promise.resolve(live.frame));
      // What was sent just before the end is written down still.
      live.send({ kind: 'lock', on: true });
      await until(() => Promise.resolve(live.news.some(({ kind }) => kind === 'answer')));
      await end(student);
      await until(() => Promise.resolve(live.isClosed));
      const { notes } = (await instructor.ask('GET', `/searches/${search}/watch`)).body;
      expect(notes.map(({ kind }: any) => kind)).toContain('lock');
    }
  });
});
