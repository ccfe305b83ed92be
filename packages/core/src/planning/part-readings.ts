import type { Bench, Wire } from '../bench/index.js';
import { anatomy, kindOf, positionsOn, type Device } from '../catalogue/index.js';
import { compile, type Stimulus, type TerminalIndex } from '../circuit/index.js';
import { deadState } from '../diagnosis/index.js';
import { Solver, readOhms } from '../electrics/index.js';
import { possibleFaults, type Fault } from '../faults/index.js';
import { Simulation } from '../simulation/index.js';
import { holdWords, holding, holdsOf } from './dead-tests/index.js';

/** What an ohmmeter shows between two terminals of a device that is taken out, in each of its states. */
export interface PartReadings {
  /** What is done to it: nothing first. */
  readonly doing: readonly string[];
  readonly rows: readonly {
    readonly between: readonly [string, string];
    /** What lies between them. */
    readonly what: string;
    /** Ohms in each of the states; Infinity where nothing joins the two. */
    readonly ohms: readonly number[];
  }[];
}

/** Pairs of terminals that are worth a reading: each contact, coil, heater, winding and load. */
function pairsOf(device: Device): { readonly what: string; readonly between: readonly [string, string] }[] {
  const body = anatomy(device);
  const { contacts, coils, sensors, heaters, lamps, impedances, motor, transformer, earthTerminal } = body;
  const pair = (what: string, a: string, b: string) => ({ what, between: [a, b] as const });
  return [
    ...heaters.map(([a, b]) => pair('heater', a, b)),
    ...contacts.map(({ a, b, role, normally }) =>
      pair(
        role === 'pole' ? 'main pole' : normally === 'none' ? 'contact' : `contact, normally ${normally}`,
        a,
        b,
      ),
    ),
    ...coils.map(({ a, b }) => pair('coil', a, b)),
    ...sensors.map(({ a, b }) => pair('input', a, b)),
    ...lamps.map(({ a, b }) => pair('load', a, b)),
    ...impedances.map(({ a, b }) => pair('resistance', a, b)),
    ...(motor
      ? windingsOf(device).map(([a, b]) => pair(b === earthTerminal ? 'winding to frame' : 'winding', a, b))
      : []),
    ...(transformer
      ? [pair('primary winding', ...transformer.primary), pair('secondary winding', ...transformer.secondary)]
      : []),
  ];
}

/** Winding by winding where both ends are led out; else from lead to lead; and from one lead to the frame. */
function windingsOf(device: Device): (readonly [string, string])[] {
  const { motor, terminals, earthTerminal } = anatomy(device);
  const open = (motor?.windings ?? []).filter((ends) => ends.every((name) => !name.startsWith('*')));
  const leads = terminals.filter(({ role }) => role === 'winding').map(({ name }) => name);
  const between = leads.map((name, k) => [name, leads[(k + 1) % leads.length]!] as const);
  const [first = ''] = leads;
  return [...(open.length > 0 ? open : between), ...(earthTerminal ? [[first, earthTerminal] as const] : [])];
}

/** What a hand does to a part that is not held on a dead board: it presses, or pushes the armature in. */
function byHand(device: Device): { readonly words: string; readonly done: readonly Stimulus[] }[] {
  const { tag } = device;
  const { verbs, heldDead } = kindOf(device);
  if (heldDead) return [];
  if ((verbs as readonly string[]).includes('press'))
    return [{ words: `${tag} pressed`, done: [{ press: tag }] }];
  if (anatomy(device).actuators[0]?.kind !== 'armature') return [];
  return [{ words: `${tag} pushed in`, done: [{ inject: { 'armature-jammed': tag, position: 'in' } }] }];
}

/** Where the leads end of a device that is looked at by itself. */
const ENDS = 'X0';

/** What can go wrong with a device by itself, and the reading that shows it; null where an ohmmeter does not. */
export interface PartFault {
  readonly fault: Fault;
  readonly shown: {
    readonly between: readonly [string, string];
    readonly doing: string;
    readonly ohms: number;
    readonly sound: number;
  } | null;
}

/** Faults of a device by itself, one of each kind, each with the first reading that tells it. */
export function partFaults(device: Device): PartFault[] {
  const sound = partReadings(device);
  return faultsOf(device).map((fault) => {
    const { rows, doing } = partReadings(device, [fault]);
    for (const [k, { between, ohms }] of rows.entries())
      for (const [n, read] of ohms.entries()) {
        const right = sound.rows[k]!.ohms[n]!;
        if (!isAlike(read, right))
          return { fault, shown: { between, doing: doing[n]!, ohms: read, sound: right } };
      }
    return { fault, shown: null };
  });
}

/** What an ohmmeter tells apart: a fifth, or whether there is a connection. */
const isAlike = (a: number, b: number): boolean =>
  a === b || (Number.isFinite(a + b) && Math.abs(a - b) <= 0.2 * Math.max(Math.abs(a), Math.abs(b)));

/** One fault of each kind. */
function faultsOf(device: Device): Fault[] {
  const names = anatomy(device).terminals.map(({ name }) => name);
  const ends = {
    tag: ENDS,
    type: 'terminal-strip',
    options: { count: names.length },
    settings: {},
  } as Device;
  const wires = names.map((name, k): Wire => ({ from: `${device.tag}:${name}`, to: `${ENDS}:${k + 1}` }));
  const kinds = new Map<string, Fault>();
  for (const fault of possibleFaults(compile(alone([device, ends], wires))))
    if (!JSON.stringify(fault).includes(`${ENDS}:`) && !kinds.has(fault.kind)) kinds.set(fault.kind, fault);
  return [...kinds.values()];
}

const alone = (devices: readonly Device[], wires: readonly Wire[] = []): Bench => ({
  contactum: 'bench/1',
  title: '',
  devices,
  wires,
  interlocks: [],
});

/** The device by itself, dead, measured at rest and with each thing done that a hand can do. */
export function partReadings(device: Device, faults: readonly Fault[] = []): PartReadings {
  const bench = alone([device]);
  const circuit = compile(bench);
  const solver = new Solver(circuit);
  const states: { readonly words: string; readonly done: readonly Stimulus[] }[] = [
    ...holdsOf(bench).map((hold) => ({ words: holdWords(bench, hold), done: holding(bench, hold) })),
    ...byHand(device),
    ...positionsOn(device).map((to) => ({
      words: `${device.tag} at ${to}`,
      done: [{ turn: device.tag, to }],
    })),
  ];
  const boards = states.map(({ done }) => {
    const board = new Simulation(solver, deadState(circuit), false, faults);
    for (const stimulus of done) board.work(stimulus);
    return board;
  });
  const index = (name: string): TerminalIndex => circuit.indexOf.get(`${device.tag}:${name}`)!;
  return {
    doing: states.map(({ words }) => words || 'at rest'),
    rows: pairsOf(device).map(({ what, between: [a, b] }) => ({
      what,
      between: [a, b],
      ohms: boards.map((board) => readOhms(board.solver, board.state, index(a), index(b)).value),
    })),
  };
}
