import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  JOINT_CLASSES,
  Settling,
  Simulation,
  Solver,
  UnionFind,
  boardSeen,
  compile,
  deadState,
  isClosed,
  jointsOfBench,
  leadsFromReadings,
  readClasses,
  readHead,
  readNames,
  readRows,
  readingsFor,
  readsOf,
  referenceBench,
  registersOf,
  seededNumbers,
  shuffled,
  terminalsOf,
  wiredTogether,
  wiringFromJoints,
  type Bench,
  type BoardReading,
  type JointClass,
  type Pass,
  type Stimulus,
  type Wire,
} from '@contactum/core';
import { readDocument, readJoints } from '@contactum/core/documents';
import { shippedExercises } from '@contactum/core/exercises';
import { bench, exercise, longList, longRuns } from './help.js';

const BOARDS = shippedExercises()
  .filter(({ task = 'wire' }) => task === 'wire')
  .map(referenceBench);
const pump = referenceBench(exercise('brine-pump-three-wire'));

/** Leads at random, as a beginner may lay them. */
function anyWires(board: Bench, random: () => number, count: number): Wire[] {
  const refs = terminalsOf(board);
  const pick = () => refs[Math.floor(random() * refs.length)]!;
  return Array.from({ length: count }, () => ({ from: pick(), to: pick() })).filter(
    ({ from, to }) => from !== to,
  );
}

/** Lists as one text, in whatever order they stand. */
const asOne = (lists: readonly (readonly (string | number)[])[]): string =>
  JSON.stringify(lists.map((list) => list.map(String).sort()).sort());

/** Which terminals of a list of leads are joined, by walking from each: no union, no circuit. */
function walked(refs: readonly string[], pairs: readonly (readonly [string, string])[]): string[][] {
  const next = new Map(refs.map((ref) => [ref, new Set<string>()]));
  for (const [a, b] of pairs) {
    next.get(a)?.add(b);
    next.get(b)?.add(a);
  }
  const seen = new Set<string>();
  return refs.flatMap((start) => {
    if (seen.has(start)) return [];
    const net: string[] = [];
    const open = [start];
    for (let one = open.pop(); one !== undefined; one = open.pop()) {
      if (seen.has(one)) continue;
      seen.add(one);
      net.push(one);
      open.push(...(next.get(one) ?? []));
    }
    return net.length > 1 ? [net] : [];
  });
}

describe('leads that make given joints', () => {
  test('join exactly what is listed, by the fewest edits of what was there', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
        const random = seededNumbers(seed);
        const board = BOARDS[seed % BOARDS.length]!;
        const wanted = jointsOfBench({ ...board, wires: anyWires(board, random, 20) });
        const before = { ...board, wires: anyWires(board, random, 12) };
        const rewired = wiringFromJoints(before, wanted.joined);
        if (!rewired.ok) throw new Error(JSON.stringify(rewired.problems));
        expect(asOne(jointsOfBench(rewired.bench).joined)).toBe(asOne(wanted.joined));
        // A lead goes only where it joins what is not joined; what is laid closes no ring.
        const listOf = new Map(wanted.joined.flatMap((list, k) => list.map((ref) => [ref as string, k])));
        const serves = ({ from, to }: Wire) =>
          listOf.get(from) !== undefined && listOf.get(from) === listOf.get(to);
        expect(rewired.cut).toEqual(before.wires.filter((wire) => !serves(wire)));
        const nets = (wires: readonly Wire[]) => {
          const circuit = compile({ ...board, wires });
          return new Set(circuit.terminals.map((_, k) => wiredTogether(circuit).find(k))).size;
        };
        const kept = before.wires.filter(serves);
        expect(rewired.laid).toHaveLength(nets(kept) - nets(rewired.bench.wires));
      }),
      { numRuns: longRuns(200) },
    );
  });

  test('a board that is wired so already stays as it is; rings of leads stay too', () => {
    for (const board of BOARDS)
      expect(wiringFromJoints(board, jointsOfBench(board).joined)).toMatchObject({ cut: [], laid: [] });
    const ring = { ...pump, wires: [...pump.wires, pump.wires[0]!] };
    expect(wiringFromJoints(ring, jointsOfBench(pump).joined)).toMatchObject({ cut: [], laid: [] });
  });

  test('no more than two leads go under a screw where that can be', () => {
    for (const board of BOARDS) {
      const rewired = wiringFromJoints({ ...board, wires: [] }, jointsOfBench(board).joined);
      if (!rewired.ok) throw new Error('refused');
      const ends = rewired.laid.flatMap(({ from, to }) => [from, to]);
      for (const ref of ends) expect(ends.filter((one) => one === ref).length).toBeLessThanOrEqual(2);
    }
  });

  test('bars join by themselves; lists that a bar joins, unknown terminals and a board’s own leads are named', () => {
    const bar = bench(
      [
        { tag: 'X1', type: 'busbar', options: { count: 3 } },
        { tag: 'S1', type: 'pushbutton', options: { contacts: ['NC 21-22'] } },
      ],
      '',
    );
    const [a, b, c] = terminalsOf(bar).filter((ref) => ref.startsWith('X1:'));
    expect(wiringFromJoints(bar, [[a!, 'S1:21']])).toMatchObject({ laid: [{}], cut: [] });
    const both = wiringFromJoints(bar, [
      [a!, 'S1:21'],
      [b!, 'S1:22'],
    ]);
    expect(both.ok ? [] : both.problems.map(({ path }) => path)).toEqual(['joined[1]']);
    expect(wiringFromJoints(bar, [[a!, b!, c!]])).toMatchObject({ laid: [], cut: [] });
    const strange = wiringFromJoints(pump, [['G1:L1', 'KM9:1' as never]]);
    expect(strange.ok ? [] : strange.problems).toEqual([
      { path: 'joined[0][1]', message: '"KM9:1" is not a terminal of this bench' },
    ]);
    const fixed = wiringFromJoints(pump, [], 1);
    expect(fixed.ok ? [] : fixed.problems.map(({ path }) => path)).toEqual(['joined']);
    expect(wiringFromJoints(pump, [], 0)).toMatchObject({ laid: [], bench: { wires: [] } });
  });

  test('the document is read, and refused with its place', () => {
    const joints = jointsOfBench(pump);
    expect(readJoints(JSON.parse(JSON.stringify(joints)))).toEqual({ ok: true, value: joints });
    expect(readDocument(joints)).toEqual({ ok: true, value: { kind: 'joints' } });
    const read = readJoints({ contactum: 'joints/1', joined: [['G1:L1', 'no terminal']] });
    expect(read.ok ? [] : read.problems.map(({ path }) => path)).toEqual(['joined[0][1]']);
  });
});

/** Passes over a board of which some nets are joined; `wrongly` changes single readings. */
const passOver = (nets: readonly (readonly number[])[], count: number, wrongly: () => boolean): Pass => {
  const sets = new UnionFind(count);
  for (const net of nets) for (const one of net) sets.union(net[0]!, one);
  return Array.from({ length: count }, (_, a) =>
    Array.from({ length: count }, (_b, b) => (a !== b && sets.find(a) === sets.find(b)) !== wrongly()),
  );
};

/** Nets of two to eight terminals of a board, the rest joined to nothing. */
function anyNets(count: number, random: () => number): number[][] {
  const left = shuffled(
    Array.from({ length: count }, (_, k) => k),
    random,
  );
  const nets: number[][] = [];
  while (left.length > count / 3) nets.push(left.splice(0, 2 + Math.floor(7 * random())));
  return nets;
}

describe('passes with noise', () => {
  const MOST = 40;

  test('one reading in twenty wrong: the same nets, or what is not sure is named', () => {
    for (const seed of longList(Array.from({ length: 1000 }, (_, k) => k))) {
      const random = seededNumbers(seed);
      const count = 20 + Math.floor(100 * random());
      const nets = anyNets(count, random);
      const settling = new Settling(count);
      while (!settling.isSettled && settling.passes < MOST)
        settling.take(passOver(nets, count, () => random() < 0.05));
      const { joined, doubtful } = settling.result;
      if (doubtful.length === 0) expect({ seed, nets: asOne(joined) }).toEqual({ seed, nets: asOne(nets) });
      expect(doubtful.length).toBeLessThan(3);
    }
  });

  test('a loose ferrule flickers, a driver that does not switch is seen one way: each is named once', () => {
    const random = seededNumbers(3);
    const settling = new Settling(8);
    for (let k = 0; k < MOST; k += 1) {
      const isIn = random() < 0.5;
      const pass = passOver([isIn ? [0, 1, 2, 3] : [0, 1], ...(isIn ? [] : [[2, 3]])], 8, () => false);
      settling.take(pass.map((row, a) => row.map((one, b) => one || (a === 6 && b === 7))));
    }
    const { joined, doubtful } = settling.result;
    expect(asOne(joined)).toBe(
      asOne([
        [0, 1],
        [2, 3],
      ]),
    );
    expect(doubtful.map(({ between, kind }) => [between, kind])).toEqual([
      [[0, 2], 'flickers'],
      [[6, 7], 'one way'],
    ]);
    expect(doubtful[0]!.share).toBeGreaterThan(0.3);
    expect(settling.isSettled).toBe(false);
  });

  test('nothing is sure before the first pass; a pass of another board is refused', () => {
    const settling = new Settling(3);
    expect(settling.isSettled).toBe(false);
    expect(() => settling.take([[false]])).toThrow(RangeError);
  });
});

/** What is joined on a dead board after some steps, through leads and closed contacts. */
function readOf(board: Bench, steps: readonly Stimulus[]): BoardReading {
  const circuit = compile(board);
  const simulation = new Simulation(new Solver(circuit), deadState(circuit));
  for (const step of steps) simulation.work(step);
  const pairs = [
    ...circuit.conductors.map(({ a, b }) => [a, b] as const),
    ...circuit.switches.filter((one) => isClosed(one, simulation.state)).map(({ a, b }) => [a, b] as const),
  ].map(([a, b]) => [circuit.terminals[a]!, circuit.terminals[b]!] as const);
  return { steps, joined: walked(circuit.terminals, pairs) as BoardReading['joined'] };
}

describe('leads told from closed contacts', () => {
  test('with every device worked in turn, a reference reads as its leads', () => {
    for (const board of BOARDS) {
      const found = leadsFromReadings(
        board,
        readingsFor(board).map((steps) => readOf(board, steps)),
      );
      expect(found.unlike).toEqual([]);
      // The contact of a timer cannot be opened by hand.
      const timed = found.doubtful.filter(({ through }) => through.some((one) => one.startsWith('KT')));
      expect(found.doubtful).toEqual(timed);
      if (timed.length === 0) expect(asOne(found.joined)).toBe(asOne(jointsOfBench(board).joined));
    }
  });

  test('any wiring reads as its leads, or the net is named as doubtful with the contacts that may join it', () => {
    let doubts = 0;
    let nets = 0;
    for (const seed of longList(Array.from({ length: 200 }, (_, k) => k))) {
      const random = seededNumbers(seed);
      const board = BOARDS[seed % BOARDS.length]!;
      const wired = { ...board, wires: anyWires(board, random, 15) };
      const found = leadsFromReadings(
        board,
        readingsFor(board).map((steps) => readOf(wired, steps)),
      );
      const right = new Set(jointsOfBench(wired).joined.map((net) => [...net].sort().join()));
      const named = found.doubtful.map(({ terminals }) => [...terminals].sort().join());
      doubts += named.length;
      nets += found.joined.length;
      for (const net of found.joined.map((list) => [...list].sort().join()))
        if (!named.includes(net))
          expect({ seed, net, isRight: right.has(net) }).toMatchObject({ isRight: true });
    }
    expect(doubts).toBeGreaterThan(0);
    expect(doubts).toBeLessThan(nets / 4);
  });

  test('at rest a fuse may be a lead: it is said what to open', () => {
    const found = leadsFromReadings(pump, [readOf(pump, [])]);
    const fuse = found.doubtful.find(({ through }) => through.some((one) => one.startsWith('F1:')));
    expect(fuse?.work).toContainEqual({ open: 'F1' });
    expect(found.doubtful.length).toBeGreaterThan(3);
  });

  test('a contact that does not close is named with the reading that showed it', () => {
    const steps = readingsFor(pump);
    const readings = steps.map((one) => readOf(pump, one));
    const broken = compile(pump);
    const stop = broken.switches.find(({ tag, spec }) => tag === 'S1' && spec.normally === 'closed')!;
    const [a, b] = [broken.terminals[stop.a]!, broken.terminals[stop.b]!];
    // Its two sides are apart in every reading.
    const sides = readings.map(({ steps: own, joined }) => {
      const pressed = own.some((step) => 'press' in step && step.press === 'S1');
      if (pressed) return { steps: own, joined };
      const without = readOf(pump, [...own, { press: 'S1' }]);
      return { steps: own, joined: without.joined };
    });
    const { unlike } = leadsFromReadings(pump, sides);
    expect(unlike.map(({ contact }) => contact)).toContain('S1:21-22');
    expect([a, b]).toEqual(['S1:21', 'S1:22']);
  });
});

describe('a board that is seen while it is wired', () => {
  const joinedOn = (board: Bench, steps: readonly Stimulus[]) => readOf(board, steps).joined;
  const netsOf = (board: Bench, steps: readonly Stimulus[]) => asOne(joinedOn(board, steps));

  test('lead by lead its leads are those that a hand has laid; a device that is worked changes none', () => {
    for (const [k, board] of longList(BOARDS).entries()) {
      const random = seededNumbers(k + 1);
      const hand = [...shuffled(board.wires, random)];
      let real: Bench = { ...board, wires: [] };
      let seen: Bench = { ...board, wires: [] };
      const press = board.devices.find(({ type }) => type === 'pushbutton');
      for (const wire of hand) {
        real = { ...real, wires: [...real.wires, wire] };
        const found = boardSeen(seen, joinedOn(real, []));
        // Whether a lead was laid or a button pressed cannot be told where both join the same.
        const lead = found.kind === 'worked' ? boardSeen(seen, joinedOn(real, []), { asLeads: true }) : found;
        if (lead.kind !== 'leads') throw new Error(`${lead.kind} on board ${k}`);
        expect(lead.cut).toEqual([]);
        expect(lead.laid.length).toBeLessThanOrEqual(1);
        seen = lead.bench;
        expect(netsOf(seen, [])).toBe(netsOf(real, []));
        if (!press) continue;
        const steps = [{ press: press.tag }];
        const worked = boardSeen(seen, joinedOn(real, steps));
        if (netsOf(seen, []) === netsOf(real, steps)) expect(worked).toMatchObject({ laid: [], cut: [] });
        else if (netsOf(seen, steps) === netsOf(real, steps)) expect(worked.kind).toBe('worked');
        if (worked.kind === 'worked')
          expect(boardSeen(seen, joinedOn(real, []), { steps: worked.steps })).toEqual({
            kind: 'worked',
            steps: [],
          });
      }
    }
  });

  test('a lead that goes is cut, one that moves is cut and laid; leads go on with a breaker switched off', () => {
    const board = BOARDS.find(({ devices }) => devices.some(({ type }) => type === 'breaker')) ?? pump;
    const breaker = board.devices.find(({ type }) => type === 'breaker')!;
    const off = boardSeen(board, joinedOn(board, [{ open: breaker.tag }]));
    expect(off).toEqual({ kind: 'worked', steps: [{ open: breaker.tag }] });
    const steps = [{ open: breaker.tag }];
    const [first, ...others] = board.wires;
    const without = boardSeen(board, joinedOn({ ...board, wires: others }, steps), { steps });
    if (without.kind !== 'leads') throw new Error(without.kind);
    expect(netsOf(without.bench, steps)).toBe(netsOf({ ...board, wires: others }, steps));
    expect(without.cut.length).toBe(1);
    const back = boardSeen(without.bench, joinedOn({ ...board, wires: [...others, first!] }, steps), {
      steps,
    });
    expect(back.kind === 'leads' ? [back.cut.length, back.laid.length] : []).toEqual([0, 1]);
  });

  test('a contact that is open at rest is named, and the board’s own lead that is gone', () => {
    const stop = compile(pump).switches.find(({ tag, spec }) => tag === 'S1' && spec.normally === 'closed')!;
    expect(stop).toBeDefined();
    // The Stop button pressed, and a lead beside it gone at the same moment.
    const gone = { ...pump, wires: pump.wires.slice(1) };
    expect(boardSeen(pump, joinedOn(gone, [{ press: 'S1' }]))).toEqual({
      kind: 'unlike',
      apart: ['S1:21-22'],
    });
    const own = boardSeen(pump, joinedOn(gone, []), { fixed: 1 });
    expect(own.kind === 'unlike' ? own.apart : []).toHaveLength(1);
  });
});

describe('the register map', () => {
  const box = (nets: JointClass[][]) => ({
    serial: 'BENCH 7',
    names: ['G1:L1', 'S1:21', 'KM1:A1'] as never,
    pass: 70_000,
    age: 120,
    status: 0b100,
    classes: nets,
  });
  const some = (registers: ReadonlyMap<number, number>, from: number, words: number): number[] =>
    Array.from({ length: words }, (_, k) => registers.get(from + k) ?? 0);

  // The worked example of docs/formats/scanner-registers.md.
  test('holds what its document says, word by word', () => {
    const registers = registersOf(
      box([
        ['open', 'joined', 'open'],
        ['joined', 'open', 'load'],
        ['open', 'load', 'open'],
      ]),
    );
    expect(some(registers, 0, 8)).toEqual([0x434f, 1, 3, 4, 1, 4464, 120, 1]);
    expect(some(registers, 16, 4)).toEqual([0x4245, 0x4e43, 0x4820, 0x3700]);
    expect(some(registers, 0x1000, 3)).toEqual([0x4731, 0x3a4c, 0x3100]);
    expect(some(registers, 0x4000, 3)).toEqual([0b010, 0b001, 0b000]);
    expect(some(registers, 0x8000, 3)).toEqual([0b00_01_00, 0b11_00_01, 0b00_11_00]);
  });

  test('what is written is read', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 40 }), fc.integer({ min: 0, max: 1e6 }), (count, seed) => {
        const random = seededNumbers(seed);
        const classes = Array.from({ length: count }, () =>
          Array.from({ length: count }, () => JOINT_CLASSES[Math.floor(4 * random())]!),
        );
        const names = Array.from({ length: count }, (_, k) => `KM${k}:13` as const);
        const registers = registersOf({ ...box(classes), names, status: 1 });
        const head = readHead(some(registers, 0, 32));
        expect(head).toMatchObject({ terminals: count, pass: 70_000, age: 120, serial: 'BENCH 7' });
        expect(head.faults).toEqual(['a supply is present on the board: nothing is driven']);
        expect(readNames(count, some(registers, 0x1000, 8 * count))).toEqual(names);
        expect(readClasses(count, some(registers, 0x8000, count * Math.ceil(count / 8)))).toEqual(classes);
        expect(readRows(count, some(registers, 0x4000, count * Math.ceil(count / 16)))).toEqual(
          classes.map((row) => row.map((one) => one === 'joined' || one === 'poor')),
        );
      }),
      { numRuns: 30 },
    );
  });

  test('a box of another kind or version is refused in words; no request asks for more than it may', () => {
    expect(() => readHead([1, 1, 3])).toThrow('no board scanner');
    expect(() => readHead([0x434f, 2, 3])).toThrow('version 2');
    expect(() => readHead([0x434f, 1, 1])).toThrow('1 terminals');
    expect(readsOf({ from: 0x4000, words: 960 }).map(({ from, words }) => [from, words])).toEqual([
      [0x4000, 125],
      [0x407d, 125],
      [0x40fa, 125],
      [0x4177, 125],
      [0x41f4, 125],
      [0x4271, 125],
      [0x42ee, 125],
      [0x436b, 85],
    ]);
  });
});
