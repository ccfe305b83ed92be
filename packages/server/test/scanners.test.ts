import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { WebSocket } from 'ws';
import { readingsFor, referenceBench, type Bench, type Wire } from '@contactum/core';
import { Gateway } from '../../cli/src/scanner/gateway.js';
import { SimulatedBox } from '../../cli/src/scanner/simulated.js';
import { exercise } from '../../core/test/help.js';
import { College, connect, until, wire, type Client } from './help.js';

const pump = exercise('brine-pump-three-wire');
const board: Bench = { ...referenceBench(pump), wires: [] };

let college: College;
const ends: (() => Promise<void> | void)[] = [];
beforeAll(async () => {
  college = await College.started();
});
afterAll(async () => {
  for (const end of ends.reverse()) await end();
  await college.server.kill('SIGTERM');
});

interface Bench1 {
  readonly id: string;
  readonly box: SimulatedBox;
  readonly token: string;
  readonly stop: () => Promise<void>;
}

/** A simulated board, its scanner and its gateway, connected to the server. */
async function benchNamed(name: string, of: Bench = board): Promise<Bench1> {
  const { body } = await college.first.ask('POST', '/scanners', { name });
  const box = new SimulatedBox(of);
  const port = await box.listen();
  const stop = new AbortController();
  const running = new Gateway({
    address: `127.0.0.1:${port}`,
    server: college.server.base,
    token: body.token,
    until: stop.signal,
  }).run();
  const end = async () => {
    stop.abort();
    await running;
  };
  ends.push(() => box.stop(), end);
  await until(async () => {
    const found = await inList(body.id);
    return found?.online && found.faults.length === 0;
  });
  return { id: body.id, box, token: body.token, stop: end };
}

const inList = async (id: string, client = college.first): Promise<any> =>
  ((await client.ask('GET', '/scanners')).body as { id: string }[]).find((one) => one.id === id);

/** What somebody who works at a board is told of it. */
async function lineOf(client: Client, id: string): Promise<{ readonly news: any[]; close: () => void }> {
  const news: any[] = [];
  const socket = new WebSocket(`${client.base.replace('http', 'ws')}/api/scanners/${id}/live`, {
    headers: { cookie: client.cookie, origin: client.base },
  });
  socket.on('message', (data: Buffer) => news.push(JSON.parse(data.toString('utf8'))));
  await new Promise((resolve, reject) => socket.once('open', resolve).once('error', reject));
  ends.push(() => socket.terminate());
  return { news, close: () => socket.terminate() };
}

/** A new attempt, in a class of its own. */
async function attemptOf(client: Client): Promise<string> {
  const { body: group } = await college.first.ask('POST', '/classes', { name: 'Benches' });
  const login = client === college.ann ? 'ann' : 'ben';
  await college.first.ask('POST', `/classes/${group.id}/members`, { login });
  await client.ask('POST', `/invitations/${group.id}`, { yes: true });
  const { body: setting } = await college.first.ask('POST', `/classes/${group.id}/assignments`, {
    exerciseId: pump.id,
  });
  const { body } = await client.ask('POST', `/assignments/${setting.id}/attempts`, {});
  if (!body.id) throw new Error(JSON.stringify([group, setting, body]));
  return body.id as string;
}

const asOne = (lists: readonly (readonly string[])[]): string =>
  JSON.stringify(lists.map((list) => [...list].sort()).sort());

/** Works every device of a board and lets each be read; leaves it at rest. */
async function workThrough(client: Client, { id, box }: Bench1): Promise<void> {
  const { news, close } = await lineOf(client, id);
  const isRead = async () => {
    const wanted = asOne(box.joinedNow());
    await until(async () => Promise.resolve(asOne(news.at(-1)?.joined ?? []) === wanted));
  };
  for (const steps of readingsFor(board)) {
    // At once: what was told before the hand was there is not taken for it.
    box.work(steps);
    const { status, body } = await client.ask('POST', `/scanners/${id}/worked`, { steps });
    if (status !== 201) throw new Error(JSON.stringify(body));
  }
  box.work([]);
  await isRead();
  close();
}

describe('a physical board that is connected to an attempt', () => {
  test('what is plugged is told to whoever works at it, and to nobody else', async () => {
    const bench = await benchNamed('Bench 1');
    const attempt = await attemptOf(college.ann);
    const connected = await college.ann.ask('POST', `/scanners/${bench.id}/connect`, { attemptId: attempt });
    expect(connected).toMatchObject({ status: 200, body: { online: true, faults: [] } });
    expect(asOne(connected.body.joined)).toBe(asOne(bench.box.joinedNow()));
    const { news } = await lineOf(college.ann, bench.id);
    const [first] = pump.reference as readonly Wire[];
    bench.box.plug([first!]);
    const there = asOne(bench.box.joinedNow());
    expect(there).not.toBe(asOne(connected.body.joined));
    await until(async () => Promise.resolve(asOne(news.at(-1)?.joined ?? []) === there));
    // A classmate can neither look on nor take the board; the instructor sees who works at it.
    await expect(lineOf(college.ben, bench.id)).rejects.toThrow('404');
    const bens = await attemptOf(college.ben);
    const taken = await college.ben.ask('POST', `/scanners/${bench.id}/connect`, { attemptId: bens });
    expect(taken).toMatchObject({
      status: 409,
      body: { error: { message: expect.stringContaining('Somebody else') } },
    });
    expect(await inList(bench.id, college.ben)).toMatchObject({ usedBy: { attemptId: '', student: null } });
    expect(await inList(bench.id)).toMatchObject({ usedBy: { attemptId: attempt, student: 'Person ann' } });
    // Another instructor's class: it is not theirs to free.
    expect((await college.second.ask('POST', `/scanners/${bench.id}/leave`, {})).status).toBe(403);
    expect((await college.first.ask('POST', `/scanners/${bench.id}/leave`, {})).status).toBe(204);
    expect((await college.ben.ask('POST', `/scanners/${bench.id}/connect`, { attemptId: bens })).status).toBe(
      200,
    );
    await until(async () => Promise.resolve(bench.box.state.leads.length === 1));
    await college.ben.ask('POST', `/scanners/${bench.id}/leave`, {});
  });

  test('a strange token, a strange board and a box that dies are refused or told', async () => {
    const answered = await new Promise<string>((resolve) => {
      const socket = new WebSocket(`${college.server.base.replace('http', 'ws')}/api/scanners/gateway`, {
        headers: { authorization: `Bearer ${'x'.repeat(43)}` },
      });
      socket.once('open', () => resolve('open')).once('error', (error) => resolve(error.message));
    });
    expect(answered).toContain('401');
    const other = await benchNamed('Bench 2', referenceBench(exercise('sluice-gate-jog-relay')));
    const attempt = await attemptOf(college.ann);
    const strange = await college.ann.ask('POST', `/scanners/${other.id}/connect`, { attemptId: attempt });
    expect(strange).toMatchObject({
      status: 409,
      body: { error: { message: expect.stringContaining('another board') } },
    });
    other.box.set({ supply: true });
    await until(async () => (await inList(other.id)).faults[0]?.includes('supply'));
    other.box.set({ supply: false });
    await until(async () => (await inList(other.id)).faults.length === 0);
    other.box.set({ dead: true });
    await until(async () => (await inList(other.id)).faults[0]?.includes('does not answer'));
    await other.stop();
    await until(async () => !(await inList(other.id)).online);
  });

  test('the permit relay closes after a whole reading, the proof and the instructor, and opens at any change', async () => {
    const bench = await benchNamed('Bench 3');
    const attempt = await attemptOf(college.ann);
    await college.ann.ask('POST', `/scanners/${bench.id}/connect`, { attemptId: attempt });
    const wires = pump.reference as readonly Wire[];
    bench.box.plug(wires);
    await wire(college.ann, attempt, wires);
    const permit = () => college.first.ask('POST', `/attempts/${attempt}/permission`, {});
    const isClosed = () => bench.box.state.permit.closed;
    // Not read with its devices worked: an instructor's word alone closes nothing.
    expect((await permit()).status).toBe(201);
    await workThrough(college.ann, bench);
    expect(isClosed()).toBe(false);
    await permit();
    await until(async () => Promise.resolve(isClosed()));
    expect(await inList(bench.id)).toMatchObject({ permit: { isGiven: true } });
    // A lead is pulled: open before anybody could say so.
    bench.box.plug(wires.slice(1));
    expect(isClosed()).toBe(false);
    bench.box.plug(wires);
    await until(async () => (await inList(bench.id)).permit.isGiven === false);
    // The same wiring again is another reading: permission is wanted anew.
    await permit();
    await until(async () => Promise.resolve(isClosed()));
    // A gateway that is gone counts no heartbeat.
    await bench.stop();
    await until(async () => Promise.resolve(!isClosed()));
  });

  test('a board with a short circuit, or wired otherwise than the attempt says, keeps its relay open', async () => {
    const bench = await benchNamed('Bench 4');
    const attempt = await attemptOf(college.ben);
    await college.ben.ask('POST', `/scanners/${bench.id}/connect`, { attemptId: attempt });
    const wires = pump.reference as readonly Wire[];
    const permitted = async () => {
      await college.first.ask('POST', `/attempts/${attempt}/permission`, {});
      const { permit } = await inList(bench.id);
      return permit.isGiven as boolean;
    };
    await wire(college.ben, attempt, wires);
    bench.box.plug(wires.slice(1));
    await workThrough(college.ben, bench);
    expect(await permitted()).toBe(false);
    const short: Wire = { from: 'KM1:2', to: 'KM1:4' };
    bench.box.plug([...wires, short]);
    const laid = await college.ben.ask('POST', `/attempts/${attempt}/log`, connect(wires.length + 1, short));
    expect(laid.status).toBe(201);
    await workThrough(college.ben, bench);
    expect(await permitted()).toBe(false);
  });
});
