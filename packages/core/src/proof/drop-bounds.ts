import {
  SEALED,
  UNSEALED,
  UnionFind,
  impedanceOf,
  type Circuit,
  type Element,
  type Network,
  type SupplyNode,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { mostRise, secondOrder } from './rises.js';
import type { SearchMap } from './look.js';
import type { Trunk } from './trunk.js';
import { sequenceAdmittance, windingAdmittances, type Complex } from '../machines/index.js';

/**
 * Windings of a motor that can load one line at once, in per unit of the largest voltage across them, by
 * how they are joined.
 */
const LINE_SHARE = { star: 2 / 3, delta: 2, open: 3, single: 1 } as const;

/**
 * How far supplies give way under their load, part by part: what no contact and no load can ever join to a
 * supply does not load it, so a DC control circuit does not feel the motor.
 */
export class DropBounds {
  private readonly network: Network;
  private readonly parts: UnionFind;
  private readonly volts = new Map<number, number>();
  private readonly rises = new Map<number, number>();

  constructor(
    private readonly solver: Solver,
    private readonly map: SearchMap,
    private readonly trunk: Trunk,
  ) {
    const { network } = map;
    this.network = network;
    this.parts = new UnionFind(network.nets);
    for (const { a, b } of [...network.contacts, ...network.loads]) this.parts.union(a, b);
    // Return and earth of AC supplies are one place.
    const [first, ...others] = network.supplyNodes.filter(({ group }) => group === 'ac');
    for (const { net } of others) this.parts.union(first!.net, net);
  }

  /**
   * Upper bound of the volts that all loads around a net together, each at the largest voltage there and
   * with every rotor at rest, drop in a source's impedance. Infinity where a DC supply could reach its
   * current limit or conductors of two supplies that have no common potential meet: then only whole
   * solutions decide.
   */
  at(net: number): number {
    const part = this.parts.find(net);
    const known = this.volts.get(part);
    if (known !== undefined) return known;
    const found = this.dropBoundOf(part);
    this.volts.set(part, found);
    return found;
  }

  /**
   * Upper bound of the volts by which all loads around a net together can raise a line of an AC supply
   * against earth: that is less than they can drop, for motors lag.
   */
  riseAt(net: number): number {
    const part = this.parts.find(net);
    const known = this.rises.get(part);
    if (known !== undefined) return known;
    const most = this.at(net);
    const found = Number.isFinite(most) ? Math.min(most, this.riseOf(part, most)) : most;
    this.rises.set(part, found);
    return found;
  }

  /** True where the bounds around a net are no wider than those that another board's answers were found by. */
  isWithin(other: DropBounds, net: number, there: number): boolean {
    if (this.at(net) > other.at(there)) return false;
    const rise = other.rises.get(other.parts.find(there));
    return rise === undefined || this.riseAt(net) <= rise;
  }

  private riseOf(part: number, most: number): number {
    const { solver, map, network, parts, trunk } = this;
    const isHere = (net: number) => parts.find(net) === part;
    const sources = solver.circuit.sources.filter(({ terminal }) => isHere(network.net(terminal)));
    if (sources.some(({ frequency }) => frequency === 0)) return most;
    const elements = new Set(network.loads.flatMap(({ a, element }) => (isHere(a) ? [element] : [])));
    const volts = mostVolts(network.supplyNodes.filter(({ net }) => isHere(net)));
    const ohms = Math.max(0, ...sources.map((one) => impedance(one.ohms, one.frequency, one.henries)));
    const frequency = sources[0]?.frequency ?? 0;
    let sum = 0;
    for (const element of elements) {
      const { law } = solver.circuit.elements[element]!;
      const rise = law.kind === 'motor' ? mostRise(solver, map, trunk, law.motor) : null;
      sum += rise ?? mostSiemens(solver, solver.circuit.elements[element]!, frequency) * volts * ohms;
    }
    const least = Math.min(...sources.map(({ re, im }) => Math.hypot(re, im)));
    return sum + secondOrder(most, least);
  }

  /**
   * Upper bound of the part of a secondary's voltage that all loads on it together drop in the transformer,
   * per unit.
   */
  secondary(transformer: number): number {
    const { solver, network } = this;
    const { circuit } = solver;
    const { secondary, series } = circuit.transformers[transformer]!;
    const own = transformerElement(circuit, transformer);
    const seen = new Set(secondary.map((end) => network.net(end)));
    const elements = new Set<number>();
    for (const net of seen) {
      // What a conductor of a supply holds is fed by that.
      if (network.supplyNodeAt[net]) continue;
      const on = (a: number, b: number) => {
        if (a === net) seen.add(b);
        else if (b === net) seen.add(a);
        return a === net || b === net;
      };
      for (const { a, b } of network.contacts) on(a, b);
      for (const { a, b, element } of network.loads) if (element !== own && on(a, b)) elements.add(element);
    }
    const frequency = Math.max(0, ...circuit.frequencies);
    const siemens = [...elements].reduce(
      (sum, element) => sum + mostSiemens(solver, circuit.elements[element]!, frequency),
      0,
    );
    return siemens * impedance(series.ohms, frequency, series.henries);
  }

  private dropBoundOf(part: number): number {
    const { solver, network, parts } = this;
    const isHere = (net: number) => parts.find(net) === part;
    const supplyNodes = network.supplyNodes.filter(({ net }) => isHere(net));
    // A conductor holds no voltage to one of another supply, be it the only one here of its own.
    if (new Set(supplyNodes.map(({ group }) => group)).size > 1) return Number.POSITIVE_INFINITY;
    const sources = supplyNodes.flatMap(({ source }) =>
      source < 0 ? [] : [solver.circuit.sources[source]!],
    );
    const elements = new Set(network.loads.flatMap(({ a, element }) => (isHere(a) ? [element] : [])));
    const frequency = sources[0]?.frequency ?? 0;
    const siemens = [...elements].reduce(
      (sum, element) => sum + mostSiemens(solver, solver.circuit.elements[element]!, frequency),
      0,
    );
    const amps = siemens * mostVolts(supplyNodes);
    if (sources.some(({ currentLimit }) => amps > currentLimit)) return Number.POSITIVE_INFINITY;
    const ohms = sources.map((source) => impedance(source.ohms, source.frequency, source.henries));
    return amps * Math.max(0, ...ohms);
  }
}

/** Place of a transformer among the elements of its circuit. */
export const transformerElement = ({ elements }: Circuit, transformer: number): number =>
  elements.findIndex(({ law }) => law.kind === 'transformer' && law.transformer === transformer);

const impedance = (ohms: number, frequency: number, henries: number): number =>
  Math.hypot(ohms, 2 * Math.PI * frequency * henries);

/** Largest voltage between two conductors. */
function mostVolts(supplyNodes: readonly SupplyNode[]): number {
  const between = (a: SupplyNode, b: SupplyNode) =>
    a.group === b.group
      ? Math.hypot(a.re - b.re, a.im - b.im)
      : Math.hypot(a.re, a.im) + Math.hypot(b.re, b.im);
  return Math.max(0, ...supplyNodes.flatMap((a) => supplyNodes.map((b) => between(a, b))));
}

/** Largest admittance with which an element can load a conductor at a frequency. */
function mostSiemens(solver: Solver, { law }: Element, frequency: number): number {
  const { circuit } = solver;
  const siemens = (part: { ohms: number; henries: number }) =>
    1 / Math.max(impedance(part.ohms, frequency, part.henries), 1e-9);
  switch (law.kind) {
    case 'impedance':
      return Math.max(...[UNSEALED, SEALED].map((variant) => siemens(impedanceOf(law, variant))));
    case 'motor':
      return motorSiemens(circuit, solver, law.motor);
    case 'transformer': {
      const { series, magnetising, ratio } = circuit.transformers[law.transformer]!;
      return siemens(magnetising) + siemens(series) / (ratio * ratio);
    }
  }
}

/**
 * Eigenvalues of the circulant are the sequence admittances; joined inside, the windings have no zero
 * sequence.
 */
function motorSiemens(circuit: Circuit, solver: Solver, k: number): number {
  const size = (y: Complex) => Math.hypot(y.re, y.im);
  const machine = solver.motors[k]!;
  const { connection } = circuit.motors[k]!;
  const [y0, y1, y2] = windingAdmittances(machine, 1);
  const zero = connection === 'open' ? size({ re: y0.re + y1.re + y2.re, im: y0.im + y1.im + y2.im }) : 0;
  return Math.max(zero, size(sequenceAdmittance(machine, 1))) * LINE_SHARE[connection];
}
