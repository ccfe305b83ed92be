import { describe, expect, test } from '@jest/globals';
import {
  DEVICE_TYPES,
  KINDS,
  Network,
  Solver,
  anatomy,
  circuitOfLead,
  compile,
  feeds,
  isLive,
  placesOf,
  referenceBench,
  returns,
  supplyEarths,
  type Bench,
  type Device,
} from '@contactum/core';
import { RECIPES, formsOf, resolveExercise } from '@contactum/core/exercises';
import { bench, terminal } from './help.js';

/** Every shipped exercise in every form: their references are laid by purpose, which is written by hand. */
const boards = RECIPES.flatMap((recipe) =>
  formsOf(recipe).map((form) => ({
    name: `${recipe.id}, ${form}`,
    board: referenceBench(resolveExercise(recipe, form)),
  })),
);

/** What people mean by the colours of the shipped references. */
const MEANT: Readonly<Record<string, 'power' | 'control' | 'earth'>> = {
  black: 'power',
  red: 'control',
  'light blue': 'control',
  white: 'control',
  green: 'earth',
  'green-yellow': 'earth',
};

describe('power, control and earth are told as people colour them', () => {
  for (const { name, board } of boards.filter(
    ({ board: one }) => !one.devices.some(({ type }) => type === 'supply-dc'),
  ))
    test(name, () => {
      const places = placesOf(board);
      const told = board.wires.map((wire) => ({
        wire: `${wire.from} ${wire.to}`,
        is: circuitOfLead(places, wire) ?? 'earth',
      }));
      // The taps of a control circuit off the line are laid in the control's colour, or in the line's
      // before a transformer.
      const taps = new Set([
        'Q1:2 F1:1',
        'G1:L1 F1:1',
        'Q1:2 T1:H1',
        'Q1:4 T1:H2',
        'T1:X1 F1:1',
        'KM1:1 F1:1',
        '1CB:2 1FU:1',
        '1PS:L1 1FU:1',
        '1CB:2 1T:H1',
        '1CB:4 1T:H2',
        '1T:X1 1FU:1',
        // A pole that feeds a brake from the control fuse.
        'F1:2 KM2:1',
      ]);
      const plain = told.filter(({ wire }) => !taps.has(wire));
      expect(plain).toEqual(
        board.wires
          .filter(({ from, to }) => !taps.has(`${from} ${to}`))
          .map((wire) => ({ wire: `${wire.from} ${wire.to}`, is: MEANT[wire.colour ?? ''] })),
      );
    });
});

describe('what feeds, returns and is earth', () => {
  const names = (board: Bench, list: readonly number[]) =>
    list.map((k) => compile(board).terminals[k]).sort();

  test('of a starter on 400 V: lines, neutral, earth', () => {
    const board = bench([{ tag: 'G1', type: 'supply-3n' }], '');
    const circuit = compile(board);
    expect(names(board, feeds(circuit))).toEqual(['G1:L1', 'G1:L2', 'G1:L3']);
    expect(names(board, returns(circuit))).toEqual(['G1:N']);
    expect(names(board, supplyEarths(circuit))).toEqual(['G1:PE']);
  });

  const transformer = (wires: string) =>
    bench(
      [
        { tag: 'G1', type: 'supply-3n' },
        { tag: 'T1', type: 'transformer', options: { primaryVoltage: 400, secondaryVoltage: 24 } },
        { tag: 'F1', type: 'fuse', options: { poles: 1 } },
      ],
      wires,
    );
  const cases: [string, string, string][] = [
    ['its earthed end is the return', 'T1:X1>G1:PE', 'T1:X1'],
    ['whichever is earthed', 'T1:X2>G1:PE', 'T1:X2'],
    ['where none is earthed, the end without a fuse', 'T1:X2>F1:1', 'T1:X1'],
    ['and where nothing tells them apart, X2', '', 'T1:X2'],
  ];
  for (const [name, wires, end] of cases)
    test(`of a transformer: ${name}`, () => {
      const board = transformer(wires);
      expect(names(board, returns(compile(board)))).toContain(end);
      expect(names(board, feeds(compile(board)))).not.toContain(end);
    });
});

describe('every kind of device', () => {
  const needs: Partial<Record<string, object>> = {
    contactor: { coil: { voltage: 230, kind: 'ac' } },
    relay: { coil: { voltage: 24, kind: 'dc' }, contacts: ['NO 13-14'] },
    timer: { coil: { voltage: 230, kind: 'ac' } },
    'star-delta-timer': { coil: { voltage: 230, kind: 'ac' } },
    brake: { coil: { voltage: 230, kind: 'ac' }, motor: 'M1' },
    overload: { range: [4, 6] },
    selector: { positions: ['a', 'b'], contacts: [{ terminals: '13-14', closedIn: ['b'] }] },
    'motor-3': { leads: 3, plate: { kW: 1.5, voltage: 400, speed: 1420, current: 3.4 } },
    'motor-1': { plate: { kW: 0.37, speed: 1400, current: 3 } },
  };
  const motor = { tag: 'M1', type: 'motor-3', options: needs['motor-3'] };
  for (const type of DEVICE_TYPES)
    test(`${type}: its record is of one piece`, () => {
      const board = bench([{ tag: 'X1', type, ...(needs[type] ? { options: needs[type] } : {}) }, motor], '');
      const device = board.devices[0] as Device;
      const body = anatomy(device);
      const ends = body.terminals.map(({ name }) => name);
      expect(new Set(ends).size).toBe(ends.length);
      const joined = [
        ...body.links.flat(),
        ...body.contacts.flatMap(({ a, b }) => [a, b]),
        ...body.sources.flatMap((source) => [source.terminal, source.reference]),
        ...[...body.coils, ...body.sensors, ...body.lamps].flatMap(({ a, b }) => [a, b]),
        ...body.heaters.flat(),
      ];
      // Everything inside ends on one of its terminals, or on a star point of its own.
      expect(joined.filter((end) => !ends.includes(end) && !end.startsWith('*'))).toEqual([]);
      // Whatever conducts names an actuator of its own device, and says what it does in each of its states.
      const statesOf = new Map(body.actuators.map(({ name: actuator, states }) => [actuator, states]));
      expect(statesOf.size).toBe(body.actuators.length);
      for (const { movedBy, closedIn } of body.contacts)
        expect(closedIn.length >= statesOf.get(movedBy)!).toBe(true);
      for (const { switchedBy, liveIn } of body.sources) expect(liveIn.length).toBe(statesOf.get(switchedBy));
      for (const { moves } of [...body.coils, ...body.sensors]) expect(statesOf.has(moves)).toBe(true);
      for (const { filament } of body.lamps) expect(statesOf.has(filament)).toBe(true);
      const { type: own, name, letters, verbs } = KINDS[type];
      expect(own).toBe(type);
      expect([name, letters.iec, letters.us].every((text) => text.length > 0)).toBe(true);
      // What a person can do to it does something to its mechanism.
      if (verbs.length > 0) expect(body.actuators.length).toBeGreaterThan(0);
    });
});

test('what the reduced network joins is what the solution finds at one voltage', () => {
  for (const { name, board } of boards) {
    const circuit = compile(board);
    const solver = new Solver(circuit);
    const { netOf } = new Network(circuit);
    const state = circuit.initial;
    const electrical = solver.at(state);
    const byNet = new Map<number, { ref: string; live: boolean }>();
    for (const ref of circuit.terminals) {
      const index = terminal(solver, ref);
      const live = isLive(solver, electrical, index);
      const known = byNet.get(netOf[index]!);
      if (known) expect({ name, ref, live }).toEqual({ name, ref, live: known.live });
      else byNet.set(netOf[index]!, { ref, live });
    }
    expect(byNet.size).toBeGreaterThan(2);
  }
});
