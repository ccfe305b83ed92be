import {
  UnionFind,
  coilImpedance,
  type Circuit,
  type MechanicalState,
  type Motor,
  type TerminalIndex,
} from '../circuit/index.js';
import { BURNT, SUPPLY_OPEN } from '../catalogue/index.js';
import type { Complex } from '../machines/index.js';
import { LEAST_OHMS, LIVE_VOLTS, METER_OHMS } from '../tolerances.js';
import type { Electrical, Potentials } from './electrical.js';
import { ComplexSystem } from './linear.js';
import type { Solver } from './solver.js';

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
  const at = (terminal: TerminalIndex) => electrical.node[solver.base[terminal] as number] as number;
  return phasorReading(electrical.potentials, at(a), at(b), 'V');
}

function phasorReading(potentials: readonly Potentials[], a: number, b: number, unit: 'V' | 'A'): Reading {
  const parts = potentials.map(({ frequency, re, im }) => ({
    frequency,
    re: (re[a] as number) - (re[b] as number),
    im: (im[a] as number) - (im[b] as number),
  }));
  return combine(parts, unit);
}

function combine(parts: readonly { frequency: number; re: number; im: number }[], unit: 'V' | 'A'): Reading {
  const value = Math.sqrt(parts.reduce((sum, { re, im }) => sum + re * re + im * im, 0));
  const present = parts.filter(({ re, im }) => Math.hypot(re, im) > 1e-9 * Math.max(value, 1e-9));
  const only = present.length === 1 ? present[0] : undefined;
  if (!only || value === 0) return { value, unit, angle: null };
  if (only.frequency === 0) return { value: only.re, unit, angle: null };
  return { value, unit, angle: (Math.atan2(only.im, only.re) * 180) / Math.PI };
}

/** Currents that devices draw from the wiring at each terminal, RMS phasors, at one network frequency. */
export function terminalDraw(
  solver: Solver,
  state: MechanicalState,
  electrical: Electrical,
  network: Potentials,
  slips?: readonly number[],
): { re: Float64Array; im: Float64Array } {
  const { circuit } = solver;
  const re = new Float64Array(circuit.terminals.length);
  const im = new Float64Array(circuit.terminals.length);
  const at = (terminal: number) => electrical.node[solver.base[terminal] as number] as number;
  const omega = 2 * Math.PI * network.frequency;
  const draw = (a: number, b: number, current: Complex) => {
    if (a >= 0) {
      (re[a] as number) += current.re;
      (im[a] as number) += current.im;
    }
    if (b >= 0) {
      (re[b] as number) -= current.re;
      (im[b] as number) -= current.im;
    }
  };
  const through = (
    a: number,
    b: number,
    ohms: number,
    henries: number,
    emf: Complex = { re: 0, im: 0 },
  ): Complex => {
    const x = omega * henries;
    const r = Math.max(ohms, Math.abs(x) > LEAST_OHMS ? 0 : LEAST_OHMS);
    const d = r * r + x * x;
    const vr = (network.re[at(a)] as number) - (network.re[at(b)] as number) - emf.re;
    const vi = (network.im[at(a)] as number) - (network.im[at(b)] as number) - emf.im;
    return { re: (vr * r + vi * x) / d, im: (vi * r - vr * x) / d };
  };
  for (const coil of circuit.coils) {
    const impedance = coilImpedance(circuit, coil, state);
    if (impedance) draw(coil.a, coil.b, through(coil.a, coil.b, impedance.ohms, impedance.henries));
  }
  for (const lamp of circuit.lamps)
    if (state[lamp.mechanism] !== BURNT) draw(lamp.a, lamp.b, through(lamp.a, lamp.b, lamp.ohms, 0));
  for (const load of circuit.loads) draw(load.a, load.b, through(load.a, load.b, load.ohms, load.henries));
  circuit.motors.forEach((motor, k) => {
    const field = electrical.motors[k];
    const machine = solver.motors[k];
    if (!field || !machine || network.frequency === 0) return;
    const row = solver.admittances(machine, k, slips?.[k] ?? 1);
    const n = motor.windings.length;
    motor.windings.forEach(([a, b], w) => {
      let cr = 0;
      let ci = 0;
      field.windingVolts.forEach((v, j) => {
        const y = row[(j - w + n) % n] as Complex;
        cr += y.re * v.re - y.im * v.im;
        ci += y.re * v.im + y.im * v.re;
      });
      draw(a, b, { re: cr, im: ci });
    });
  });
  for (const {
    primary,
    secondary,
    ratio,
    series,
    magnetising,
    primaryOhms,
    secondaryOhms,
  } of circuit.transformers) {
    if (network.frequency === 0) {
      draw(...primary, through(...primary, primaryOhms, 0));
      draw(...secondary, through(...secondary, secondaryOhms, 0));
      continue;
    }
    const [h1, h2] = primary;
    const emf = {
      re: ((network.re[at(h1)] as number) - (network.re[at(h2)] as number)) / ratio,
      im: ((network.im[at(h1)] as number) - (network.im[at(h2)] as number)) / ratio,
    };
    // The current into X1 is what the secondary takes up; the primary draws its opposite by the ratio.
    const current = through(...secondary, series.ohms, series.henries, emf);
    draw(...primary, through(...primary, magnetising.ohms, magnetising.henries));
    draw(...secondary, current);
    draw(...primary, { re: -current.re / ratio, im: -current.im / ratio });
  }
  // Sources deliver what the rest of their node draws; the balance is left to the node's own terminals.
  circuit.sources.forEach((source) => {
    if (!source.liveIn[state[source.mechanism] as number] || at(source.terminal) === at(source.reference))
      return;
    const emf = source.frequency === network.frequency ? { re: source.re, im: source.im } : { re: 0, im: 0 };
    const current = through(source.terminal, source.reference, source.ohms, source.henries, emf);
    const size = Math.hypot(current.re, current.im);
    const k = size > source.currentLimit ? source.currentLimit / size : 1;
    draw(source.terminal, source.reference, { re: current.re * k, im: current.im * k });
  });
  return { re, im };
}

/** Line current of a motor: the largest that its windings draw from any one node, RMS amperes. */
export function lineAmps(
  solver: Solver,
  electrical: Electrical,
  draw: { re: Float64Array; im: Float64Array },
  motor: Motor,
): number {
  const byNode = new Map<number, { re: number; im: number }>();
  for (const terminal of motor.terminals) {
    const node = electrical.node[solver.base[terminal] as number] as number;
    const sum = byNode.get(node) ?? { re: 0, im: 0 };
    sum.re += draw.re[terminal] as number;
    sum.im += draw.im[terminal] as number;
    byNode.set(node, sum);
  }
  return Math.max(0, ...[...byNode.values()].map(({ re, im }) => Math.hypot(re, im)));
}

/** Contact resistance that shares current between parallel closed contacts, ohms. */
const CONTACT_OHMS = 0.002;

/** Every way that carries current inside nodes of a contact state. */
function waysOf(circuit: Circuit, state: MechanicalState): Way[] {
  const ways: Way[] = circuit.conductors.map(({ a, b, ohms, wire }, k) => ({
    a,
    b,
    ohms,
    external: wire >= 0,
    id: k,
  }));
  for (const [k, { a, b, mechanism, closedIn }] of circuit.switches.entries()) {
    if (closedIn[state[mechanism] as number])
      ways.push({ a, b, ohms: CONTACT_OHMS, external: false, id: circuit.conductors.length + k });
  }
  for (const terminal of circuit.earthed.slice(1))
    ways.push({ a: circuit.earthed[0] as TerminalIndex, b: terminal, ohms: 1e-4, external: false, id: -1 });
  return ways;
}

/** How current divides inside the nodes of one contact state. */
export class NodeWays {
  readonly ways: readonly Way[];
  private readonly sets: UnionFind;
  private readonly groups = new Map<number, number[]>();

  constructor(circuit: Circuit, state: MechanicalState) {
    this.ways = waysOf(circuit, state);
    this.sets = new UnionFind(circuit.terminals.length);
    for (const way of this.ways) this.sets.union(way.a, way.b);
    this.ways.forEach((way, k) => {
      const root = this.sets.find(way.a);
      const group = this.groups.get(root);
      if (group) group.push(k);
      else this.groups.set(root, [k]);
    });
  }

  /** The ways inside a terminal's node: where they are the same, so are the weights. */
  signature(terminal: TerminalIndex): string {
    return this.inside(terminal)
      .map((k) => this.ways[k]?.id)
      .join();
  }

  private inside(terminal: TerminalIndex): readonly number[] {
    return this.groups.get(this.sets.find(terminal)) ?? [];
  }

  /** For each node: the unknown of each of its terminals (−1 is its reference), and its conductances. */
  *systems(): Generator<NodeSystem> {
    for (const inside of this.groups.values()) yield this.system(inside);
  }

  private system(inside: readonly number[]): NodeSystem {
    const place = new Map<number, number>();
    const ways = inside.map((k) => this.ways[k] as Way);
    for (const { a, b } of ways)
      for (const end of [a, b]) if (!place.has(end)) place.set(end, place.size - 1);
    const system = new ComplexSystem();
    system.reset(place.size - 1);
    for (const { a, b, ohms } of ways)
      system.admittance(place.get(a) as number, place.get(b) as number, 1 / ohms, 0);
    return { place, system };
  }

  /**
   * Weights with which the draws of a node's terminals make the current from a to b through the inner link or
   * contact between them: one solution of the node's own resistances, good for every draw in this contact state.
   * Nothing where the link is open.
   */
  weights(a: TerminalIndex, b: TerminalIndex): { terminals: number[]; weights: number[] } {
    const link = this.ways.find((way) => !way.external && way.a === a && way.b === b);
    if (!link) return { terminals: [], weights: [] };
    const { place, system } = this.system(this.inside(a));
    system.inject(place.get(a) as number, -1 / link.ohms, 0);
    system.inject(place.get(b) as number, 1 / link.ohms, 0);
    if (!system.solve()) return { terminals: [], weights: [] };
    const terminals = [...place.keys()];
    return { terminals, weights: [...place.values()].map((k) => (k < 0 ? 0 : (system.xRe[k] as number))) };
  }
}

interface NodeSystem {
  readonly place: ReadonlyMap<number, number>;
  readonly system: ComplexSystem;
}

/** A way inside one node: a wire, an inner link or a closed contact. */
interface Way {
  readonly a: number;
  readonly b: number;
  readonly ohms: number;
  readonly external: boolean;
  /** The same conductor or contact in every contact state. */
  readonly id: number;
}

/** Current through every wire, link and closed contact, shared between parallel ways by their small resistances. */
export class WireCurrents {
  private readonly ways: readonly Way[];
  private readonly flows: { frequency: number; re: Float64Array; im: Float64Array }[] = [];

  constructor(
    solver: Solver,
    state: MechanicalState,
    electrical: Electrical = solver.at(state),
    slips?: readonly number[],
  ) {
    const node = new NodeWays(solver.circuit, state);
    this.ways = node.ways;
    for (const network of electrical.potentials) {
      this.flows.push({
        frequency: network.frequency,
        ...share(node, terminalDraw(solver, state, electrical, network, slips)),
      });
    }
  }

  /** Amperes that the wires carry into a terminal; 0 where no wire ends. */
  into(terminal: TerminalIndex): Reading {
    return this.sum((way) => (way.external ? (way.b === terminal ? 1 : way.a === terminal ? -1 : 0) : 0));
  }

  private sum(sign: (way: Way) => number): Reading {
    const parts = this.flows.map(({ frequency, re, im }) => {
      const total = { frequency, re: 0, im: 0 };
      this.ways.forEach((way, k) => {
        const s = sign(way);
        if (s === 0) return;
        total.re += s * (re[k] as number);
        total.im += s * (im[k] as number);
      });
      return total;
    });
    return combine(parts, 'A');
  }
}

/** Potentials inside each node by a nodal solution over its ways; flow from a to b in each way. */
function share(
  node: NodeWays,
  draw: { re: Float64Array; im: Float64Array },
): { re: Float64Array; im: Float64Array } {
  const vRe = new Float64Array(draw.re.length);
  const vIm = new Float64Array(draw.im.length);
  for (const { place, system } of node.systems()) {
    for (const [terminal, k] of place)
      system.inject(k, -(draw.re[terminal] as number), -(draw.im[terminal] as number));
    if (!system.solve()) continue;
    for (const [terminal, k] of place) {
      if (k < 0) continue;
      vRe[terminal] = system.xRe[k] as number;
      vIm[terminal] = system.xIm[k] as number;
    }
  }
  const flow = (v: Float64Array) =>
    Float64Array.from(node.ways, ({ a, b, ohms }) => ((v[a] as number) - (v[b] as number)) / ohms);
  return { re: flow(vRe), im: flow(vIm) };
}

/**
 * Ohms between two terminals at DC with every supply switched off and disconnected; Infinity where
 * nothing joins them. Coils, lamps and windings show their DC resistance.
 */
export function readOhms(
  solver: Solver,
  state: MechanicalState,
  a: TerminalIndex,
  b: TerminalIndex,
): Reading {
  const { circuit } = solver;
  const sets = new UnionFind(circuit.terminals.length);
  for (const way of circuit.conductors) sets.union(way.a, way.b);
  for (const { a: p, b: q, mechanism, closedIn } of circuit.switches) {
    if (circuit.mechanisms[mechanism]?.kind !== 'supply' && closedIn[state[mechanism] as number])
      sets.union(p, q);
  }
  if (sets.find(a) === sets.find(b)) return { value: 0, unit: 'Ω', angle: null };
  const resistors: { a: number; b: number; ohms: number }[] = [];
  let extra = circuit.terminals.length;
  for (const coil of circuit.coils) {
    if (state[coil.winding] !== BURNT)
      resistors.push({ a: sets.find(coil.a), b: sets.find(coil.b), ohms: coil.inrush.ohms });
  }
  for (const lamp of circuit.lamps)
    if (state[lamp.mechanism] !== BURNT)
      resistors.push({ a: sets.find(lamp.a), b: sets.find(lamp.b), ohms: lamp.ohms });
  for (const load of circuit.loads)
    resistors.push({ a: sets.find(load.a), b: sets.find(load.b), ohms: Math.max(load.ohms, LEAST_OHMS) });
  for (const { primary, secondary, primaryOhms, secondaryOhms } of circuit.transformers) {
    resistors.push(
      { a: sets.find(primary[0]), b: sets.find(primary[1]), ohms: primaryOhms },
      { a: sets.find(secondary[0]), b: sets.find(secondary[1]), ohms: secondaryOhms },
    );
  }
  circuit.motors.forEach((motor, k) => {
    const star = extra;
    extra += 1;
    const r1 = solver.motors[k]?.r1 ?? 1;
    for (const [p, q] of motor.windings)
      resistors.push({
        a: p < 0 ? star : sets.find(p),
        b: q < 0 ? star : sets.find(q),
        ohms: Math.max(r1, 1e-3),
      });
  });
  const reach = new UnionFind(extra);
  for (const r of resistors) reach.union(r.a, r.b);
  const ra = sets.find(a);
  const rb = sets.find(b);
  if (reach.find(ra) !== reach.find(rb)) return { value: Number.POSITIVE_INFINITY, unit: 'Ω', angle: null };
  const place = new Map<number, number>([[rb, -1]]);
  const rank = (k: number) => {
    if (reach.find(k) === reach.find(ra) && !place.has(k)) place.set(k, place.size - 1);
  };
  for (const r of resistors) {
    rank(r.a);
    rank(r.b);
  }
  const system = new ComplexSystem();
  system.reset(place.size - 1);
  for (const r of resistors) {
    const pa = place.get(r.a);
    const pb = place.get(r.b);
    if (pa !== undefined && pb !== undefined && pa !== pb) system.admittance(pa, pb, 1 / r.ohms, 0);
  }
  const probe = place.get(ra) as number;
  system.inject(probe, 1, 0);
  if (!system.solve()) return { value: Number.POSITIVE_INFINITY, unit: 'Ω', angle: null };
  return { value: system.xRe[probe] as number, unit: 'Ω', angle: null };
}

/** RMS volts of a terminal to earth, or to the reference of its own supply; 0 where it floats. */
export function potentialOf(solver: Solver, electrical: Electrical, terminal: TerminalIndex): number {
  const node = electrical.node[solver.base[terminal] as number] as number;
  if (!electrical.defined[electrical.island[node] as number]) return 0;
  return Math.sqrt(
    electrical.potentials.reduce(
      (sum, { re, im }) => sum + (re[node] as number) ** 2 + (im[node] as number) ** 2,
      0,
    ),
  );
}

/** True where a terminal glows: live to earth, or to the reference of its own supply. */
export const isLive = (solver: Solver, electrical: Electrical, terminal: TerminalIndex): boolean =>
  potentialOf(solver, electrical, terminal) > LIVE_VOLTS;

/** True while any supply of the bench is switched on. */
export function anySupplyOn(circuit: Circuit, state: MechanicalState): boolean {
  return circuit.mechanisms.some(
    ({ kind, index }) => kind === 'supply' && ((state[index] as number) & SUPPLY_OPEN) === 0,
  );
}
