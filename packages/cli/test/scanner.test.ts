import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from '@jest/globals';
import {
  jointsOfBench,
  readingsFor,
  referenceBench,
  seededNumbers,
  terminalsOf,
  type Bench,
} from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { scanCommand } from '../src/scan.js';
import { Scanner } from '../src/scanner/client.js';
import { boxPage } from '../src/scanner/page.js';
import { SimulatedBox } from '../src/scanner/simulated.js';
import { startScanner } from '../src/scanner/stand-in.js';
import { Watch, type Change } from '../src/scanner/watch.js';
import { command, ownFolder } from './help.js';

const exercise = shippedExercise('brine-pump-three-wire')!;
const pump = referenceBench(exercise);
const { folder, file } = ownFolder('scanner');
const board = file('pump.bench.json', pump);

const asOne = (lists: readonly (readonly string[])[]): string =>
  JSON.stringify(lists.map((list) => [...list].sort()).sort());

const ends: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const end of ends.splice(0).reverse()) await end();
});

async function boxOf(bench: Bench, now?: () => number): Promise<{ box: SimulatedBox; address: string }> {
  const box = new SimulatedBox({ ...bench, wires: [] }, 1, now);
  box.plug(bench.wires);
  const port = await box.listen();
  ends.push(() => box.stop());
  return { box, address: `127.0.0.1:${port}` };
}

/** A person who works the box as they are asked to. */
function handOn(box: SimulatedBox) {
  const steps = [...readingsFor(box.bench)];
  const asked: string[] = [];
  return {
    asked,
    hand: async (words: string): Promise<void> => {
      asked.push(words);
      box.work(steps.shift()!);
      return Promise.resolve();
    },
  };
}

interface Found {
  readonly joined: string[][];
  readonly doubtful: { between: string[]; kind: string }[];
  readonly nets: object[];
  readonly poor: string[][];
  readonly unlike: { contact: string }[];
  readonly faults: string[];
}

describe('a real, dead board', () => {
  test('is read with every device worked; what was found is wired', async () => {
    const { box, address } = await boxOf(pump);
    const { asked, hand } = handOn(box);
    const out = join(folder, 'read.joints.json');
    const { holds, json } = await scanCommand({ board, address, work: true, out }, hand);
    expect(holds).toBe(true);
    expect(asked[0]).toContain('locked off and proved dead');
    expect(asked).toHaveLength(readingsFor(pump).length);
    const { joined, nets } = json as Found;
    expect(asOne(joined)).toBe(asOne(jointsOfBench(pump).joined));
    expect(nets).toEqual([]);

    const bare = file('bare.bench.json', { ...pump, wires: [] });
    const wired = join(folder, 'wired.bench.json');
    const { status } = await command('import', out, '--as', 'joints', '--into', bare, '--out', wired);
    expect(status).toBe(0);
    const rewired = JSON.parse(readFileSync(wired, 'utf8')) as Bench;
    expect(asOne(jointsOfBench(rewired).joined)).toBe(asOne(jointsOfBench(pump).joined));
  });

  test('at rest is told with what closed contacts may join, and what to work to know', async () => {
    const { address } = await boxOf(pump);
    const out = join(folder, 'rest.joints.json');
    const { status, out: told } = await command('scan', '--board', board, '--address', address, '--out', out);
    expect(status).toBe(1);
    expect(told).toContain('through Q1:3-4; to know, switch off Q1');
    expect(told).toContain('nothing is written');
    expect(() => readFileSync(out)).toThrow();
  });

  test('with one reading in twenty wrong the nets are the same', async () => {
    const { box, address } = await boxOf(pump);
    box.set({ noise: 0.05, passMs: 1 });
    const { hand } = handOn(box);
    const { json } = await scanCommand({ board, address, work: true }, hand);
    const { joined, doubtful } = json as Found;
    expect(doubtful).toEqual([]);
    expect(asOne(joined)).toBe(asOne(jointsOfBench(pump).joined));
  });

  test('a loose ferrule and a poor contact are named; nothing is written', async () => {
    const { box, address } = await boxOf(pump);
    box.set({ passMs: 1 });
    box.plug(
      pump.wires.map((wire) => {
        const ends = `${wire.from} ${wire.to}`;
        return { ...wire, loose: ends.includes('KM1:A2'), poor: ends.includes('M1:PE') };
      }),
    );
    const { hand } = handOn(box);
    const { holds, json, words } = await scanCommand({ board, address, work: true }, hand);
    const { doubtful, poor } = json as Found;
    expect(holds).toBe(false);
    expect(doubtful[0]).toMatchObject({ between: ['G1:N', 'KM1:A2'], kind: 'flickers' });
    expect(poor).toEqual([['G1:PE', 'M1:PE']]);
    expect(words).toContain('a poor joint');
  });

  test('a device that is not worked as asked is seen', async () => {
    const { box, address } = await boxOf(pump);
    const steps = readingsFor(pump);
    let k = 0;
    const lazy = async (): Promise<void> => {
      // The contactor is never pushed in.
      box.work(steps[k]!.filter((step) => !('pushIn' in step)));
      k += 1;
      return Promise.resolve();
    };
    const { holds, json } = await scanCommand({ board, address, work: true }, lazy);
    expect(holds).toBe(false);
    expect((json as Found).unlike.map(({ contact }) => contact)).toContain('KM1:13-14');
  });

  test('with a supply on it nothing is read', async () => {
    const { box, address } = await boxOf(pump);
    box.set({ supply: true });
    const { status, out } = await command('scan', '--board', board, '--address', address, '--json');
    expect(status).toBe(1);
    expect((JSON.parse(out) as Found).faults).toEqual([
      'a supply is present on the board: nothing is driven',
    ]);
  });

  test('a supply that comes while the board is worked ends the reading', async () => {
    const { box, address } = await boxOf(pump);
    const { hand } = handOn(box);
    let asked = 0;
    const careless = async (words: string): Promise<void> => {
      asked += 1;
      box.set({ supply: asked === 2 });
      return hand(words);
    };
    const { holds, json } = await scanCommand({ board, address, work: true }, careless);
    expect([holds, asked]).toEqual([false, 2]);
    expect((json as Found).faults).toEqual(['a supply is present on the board: nothing is driven']);
  });

  test('no box, a box that died, another board, and what is missing are each said in one line', async () => {
    const { box, address } = await boxOf(pump);
    const none = await command('scan', '--board', board, '--address', '127.0.0.1:1');
    expect([none.status, none.error]).toEqual([2, expect.stringContaining('cannot be reached')]);
    const other = file('lamp.bench.json', referenceBench(shippedExercise('button-lamp-no')!));
    const strange = await command('scan', '--board', other, '--address', address);
    expect([strange.status, strange.error]).toEqual([2, expect.stringContaining('the box has a terminal')]);
    box.set({ dead: true });
    const dead = await command('scan', '--board', board, '--address', address);
    expect([dead.status, dead.error]).toEqual([2, expect.stringContaining('(scanner): Timed out')]);
    for (const [args, said] of [
      [['--address', address], '--board FILE'],
      [['--board', board], '--address HOST'],
    ] as const)
      expect((await command('scan', ...args)).error).toContain(said);
  });
});

test('the permit relay closes while the heartbeat goes on, and opens at any change of a lead', async () => {
  let now = 0;
  const { box, address } = await boxOf(pump, () => now);
  const scanner = await Scanner.open(address);
  ends.push(() => scanner.close());
  await scanner.permit(true);
  expect(await scanner.isPermitted()).toBe(false);
  await scanner.beat(1);
  expect(await scanner.isPermitted()).toBe(true);
  now += 2_500;
  expect(await scanner.isPermitted()).toBe(false);
  await scanner.beat(2);
  expect(await scanner.isPermitted()).toBe(true);
  box.plug(pump.wires.slice(1));
  await scanner.beat(3);
  expect(await scanner.isPermitted()).toBe(false);
});

describe('the page of the simulated board', () => {
  test('plugs leads, holds devices and says what it does not have', async () => {
    const { modbus, page, stop } = await startScanner({ board, port: 0, pagePort: 0 });
    ends.push(stop);
    const put = async (path: string, body: unknown) => {
      const answer = await fetch(`${page}${path}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      return { status: answer.status, body: (await answer.json()) as { leads?: unknown[]; error?: string } };
    };
    expect((await put('leads', [{ from: 'G1:N', to: 'KM1:A2' }])).body.leads).toHaveLength(1);
    expect(await put('leads', [{ from: 'G1:N', to: 'KM9:1' }])).toEqual({
      status: 400,
      body: { error: 'leads[0].to: "KM9:1" is not a terminal of this bench' },
    });
    expect((await put('steps', [{ press: 'S9' }])).status).toBe(400);
    expect((await put('steps', [{ press: 'S1' }])).status).toBe(200);
    const scanner = await Scanner.open(modbus);
    ends.push(() => scanner.close());
    const { joined } = await scanner.scan();
    expect(joined.some((net) => net.join() === 'G1:N,KM1:A2')).toBe(true);
    // Stop is held: its contact is open.
    expect(joined.some((net) => net.join() === 'S1:21,S1:22')).toBe(false);
    const text = await (await fetch(page)).text();
    expect(text).toContain('no safety function');
    expect(boxPage(new SimulatedBox(pump))).toBeInstanceOf(Function);
  });

  test('terminals stand in the order of the board', async () => {
    const { address } = await boxOf(pump);
    const scanner = await Scanner.open(address);
    ends.push(() => scanner.close());
    expect(await scanner.terminals()).toEqual(terminalsOf(pump));
    expect(await scanner.head()).toMatchObject({ serial: 'SIMULATED', faults: [] });
  });
});

describe('a board that is watched', () => {
  const names = ['A:1', 'A:2', 'B:1', 'B:2', 'C:1'] as const;
  const passOf = (...nets: readonly (readonly number[])[]): boolean[][] =>
    names.map((_, a) =>
      names.map((_name, b) => a !== b && nets.some((net) => net.includes(a) && net.includes(b))),
    );

  test('tells a joint that came or went after four passes, once for two nets', () => {
    const watch = new Watch(names, [['A:1', 'A:2']]);
    const [before, after] = [passOf([0, 1]), passOf([0, 1, 2])];
    expect(watch.take(before)).toEqual([]);
    expect([1, 2, 3].flatMap(() => watch.take(after))).toEqual([]);
    expect(watch.take(after)).toEqual([{ kind: 'joined', between: ['A:1', 'B:1'] }]);
    expect(watch.take(after)).toEqual([]);
    expect([1, 2, 3, 4].flatMap(() => watch.take(passOf([1, 2])))).toEqual([
      { kind: 'parted', between: ['A:1', 'A:2'] },
    ]);
  });

  test('wrong readings in between change nothing, and a change that they delay comes whole', () => {
    const random = seededNumbers(9);
    const watch = new Watch(names, [['A:1', 'A:2']]);
    const noisy = (pass: boolean[][]) => pass.map((row) => row.map((one) => one !== random() < 0.05));
    const told = (pass: boolean[][], passes: number) =>
      Array.from({ length: passes }, () => watch.take(noisy(pass))).flat();
    expect(told(passOf([0, 1]), 200)).toEqual([]);
    expect(told(passOf([0, 1], [2, 3, 4]), 30).map(({ kind }) => kind)).toEqual(['joined', 'joined']);
    expect(told(passOf([0, 1], [2, 3, 4]), 200)).toEqual([]);
  });

  test('a lead that is plugged while it is watched is told', async () => {
    const { box, address } = await boxOf({ ...pump, wires: [] });
    box.set({ passMs: 1 });
    const scanner = await Scanner.open(address);
    ends.push(() => scanner.close());
    const scan = await scanner.scan();
    const over = new AbortController();
    const changes: Change[] = [];
    const following = scanner.follow(
      scan,
      (change) => {
        changes.push(change);
        over.abort();
      },
      over.signal,
    );
    box.plug([{ from: 'G1:N', to: 'KM1:A2' }]);
    await following;
    expect(changes).toEqual([{ kind: 'joined', between: ['G1:N', 'KM1:A2'] }]);
  });

  test('by the command for some seconds, which says how many it may be', async () => {
    const { address } = await boxOf(pump);
    const { out } = await command('scan', '--board', board, '--address', address, '--follow', '1', '--json');
    expect(JSON.parse(out)).toMatchObject({ changes: [] });
    const wrong = await command('scan', '--board', board, '--address', address, '--follow', 'long');
    expect([wrong.status, wrong.error]).toEqual([2, expect.stringContaining('--follow')]);
  });
});
