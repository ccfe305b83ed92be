import {
  UnionFind,
  isClosed,
  BURNT_THROUGH,
  variantOf,
  type Circuit,
  type MechanicalState,
  type Motor,
  type TerminalIndex,
} from '../circuit/index.js';
import { admittanceOf } from './admittances.js';
import type { Electrical, Potentials } from './electrical.js';
import { ComplexSystem } from './linear.js';
import { combine, type Reading } from './meter.js';
import type { Solver } from './solver.js';
import { CONTACT_OHMS, EARTH_OHMS } from '../tolerances.js';

/** What devices take from the wiring at each terminal: RMS phasors at one network frequency, amperes. */
export interface Draw {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Currents that devices draw from the wiring at each terminal, at one network frequency. */
export function terminalDraw(
  solver: Solver,
  state: MechanicalState,
  electrical: Electrical,
  network: Potentials,
  slips?: readonly number[],
): Draw {
  const { circuit } = solver;
  const taken = new Taken(circuit.terminals.length);
  drawElements(solver, state, electrical, network, slips, taken);
  drawSources(solver, state, electrical, network, taken);
  return taken;
}

class Taken implements Draw {
  readonly re: Float64Array;
  readonly im: Float64Array;

  constructor(terminals: number) {
    this.re = new Float64Array(terminals);
    this.im = new Float64Array(terminals);
  }

  /** A current that goes in at one terminal and out at the other; −1 is no terminal. */
  add(a: number, b: number, re: number, im: number): void {
    if (a >= 0) {
      this.re[a]! += re;
      this.im[a]! += im;
    }
    if (b >= 0) {
      this.re[b]! -= re;
      this.im[b]! -= im;
    }
  }
}

/** The current in each winding is Σ y(w, v) V(v), as the solution has it. */
function drawElements(
  solver: Solver,
  state: MechanicalState,
  electrical: Electrical,
  { frequency, re, im }: Potentials,
  slips: readonly number[] | undefined,
  taken: Taken,
): void {
  const { circuit, network } = solver;
  circuit.elements.forEach((one, element) => {
    const variant = variantOf(circuit, one, state);
    if (variant === BURNT_THROUGH) return;
    const y = solver.admittances(element, variant, frequency, slips);
    const volts = network.windings[element]!.map(([a, b]) => {
      const [from, to] = [electrical.node[a]!, electrical.node[b]!];
      return { re: re[from]! - re[to]!, im: im[from]! - im[to]! };
    });
    one.windings.forEach(([a, b], w) => {
      const current = { re: 0, im: 0 };
      volts.forEach((v, k) => {
        const at = 2 * (w * volts.length + k);
        current.re += y[at]! * v.re - y[at + 1]! * v.im;
        current.im += y[at]! * v.im + y[at + 1]! * v.re;
      });
      taken.add(a, b, current.re, current.im);
    });
  });
}

/** Sources deliver what the rest of their node draws; the balance is left to the node's own terminals. */
function drawSources(
  solver: Solver,
  state: MechanicalState,
  electrical: Electrical,
  { frequency, re, im }: Potentials,
  taken: Taken,
): void {
  const at = (terminal: number) => electrical.node[solver.network.net(terminal)]!;
  for (const source of solver.circuit.sources) {
    const [a, b] = [at(source.terminal), at(source.reference)];
    if (!source.liveIn[state[source.mechanism]!] || a === b) continue;
    const own = source.frequency === frequency;
    const y = admittanceOf(source, 2 * Math.PI * frequency);
    const vr = re[a]! - re[b]! - (own ? source.re : 0);
    const vi = im[a]! - im[b]! - (own ? source.im : 0);
    const [cr, ci] = [y.re * vr - y.im * vi, y.re * vi + y.im * vr];
    const size = Math.hypot(cr, ci);
    const k = size > source.currentLimit ? source.currentLimit / size : 1;
    taken.add(source.terminal, source.reference, cr * k, ci * k);
  }
}

/** Line current of a motor: the largest that its windings draw from any one node, RMS amperes. */
export function lineAmps(solver: Solver, electrical: Electrical, draw: Draw, motor: Motor): number {
  const byNode = new Map<number, { re: number; im: number }>();
  for (const terminal of motor.terminals) {
    const node = electrical.node[solver.network.net(terminal)]!;
    const sum = byNode.get(node) ?? { re: 0, im: 0 };
    sum.re += draw.re[terminal]!;
    sum.im += draw.im[terminal]!;
    byNode.set(node, sum);
  }
  return Math.max(0, ...[...byNode.values()].map(({ re, im }) => Math.hypot(re, im)));
}

const identities = new WeakMap<object, number>();
let identified = 0;

/**
 * A number of its own for a conductor or contact, the same in every circuit that it is part of, faulty ones
 * included.
 */
function identity(part: object): number {
  const known = identities.get(part);
  if (known !== undefined) return known;
  identified += 1;
  identities.set(part, identified);
  return identified;
}

/** Every way that carries current inside nodes of a contact state. */
function waysOf(circuit: Circuit, state: MechanicalState): Way[] {
  const ways: Way[] = circuit.conductors.map((one) => {
    const { a, b, ohms, wire } = one;
    return { a, b, ohms, external: wire >= 0, id: identity(one) };
  });
  for (const one of circuit.switches) {
    const { a, b } = one;
    if (isClosed(one, state)) ways.push({ a, b, ohms: CONTACT_OHMS, external: false, id: identity(one) });
  }
  for (const terminal of circuit.earthed.slice(1))
    ways.push({ a: circuit.earthed[0]!, b: terminal, ohms: EARTH_OHMS, external: false, id: -1 });
  return ways;
}

/** How current divides inside the nodes of one contact state. */
export class NodeWays {
  readonly ways: readonly Way[];
  private readonly sets: UnionFind;
  private readonly groups = new Map<number, number[]>();
  private at: ReadonlyMap<number, readonly Way[]> | undefined;

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
    const ways = inside.map((k) => this.ways[k]!);
    for (const { a, b } of ways)
      for (const end of [a, b]) if (!place.has(end)) place.set(end, place.size - 1);
    const system = new ComplexSystem();
    system.reset(place.size - 1);
    for (const { a, b, ohms } of ways) system.admittance(place.get(a)!, place.get(b)!, 1 / ohms, 0);
    return { place, system };
  }

  /** Terminals to which a way is the only one from its first end; null where others lead there too. */
  private beyond(link: Way): ReadonlySet<number> | null {
    this.at ??= waysAt(this.ways);
    const met = new Set<number>([link.b]);
    for (const terminal of met)
      for (const way of this.at.get(terminal)!) {
        if (way === link) continue;
        const to = way.a === terminal ? way.b : way.a;
        if (to === link.a) return null;
        met.add(to);
      }
    return met;
  }

  /**
   * Weights with which the draws of a node's terminals make the current from a to b through the inner link
   * or contact between them: one solution of the node's own resistances, good for every draw in this
   * contact state. Nothing where the link is open.
   */
  weights(a: TerminalIndex, b: TerminalIndex): { terminals: number[]; weights: number[] } {
    const link = this.ways.find((way) => !way.external && way.a === a && way.b === b);
    if (!link) return { terminals: [], weights: [] };
    const beyond = this.beyond(link);
    // What lies behind the only way to it is fed through that alone.
    if (beyond) return { terminals: [...beyond], weights: Array.from(beyond, () => 1) };
    const { place, system } = this.system(this.inside(a));
    system.inject(place.get(a)!, -1 / link.ohms, 0);
    system.inject(place.get(b)!, 1 / link.ohms, 0);
    if (!system.solve()) return { terminals: [], weights: [] };
    const terminals = [...place.keys()];
    return { terminals, weights: [...place.values()].map((k) => (k < 0 ? 0 : system.xRe[k]!)) };
  }
}

/** By terminal: the ways that end there. */
function waysAt(ways: readonly Way[]): Map<number, Way[]> {
  const at = new Map<number, Way[]>();
  for (const way of ways)
    for (const end of [way.a, way.b]) {
      const known = at.get(end);
      if (known) known.push(way);
      else at.set(end, [way]);
    }
  return at;
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
  /** The same conductor or contact in every contact state and circuit; −1 of the earth. */
  readonly id: number;
}

/** A wire that is a resistance, and the current in it at one frequency. */
interface LooseFlow {
  readonly wire: number;
  readonly a: number;
  readonly b: number;
  readonly frequency: number;
  readonly re: number;
  readonly im: number;
}

/**
 * Current through every wire, link and closed contact, shared between parallel ways by their small
 * resistances.
 */
export class WireCurrents {
  private readonly ways: readonly Way[];
  private readonly flows: { frequency: number; re: Float64Array; im: Float64Array }[] = [];
  private readonly loose: LooseFlow[] = [];

  constructor(
    private readonly solver: Solver,
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
      this.loose.push(...looseFlows(solver, electrical, network));
    }
  }

  /** Amperes that the wires carry into a terminal; 0 where no wire ends. */
  into(terminal: TerminalIndex): Reading {
    const sign = ({ a, b }: { readonly a: number; readonly b: number }) =>
      b === terminal ? 1 : a === terminal ? -1 : 0;
    return this.sum((way) => (way.external ? sign(way) : 0), sign);
  }

  /** Amperes through a wire of the bench, from its first end to its second; 0 where it is broken. */
  throughWire(wire: number): Reading {
    const conductor = this.solver.circuit.conductors.find((one) => one.wire === wire);
    const id = conductor ? identity(conductor) : 0;
    return this.sum(
      (way) => (way.id === id ? 1 : 0),
      (one) => (one.wire === wire ? 1 : 0),
    );
  }

  private sum(sign: (way: Way) => number, looseSign: (flow: LooseFlow) => number): Reading {
    const parts = this.flows.map(({ frequency, re, im }) => {
      const total = { frequency, re: 0, im: 0 };
      const add = (s: number, r: number, i: number) => {
        total.re += s * r;
        total.im += s * i;
      };
      this.ways.forEach((way, k) => {
        add(sign(way), re[k]!, im[k]!);
      });
      for (const one of this.loose) if (one.frequency === frequency) add(looseSign(one), one.re, one.im);
      return total;
    });
    return combine(parts, 'A');
  }
}

/** Currents in the wires that a loose joint makes resistances. */
function looseFlows({ circuit, network }: Solver, { node }: Electrical, at: Potentials): LooseFlow[] {
  return circuit.elements.flatMap(({ wire, windings, law }, k): LooseFlow[] => {
    if (wire === undefined || law.kind !== 'impedance') return [];
    const [a, b] = windings[0]!;
    const [from, to] = network.windings[k]![0]!.map((net) => node[net]!) as [number, number];
    const re = (at.re[from]! - at.re[to]!) / law.open.ohms;
    const im = (at.im[from]! - at.im[to]!) / law.open.ohms;
    return [{ wire, a, b, frequency: at.frequency, re, im }];
  });
}

/** Potentials inside each node by a nodal solution over its ways; flow from a to b in each way. */
function share(node: NodeWays, draw: Draw): { re: Float64Array; im: Float64Array } {
  const vRe = new Float64Array(draw.re.length);
  const vIm = new Float64Array(draw.im.length);
  for (const { place, system } of node.systems()) {
    for (const [terminal, k] of place) system.inject(k, -draw.re[terminal]!, -draw.im[terminal]!);
    if (!system.solve()) continue;
    for (const [terminal, k] of place) {
      if (k < 0) continue;
      vRe[terminal] = system.xRe[k]!;
      vIm[terminal] = system.xIm[k]!;
    }
  }
  const flow = (v: Float64Array) => Float64Array.from(node.ways, ({ a, b, ohms }) => (v[a]! - v[b]!) / ohms);
  return { re: flow(vRe), im: flow(vIm) };
}
