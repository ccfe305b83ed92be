import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  UnionFind,
  WireCurrents,
  compile,
  observerOf,
  potentialOf,
  faultProblem,
  readFault,
  readOhms,
  readVolts,
  type Bench,
  type MechanicalState,
  type Stimulus,
  type WrittenFault,
} from '@contactum/core';
import { readBench } from '@contactum/core/documents';
import { exportedBoards } from './fixtures/ngspice/exported.mjs';
import { FIXTURES, bench, exercise, exercises, must, seeded, solverOf, terminal, longRuns } from './help.js';

const DECKS = join(FIXTURES, 'ngspice');
const VALUES = JSON.parse(readFileSync(join(DECKS, 'values.json'), 'utf8')) as Record<
  string,
  Record<string, number>
>;

describe('steady state against ngspice (decks written by hand beside the values)', () => {
  for (const file of readdirSync(DECKS).filter((name) => name.endsWith('.cir'))) {
    const name = file.replace('.cir', '');
    test(name, () => {
      const board = must(readBench(JSON.parse(readFileSync(join(DECKS, `${name}.bench.json`), 'utf8'))));
      const solver = solverOf(board);
      const state = solver.circuit.initial;
      const answers = Object.entries(VALUES[name] ?? {});
      expect(answers.length).toBeGreaterThan(2);
      for (const [what, value] of answers) {
        const outcome = observerOf(solver.circuit, what);
        if ('problem' in outcome) throw new Error(outcome.problem);
        const read = Number(outcome.observer.read({ solver, state, electrical: solver.at(state) }));
        // 0.1 % of the value.
        expect(Math.abs(read / value - 1)).toBeLessThan(1e-3);
      }
    });
  }
});

describe('by hand', () => {
  const supply = { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 208, frequency: 60 } };
  const volts = (board: Bench, a: string, b: string, state?: MechanicalState) => {
    const solver = solverOf(board);
    return readVolts(solver, state ?? solver.circuit.initial, terminal(solver, a), terminal(solver, b));
  };

  test('208 V between lines is 120.1 V to neutral, and lines stand 30 degrees ahead (arithmetic: 208/√3)', () => {
    const board = bench([supply], '');
    expect(volts(board, 'G1:L1', 'G1:N').value).toBeCloseTo(120.09, 2);
    expect(volts(board, 'G1:L1', 'G1:L2').value).toBeCloseTo(208, 2);
    expect(volts(board, 'G1:L1', 'G1:L2').angle).toBeCloseTo(30, 6);
    expect(volts(board, 'G1:N', 'G1:PE').value).toBe(0);
  });

  test('a floating terminal reads nothing, one behind a coil reads the coil’s far side', () => {
    const km = { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 120, kind: 'ac' } } };
    const board = bench([supply, km], 'G1:L1>KM1:A1');
    expect(volts(board, 'KM1:13', 'G1:N').value).toBeLessThan(1e-6);
    // 10 MΩ of meter against about 200 Ω of coil.
    expect(volts(board, 'KM1:A2', 'G1:N').value).toBeCloseTo(120.09, 1);
  });

  test('current divides between parallel leads, and a node obeys Kirchhoff at every terminal', () => {
    const z = (tag: string, ohms: number) => ({ tag, type: 'impedance', options: { ohms } });
    const board = bench(
      [
        { tag: 'G2', type: 'supply-dc', options: { voltage: 24 } },
        z('Z1', 12),
        z('Z2', 24),
        { tag: 'X1', type: 'terminal-strip', options: { count: 2 } },
      ],
      'G2:+>X1:1 X1:1>Z1:1 X1:1>Z2:1 Z1:2>G2:- Z2:2>G2:- G2:+>X1:1',
    );
    const solver = solverOf(board);
    const currents = new WireCurrents(solver, solver.circuit.initial);
    const into = (ref: string) => currents.into(terminal(solver, ref)).value;
    // The supply's own milliohm takes its share.
    expect(into('Z1:1')).toBeCloseTo(2, 3);
    expect(into('Z2:1')).toBeCloseTo(1, 3);
    expect(Math.abs(into('X1:1'))).toBeLessThan(1e-6);
    expect(Math.abs(into('G2:+'))).toBeCloseTo(3, 3);
  });

  test('ohms on a dead board: continuity, parallel paths, an open contact', () => {
    const board = bench(
      [
        { tag: 'S1', type: 'pushbutton', options: { contacts: ['NC 21-22', 'NO 13-14'] } },
        { tag: 'Z1', type: 'impedance', options: { ohms: 60 } },
        { tag: 'Z2', type: 'impedance', options: { ohms: 30 } },
      ],
      'S1:22>Z1:1 Z1:1>Z2:1 Z1:2>Z2:2',
    );
    const solver = solverOf(board);
    const ohms = (a: string, b: string) =>
      readOhms(solver, solver.circuit.initial, terminal(solver, a), terminal(solver, b)).value;
    expect(ohms('S1:21', 'S1:22')).toBe(0);
    expect(ohms('S1:21', 'Z2:2')).toBeCloseTo(20, 9);
    expect(ohms('S1:13', 'S1:14')).toBe(Number.POSITIVE_INFINITY);
  });

  test('the DC supply gives no more than its limit', () => {
    const board = bench(
      [
        { tag: 'G2', type: 'supply-dc', options: { voltage: 24, currentLimit: 2 } },
        { tag: 'Z1', type: 'impedance', options: { ohms: 3 } },
      ],
      'G2:+>Z1:1 Z1:2>G2:-',
    );
    expect(volts(board, 'G2:+', 'G2:-').value).toBeCloseTo(6, 2);
  });
});

/** Terminals joined by wires, links and closed contacts, found with nothing but union–find. */
function joined(board: Bench, state: MechanicalState): (a: number, b: number) => boolean {
  const circuit = compile(board);
  const sets = new UnionFind(circuit.terminals.length);
  for (const { a, b } of circuit.conductors) sets.union(a, b);
  for (const { a, b, mechanism, closedIn } of circuit.switches)
    if (closedIn[state[mechanism] as number]) sets.union(a, b);
  return (a, b) => sets.find(a) === sets.find(b);
}

test('random wirings: where union–find decides, nodal analysis agrees (seeds 1 to 60)', () => {
  let decided = 0;
  for (let seed = 1; seed <= longRuns(60); seed += 1) {
    const random = seeded(seed);
    const board = exercises().filter(
      ({ family, bench: { devices } }) =>
        family !== 'first-circuits' && devices.every(({ type }) => type !== 'supply-dc'),
    )[seed % 2] as {
      bench: Bench;
    };
    const refs = compile(board.bench).terminals;
    const pick = () => refs[Math.floor(random() * refs.length)] as (typeof refs)[number];
    const wires = Array.from({ length: 4 + Math.floor(random() * 20) }, () => ({
      from: pick(),
      to: pick(),
    })).filter(({ from, to }) => from !== to);
    const wired = { ...board.bench, wires };
    const solver = new Solver(compile(wired));
    const state = solver.circuit.initial.slice();
    for (const { index, kind } of solver.circuit.mechanisms)
      if (kind === 'armature' || kind === 'plunger') state[index] = random() < 0.5 ? 1 : 0;
    const together = joined(wired, state);
    const electrical = solver.solve(state);
    const at = (ref: string) => terminal(solver, ref);
    const lines = ['G1:L1', 'G1:L2', 'G1:L3'].map(at);
    const earth = [at('G1:N'), at('G1:PE')];
    const short = lines.some(
      (a, k) => lines.some((b, j) => j > k && together(a, b)) || earth.some((b) => together(a, b)),
    );
    expect({ seed, short: electrical.shorts.length > 0 }).toEqual({ seed, short });
    if (short) continue;
    // A terminal joined to a line has that line's voltage; one joined to neutral or earth has none.
    for (const ref of refs) {
      const k = at(ref);
      const line = lines.find((one) => together(one, k));
      const node = electrical.node[solver.network.net(k)] as number;
      const potentials = electrical.potentials[0];
      const value = Math.hypot(potentials?.re[node] ?? 0, potentials?.im[node] ?? 0);
      if (line !== undefined) expect(Math.abs(value - 230.94)).toBeLessThan(3);
      else if (earth.some((one) => together(one, k))) expect(value).toBe(0);
      else continue;
      decided += 1;
    }
  }
  expect(decided).toBeGreaterThan(longRuns(500));
});

describe('steady state against ngspice, from exported decks in which ngspice joins the nodes itself', () => {
  const known = JSON.parse(readFileSync(join(DECKS, 'exported.json'), 'utf8')) as Record<
    string,
    Record<string, number>
  >;
  interface Exported {
    readonly name: string;
    readonly bench: unknown;
    readonly steps: Stimulus[];
    readonly faults: WrittenFault[];
  }
  const boards = (exportedBoards(exercise) as Exported[]).filter(({ name }) => name in known);

  test('there are at least forty of them', () => expect(boards.length).toBeGreaterThanOrEqual(40));

  test('more than ten of them have a fault', () =>
    expect(boards.filter(({ faults }) => faults.length > 0).length).toBeGreaterThan(10));

  for (const { name, bench: document, steps, faults } of boards) {
    test(name, () => {
      const sound = solverOf(must(readBench(document)));
      expect(faults.map((fault) => faultProblem(sound.circuit, readFault(fault)))).toEqual(
        faults.map(() => null),
      );
      const simulation = new Simulation(sound, undefined, false, faults.map(readFault));
      for (const step of steps) {
        simulation.apply(step);
        simulation.settle();
      }
      const { solver } = simulation;
      const electrical = solver.solve(simulation.state);
      const scale = Math.max(...Object.values(known[name] ?? {}));
      const wrong = Object.entries(known[name] ?? {}).flatMap(([ref, volts]) => {
        const index = terminal(solver, ref);
        const node = electrical.node[solver.network.net(index)] as number;
        // What floats has no voltage of its own; ngspice ties it down through a gigohm.
        if (!electrical.defined[electrical.island[node] as number]) return [];
        const read = potentialOf(solver, electrical, index);
        // 0.1 % of the value, and 0.01 % of the highest voltage for what is next to nothing.
        return Math.abs(read - volts) <= 1e-3 * volts + 1e-4 * scale
          ? []
          : [`${ref}: ${read.toFixed(4)} for ${volts}`];
      });
      expect(wrong).toEqual([]);
    });
  }
});
