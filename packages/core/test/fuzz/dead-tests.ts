/**
 * Wirings of a board in any tree with one mistake: a dead-test table must find each that it claims to find,
 * and no right one.
 */
import {
  Ohmmeter,
  Simulation,
  Solver,
  compile,
  deadState,
  deadTestTable,
  partitionOf,
  holding,
  isOhmsExpected,
  referenceBench,
  terminalsOf,
  type Bench,
  type DeadTestTable,
  type Exercise,
  type Wire,
} from '@contactum/core';
import { seeded } from '../help.js';

/** Readings of a table that a wiring does not show, by the simulation's own ohmmeter on the whole board. */
function wrongReadings(bench: Bench, { tests }: DeadTestTable): number {
  const circuit = compile(bench);
  const solver = new Solver(circuit);
  const boards = new Map<string, Ohmmeter>();
  return tests.filter(({ between: [a, b], hold, expect: right }) => {
    let meter = boards.get(hold.join());
    if (!meter) {
      const board = new Simulation(solver, deadState(circuit), false, []);
      for (const stimulus of holding(bench, hold)) board.work(stimulus);
      boards.set(hold.join(), (meter = new Ohmmeter(board.solver, board.state)));
    }
    return !isOhmsExpected(meter.between(circuit.indexOf.get(a)!, circuit.indexOf.get(b)!), right);
  }).length;
}

const pick = <T>(list: readonly T[], random: () => number): T => list[Math.floor(random() * list.length)]!;

/** The same potentials joined in another tree: any terminal of a potential to any that is joined already. */
function otherTree(bench: Bench, random: () => number): Wire[] {
  const groups = new Map<string, Set<string>>();
  for (const { from, to } of bench.wires) {
    const [a, b] = [groups.get(from) ?? new Set([from]), groups.get(to) ?? new Set([to])];
    const both = new Set<string>([...a, ...b]);
    for (const one of both) groups.set(one, both);
  }
  return [...new Set(groups.values())].flatMap((group) => {
    const order = [...group].sort(() => random() - 0.5);
    return order.slice(1).map((to, k) => ({ from: pick(order.slice(0, k + 1), random), to }) as Wire);
  });
}

/** One mistake: a lead left out, an end on another terminal, two ends exchanged, a lead too many. */
function withMistake(bench: Bench, wires: readonly Wire[], random: () => number): Wire[] {
  const terminals = terminalsOf(bench);
  const k = Math.floor(random() * wires.length);
  const others = wires.filter((_, n) => n !== k);
  const one = wires[k]!;
  switch (Math.floor(random() * 4)) {
    case 0:
      return others;
    case 1: {
      const to = pick(terminals, random);
      return to === one.from ? others : [...others, { ...one, to }];
    }
    case 2: {
      const other = pick(others, random);
      const rest = others.filter((wire) => wire !== other);
      if (one.from === other.to || other.from === one.to) return others;
      return [...rest, { ...one, to: other.to }, { ...other, to: one.to }];
    }
    default: {
      const [from, to] = [pick(terminals, random), pick(terminals, random)];
      return from === to ? others : [...wires, { from, to }];
    }
  }
}

/**
 * What goes wrong with the table of an exercise over some wirings of its board; and how many of them it
 * claims to find.
 */
export function deadTestFindings(
  exercise: Exercise,
  wirings: number,
  seed: number,
): { readonly table: DeadTestTable; readonly claimed: number; readonly wrong: readonly string[] } {
  const bench = referenceBench(exercise);
  const table = deadTestTable(bench);
  const random = seeded(seed);
  const wrong = wrongReadings(bench, table) > 0 ? ['the reference itself reads wrong'] : [];
  let claimed = 0;
  for (let n = 0; n < wirings; n += 1) {
    const right = otherTree(bench, random);
    if (wrongReadings({ ...bench, wires: right }, table) > 0)
      wrong.push(`a right wiring reads wrong: ${JSON.stringify(right)}`);
    const mistaken = { ...bench, wires: withMistake(bench, right, random) };
    if (!table.claims.has(partitionOf(mistaken))) continue;
    claimed += 1;
    if (wrongReadings(mistaken, table) === 0)
      wrong.push(`a mistake is not found: ${JSON.stringify(mistaken.wires)}`);
  }
  return { table, claimed, wrong };
}
