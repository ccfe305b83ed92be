import { SUPPLY_OPEN } from '../catalogue/index.js';
import {
  isSupplySwitch,
  BURNT_THROUGH,
  UNSEALED,
  UnionFind,
  variantOf,
  type Circuit,
  type MechanicalState,
  type TerminalIndex,
} from '../circuit/index.js';
import { LIVE_VOLTS, METER_OHMS } from '../tolerances.js';
import type { Electrical, Potentials } from './electrical.js';
import { ComplexSystem } from './linear.js';
import type { Solver } from './solver.js';
import { joinNodes } from './topology.js';

export interface Reading {
  readonly value: number;
  readonly unit: 'V' | 'A' | 'Ω';
  /** Degrees to the supply's L1 (or L), for a single AC frequency; otherwise null. */
  readonly angle: number | null;
}

/** RMS volts between two terminals through a 10 MΩ meter; DC keeps its sign. */
export function readVolts(
  solver: Solver,
  state: MechanicalState,
  a: TerminalIndex,
  b: TerminalIndex,
  slips?: readonly number[],
): Reading {
  const electrical = solver.solve(state, slips, { a, b, ohms: METER_OHMS });
  const at = (terminal: TerminalIndex) => electrical.node[solver.network.net(terminal)]!;
  return phasorReading(electrical.potentials, at(a), at(b), 'V');
}

function phasorReading(potentials: readonly Potentials[], a: number, b: number, unit: 'V' | 'A'): Reading {
  const parts = potentials.map(({ frequency, re, im }) => ({
    frequency,
    re: re[a]! - re[b]!,
    im: im[a]! - im[b]!,
  }));
  return combine(parts, unit);
}

/** A reading of the parts that the networks of a bench make at their frequencies. */
export function combine(
  parts: readonly { frequency: number; re: number; im: number }[],
  unit: 'V' | 'A',
): Reading {
  const value = Math.sqrt(parts.reduce((sum, { re, im }) => sum + re * re + im * im, 0));
  const present = parts.filter(({ re, im }) => Math.hypot(re, im) > 1e-9 * Math.max(value, 1e-9));
  const only = present.length === 1 ? present[0] : undefined;
  if (!only || value === 0) return { value, unit, angle: null };
  if (only.frequency === 0) return { value: only.re, unit, angle: null };
  return { value, unit, angle: (Math.atan2(only.im, only.re) * 180) / Math.PI };
}

/**
 * Ohms between two terminals at DC with every supply switched off and disconnected; Infinity where
 * nothing joins them. Coils, lamps and windings show their DC resistance.
 */
export const readOhms = (
  solver: Solver,
  state: MechanicalState,
  a: TerminalIndex,
  b: TerminalIndex,
): Reading => ({ value: new Ohmmeter(solver, state).between(a, b), unit: 'Ω', angle: null });

/** What lets a meter's DC through between two nodes: a coil, a lamp, a winding. */
export interface Resistor {
  readonly a: number;
  readonly b: number;
  readonly siemens: number;
}

/** Ohms of one contact state at DC with every supply off, between any two terminals. */
export class Ohmmeter {
  /** Nodes of this state: what closed contacts, leads and inner links join is one. */
  readonly nodes: number;
  readonly resistors: readonly Resistor[];
  private readonly node: Int32Array;
  private readonly reach: UnionFind;

  constructor(
    private readonly solver: Solver,
    state: MechanicalState,
  ) {
    const { circuit, disconnected: network } = solver;
    const { node, nodes } = joinNodes(network, state);
    this.node = node;
    this.nodes = nodes;
    this.resistors = circuit.elements.flatMap((one, element) => {
      if (variantOf(circuit, one, state) === BURNT_THROUGH) return [];
      const y = solver.admittances(element, UNSEALED, 0);
      const n = one.windings.length;
      return network.windings[element]!.map(([p, q], w) => ({
        a: node[p]!,
        b: node[q]!,
        siemens: y[2 * (w * n + w)]!,
      }));
    });
    this.reach = new UnionFind(nodes);
    for (const one of this.resistors) this.reach.union(one.a, one.b);
  }

  nodeOf(terminal: TerminalIndex): number {
    return this.node[this.solver.disconnected.net(terminal)]!;
  }

  /** Ohms; Infinity where nothing joins the two. */
  between(a: TerminalIndex, b: TerminalIndex): number {
    const { resistors, reach } = this;
    const [from, to] = [this.nodeOf(a), this.nodeOf(b)];
    if (from === to) return 0;
    if (reach.find(from) !== reach.find(to)) return Number.POSITIVE_INFINITY;
    const place = new Map<number, number>([[to, -1]]);
    for (const one of resistors)
      for (const end of [one.a, one.b])
        if (reach.find(end) === reach.find(from) && !place.has(end)) place.set(end, place.size - 1);
    const system = new ComplexSystem();
    system.reset(place.size - 1);
    for (const { a: p, b: q, siemens } of resistors) {
      const [pa, pb] = [place.get(p), place.get(q)];
      if (pa !== undefined && pb !== undefined && pa !== pb) system.admittance(pa, pb, siemens, 0);
    }
    const probe = place.get(from)!;
    system.inject(probe, 1, 0);
    return system.solve() ? system.xRe[probe]! : Number.POSITIVE_INFINITY;
  }
}

/** RMS volts of a terminal to earth, or to the reference of its own supply; 0 where it floats. */
export function potentialOf(solver: Solver, electrical: Electrical, terminal: TerminalIndex): number {
  const node = electrical.node[solver.network.net(terminal)]!;
  if (!electrical.defined[electrical.island[node]!]) return 0;
  return Math.sqrt(
    electrical.potentials.reduce((sum, { re, im }) => sum + re[node]! ** 2 + im[node]! ** 2, 0),
  );
}

/** True where a terminal glows: live to earth, or to the reference of its own supply. */
export const isLive = (solver: Solver, electrical: Electrical, terminal: TerminalIndex): boolean =>
  potentialOf(solver, electrical, terminal) > LIVE_VOLTS;

/** True while any supply of the bench is switched on. */
export function anySupplyOn(circuit: Circuit, state: MechanicalState): boolean {
  return circuit.mechanisms.some(
    (mechanism) => isSupplySwitch(mechanism) && (state[mechanism.index]! & SUPPLY_OPEN) === 0,
  );
}
