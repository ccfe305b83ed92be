import { terminalsOf, type Bench, type TerminalRef, type Wire } from '@contactum/core';
import { readBench } from '@contactum/core/documents';
import { seeded } from '../help.js';

type Random = () => number;

/** Devices and leads of a board that is put together group by group. */
class Board {
  readonly devices: object[] = [];
  readonly wires: Lead[] = [];
  readonly terminals: string[] = [];

  device(tag: string, type: string, terminals: string, more: object = {}): void {
    this.devices.push({ tag, type, ...more });
    this.terminals.push(...terminals.split(' ').map((name) => `${tag}:${name}`));
  }

  wire(leads: string): void {
    for (const lead of leads.trim().split(/\s+/)) {
      const [from, to] = lead.split('>') as [TerminalRef, TerminalRef];
      this.wires.push({ from, to });
    }
  }
}

const BUTTON = { NO: 'NO 13-14', NC: 'NC 21-22' } as const;
const coil = { voltage: 230, kind: 'ac' };

function button(board: Board, tag: string, contact: keyof typeof BUTTON, duty?: string): void {
  board.device(tag, 'pushbutton', contact === 'NO' ? '13 14' : '21 22', {
    ...(duty ? { duty } : {}),
    options: { contacts: [BUTTON[contact]] },
  });
}

const contactor = (board: Board, tag: string): void =>
  board.device(tag, 'contactor', 'A1 A2 1 2 3 4 5 6 13 14 21 22', {
    options: { coil, aux: ['NO 13-14', 'NC 21-22'] },
  });

function motor(board: Board, n: number, from: string): void {
  board.device(`M${n}`, 'motor-3', 'U V W PE', {
    options: { leads: 3, internal: 'star', plate: { kW: 0.75, voltage: 400, speed: 1420, current: 1.9 } },
  });
  board.wire(`${from}:2>M${n}:U ${from}:4>M${n}:V ${from}:6>M${n}:W G1:PE>M${n}:PE`);
}

/** What feeds a group: the control line behind Stop, the three lines of the power circuit. */
interface Feed {
  readonly control: string;
  readonly power: readonly [string, string, string];
}

type Group = (board: Board, n: number, feed: Feed, random: Random) => void;

const lines = (board: Board, tag: string, { power }: Feed): void =>
  board.wire(`${power[0]}>${tag}:1 ${power[1]}>${tag}:3 ${power[2]}>${tag}:5`);

/** Starts at a touch and holds itself; with an overload relay's contact in its line, sometimes. */
const sealIn: Group = (board, n, feed, random) => {
  const [km, s] = [`KM${n}`, `S${n}`];
  contactor(board, km);
  button(board, s, 'NO', random() < 0.8 ? 'start' : undefined);
  board.wire(`${s}:13>${km}:13 ${s}:14>${km}:14 ${s}:14>${km}:A1 ${km}:A2>G1:N`);
  if (random() < 0.5) {
    board.device(`F${n}`, 'overload', '1 2 3 4 5 6 95 96', { options: { range: [1.6, 2.5] } });
    board.wire(`${feed.control}>F${n}:95 F${n}:96>${s}:13`);
  } else board.wire(`${feed.control}>${s}:13`);
  if (random() < 0.6) {
    lines(board, km, feed);
    motor(board, n, km);
  }
};

const jog: Group = (board, n, feed) => {
  contactor(board, `KM${n}`);
  button(board, `S${n}`, 'NO', 'jog');
  board.wire(`${feed.control}>S${n}:13 S${n}:14>KM${n}:A1 KM${n}:A2>G1:N`);
};

/** Two contactors of which each keeps the other out, or should. */
const reversing: Group = (board, n, feed, random) => {
  const [a, b, s, t] = [`KM${n}1`, `KM${n}2`, `S${n}1`, `S${n}2`];
  contactor(board, a);
  contactor(board, b);
  button(board, s, 'NO', 'forward');
  button(board, t, 'NO', 'reverse');
  board.wire(`${feed.control}>${s}:13 ${feed.control}>${t}:13 ${a}:A2>G1:N ${b}:A2>G1:N`);
  if (random() < 0.8) board.wire(`${s}:14>${b}:21 ${b}:22>${a}:A1 ${t}:14>${a}:21 ${a}:22>${b}:A1`);
  else board.wire(`${s}:14>${a}:A1 ${t}:14>${b}:A1`);
  if (random() < 0.6) {
    lines(board, a, feed);
    board.wire(`${a}:1>${b}:1 ${a}:3>${b}:3 ${a}:5>${b}:5 ${b}:2>${a}:6 ${b}:4>${a}:4 ${b}:6>${a}:2`);
    motor(board, n, a);
  }
};

/**
 * A relay that a selector holds in, and another that follows it, or hangs on its own contact and chatters.
 */
const relays: Group = (board, n, feed, random) => {
  const [k, s] = [`KA${n}`, `SA${n}`];
  const relay = { options: { coil, contacts: ['NO 13-14', 'NC 21-22'] } };
  board.device(k, 'relay', 'A1 A2 13 14 21 22', relay);
  board.device(s, 'selector', '13 14', {
    options: { positions: ['off', 'on'], contacts: [{ terminals: '13-14', closedIn: ['on'] }] },
  });
  board.wire(`${feed.control}>${s}:13 ${k}:A2>G1:N`);
  if (random() < 0.25) board.wire(`${s}:14>${k}:21 ${k}:22>${k}:A1`);
  else board.wire(`${s}:14>${k}:A1`);
  if (random() < 0.5) {
    board.device(`KB${n}`, 'relay', 'A1 A2 13 14 21 22', relay);
    board.wire(`${feed.control}>${k}:13 ${k}:14>KB${n}:A1 KB${n}:A2>G1:N`);
  }
};

/** A timer that a button starts and that brings a contactor in, or a contactor that comes in by itself. */
const timed: Group = (board, n, feed, random) => {
  contactor(board, `KM${n}`);
  if (random() < 0.4) {
    board.wire(`${feed.control}>KM${n}:A1 KM${n}:A2>G1:N`);
    return;
  }
  board.device(`KT${n}`, 'timer', 'A1 A2 15 16 18', { options: { coil } });
  button(board, `S${n}`, 'NO', 'start');
  board.wire(`${feed.control}>S${n}:13 S${n}:14>KT${n}:A1 KT${n}:A2>G1:N`);
  board.wire(`${feed.control}>KT${n}:15 KT${n}:18>KM${n}:A1 KM${n}:A2>G1:N`);
};

const GROUPS: readonly Group[] = [sealIn, sealIn, jog, reversing, relays, timed];

const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

type Lead = Pick<Wire, 'from' | 'to'>;

/** One lead put elsewhere, added or left out, anywhere on the board. */
function cross(wires: readonly Lead[], terminals: readonly string[], random: Random): Lead[] {
  const k = Math.floor(random() * wires.length);
  const end = () => pick(random, terminals) as TerminalRef;
  const kind = random();
  if (kind < 0.3) return [...wires, { from: end(), to: end() }];
  if (kind < 0.5) return wires.toSpliced(k, 1);
  return wires.with(k, { ...wires[k]!, [kind < 0.75 ? 'to' : 'from']: end() });
}

function feedOf(board: Board, random: Random): Feed {
  board.device('G1', 'supply-3n', 'L1 L2 L3 N PE');
  button(board, 'S0', 'NC', random() < 0.9 ? 'stop' : undefined);
  let power: Feed['power'] = ['G1:L1', 'G1:L2', 'G1:L3'];
  if (random() < 0.4) {
    board.device('Q1', 'breaker', '1 2 3 4 5 6', { options: { poles: 3, rating: 16 } });
    board.wire('G1:L1>Q1:1 G1:L2>Q1:3 G1:L3>Q1:5');
    power = ['Q1:2', 'Q1:4', 'Q1:6'];
  }
  board.wire(`${pick(random, [power[0], 'G1:L1'])}>S0:21`);
  return { control: random() < 0.9 ? 'S0:22' : 'G1:L1', power };
}

/**
 * A board of some groups that have Stop and supply in common, with some leads wrong anywhere; null where
 * the leads that came out cannot be laid.
 */
export function groupedBoard(seed: number, wrong = 3): Bench | null {
  const random = seeded(seed);
  const board = new Board();
  const feed = feedOf(board, random);
  const groups = 2 + Math.floor(random() * 3);
  for (let n = 1; n <= groups; n += 1) pick(random, GROUPS)(board, n, feed, random);
  let wires: Lead[] = board.wires;
  for (let k = Math.floor(random() * (wrong + 1)); k > 0; k -= 1)
    wires = cross(wires, board.terminals, random);
  return benchOf(`groups ${seed}`, board.devices, wires);
}

/**
 * A board of two to four groups that are the same but for their designations, wrong leads included; on every
 * second one some lead anywhere makes a difference. Null where the leads that came out cannot be laid.
 */
export function alikeBoard(seed: number): Bench | null {
  const random = seeded(seed);
  const board = new Board();
  const feed = feedOf(board, random);
  const shared = [...board.terminals];
  const group = pick(random, GROUPS);
  const own = Math.floor(random() * 1e6);
  const wrong = Math.floor(random() * 3);
  for (let n = 1 + Math.ceil(random() * 3); n > 0; n -= 1) {
    const [leads, terminals] = [board.wires.length, board.terminals.length];
    const again = seeded(own);
    group(board, n, feed, again);
    let wires: Lead[] = board.wires.splice(leads);
    const near = [...shared, ...board.terminals.slice(terminals)];
    for (let k = 0; k < wrong; k += 1) wires = cross(wires, near, again);
    board.wires.push(...wires);
  }
  const wires = random() < 0.5 ? board.wires : cross(board.wires, board.terminals, random);
  return benchOf(`alike ${seed}`, board.devices, wires);
}

function benchOf(title: string, devices: readonly object[], wires: readonly Lead[]): Bench | null {
  const read = readBench({ contactum: 'bench/1', title, devices, wires });
  return read.ok ? read.value : null;
}

/** The same devices with one to three leads wired otherwise; null where that cannot be laid. */
export function miswired({ title, devices, wires }: Bench, seed: number): Bench | null {
  const random = seeded(seed + 1_000_000);
  const terminals = terminalsOf({ devices });
  let other: readonly Lead[] = wires.map(({ from, to }) => ({ from, to }));
  for (let k = 1 + Math.floor(random() * 3); k > 0; k -= 1) other = cross(other, terminals, random);
  return benchOf(title, devices, other);
}
