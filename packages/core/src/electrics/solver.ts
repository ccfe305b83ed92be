import { splitRef } from '../bench/index.js';
import {
  UnionFind,
  coilImpedance,
  type Circuit,
  type MechanicalState,
  type TerminalIndex,
  type Transformer,
} from '../circuit/index.js';
import { BURNT } from '../catalogue/index.js';
import {
  A,
  A2,
  abs,
  add,
  fitMotor,
  mul,
  scale,
  sequenceAdmittance,
  windingAdmittances,
  type Complex,
  type InductionMotor,
} from '../machines/index.js';
import { DRIVEN, LEAST_OHMS, SAME_POTENTIAL, SINGLE_PHASE } from '../tolerances.js';
import type { Driven, Electrical, MotorField, Potentials, Short } from './electrical.js';
import { ComplexSystem } from './linear.js';

/** A supply terminal with a known EMF to its reference. */
export interface SupplyConductor {
  readonly terminal: TerminalIndex;
  readonly base: number;
  readonly re: number;
  readonly im: number;
  readonly name: string;
  readonly tag: string;
  /** Conductors of one group have comparable potentials. */
  readonly group: string;
  /** Index of its source, or −1 for an earthed or reference conductor. */
  readonly source: number;
}

/** Per unit of rated primary voltage from which a shorted secondary is a short circuit. */
const SECONDARY_LIVE = 0.1;

const STANDSTILL_CACHE_LIMIT = 200_000;

/**
 * Nodal analysis of a circuit in complex phasors, one solution for each contact state. Closed contacts,
 * wires and inner links join terminals into nodes by union–find; loads between the few remaining nodes
 * make a dense linear system. Solutions with every rotor at rest are kept by the contact state they belong to.
 */
export class Solver {
  readonly motors: readonly InductionMotor[];
  readonly conductors: readonly SupplyConductor[];
  /** Terminal to base node: what wires and inner links alone join. */
  readonly base: Int32Array;
  readonly bases: number;
  private readonly earth: number;
  private readonly switchBase: readonly (readonly [number, number])[];
  private readonly radix: Float64Array;
  private readonly keyed: boolean;
  private readonly kept = new Map<number | string, Electrical>();
  private readonly system = new ComplexSystem();
  private restAdmittances: (readonly [Complex, Complex, Complex])[] | null = null;

  constructor(readonly circuit: Circuit) {
    const sets = new UnionFind(circuit.terminals.length);
    for (const { a, b } of circuit.conductors) sets.union(a, b);
    const { earthed } = circuit;
    for (const terminal of earthed) sets.union(earthed[0] as number, terminal);
    const number = new Map<number, number>();
    this.base = Int32Array.from(circuit.terminals, (_, terminal) => {
      const root = sets.find(terminal);
      const known = number.get(root);
      if (known !== undefined) return known;
      number.set(root, number.size);
      return number.size - 1;
    });
    this.bases = number.size;
    this.earth = earthed.length > 0 ? (this.base[earthed[0] as number] as number) : -1;
    this.switchBase = circuit.switches.map(({ a, b }) => [this.base[a] as number, this.base[b] as number]);
    this.motors = circuit.motors.map(({ plate }) => fitMotor(plate));
    this.conductors = supplyConductors(circuit, this.base);
    let product = 1;
    this.radix = Float64Array.from(circuit.mechanisms, ({ classes }) => {
      const weight = product;
      product *= classes;
      return weight;
    });
    this.keyed = product < Number.MAX_SAFE_INTEGER;
  }

  /** Same key, same electrical solution. */
  contactKey(state: MechanicalState): number | string {
    const { mechanisms } = this.circuit;
    if (!this.keyed) {
      let text = '';
      for (let k = 0; k < mechanisms.length; k += 1)
        text += String.fromCharCode(48 + (mechanisms[k]?.classOf[state[k] as number] ?? 0));
      return text;
    }
    let key = 0;
    for (let k = 0; k < mechanisms.length; k += 1) {
      key += (this.radix[k] as number) * (mechanisms[k]?.classOf[state[k] as number] ?? 0);
    }
    return key;
  }

  /** The solution of a contact state with every rotor at rest, on which all coil decisions rest. */
  at(state: MechanicalState): Electrical {
    const key = this.contactKey(state);
    const kept = this.kept.get(key);
    if (kept) return kept;
    const solved = this.solve(state);
    if (this.kept.size >= STANDSTILL_CACHE_LIMIT) this.kept.clear();
    this.kept.set(key, solved);
    return solved;
  }

  /** Admittances between a motor's windings; a single-phase motor has one winding and a forward field. */
  admittances(motor: InductionMotor, k: number, slip: number): readonly [Complex, Complex, Complex] {
    if (this.circuit.motors[k]?.connection !== 'single') return windingAdmittances(motor, slip);
    const none = { re: 0, im: 0 };
    return [sequenceAdmittance(motor, slip), none, none];
  }

  /** Winding admittances with the rotor at rest: always the same. */
  private atRest(k: number): readonly [Complex, Complex, Complex] {
    this.restAdmittances ??= this.motors.map((motor, n) => this.admittances(motor, n, 1));
    return this.restAdmittances[k] as readonly [Complex, Complex, Complex];
  }

  /** Base nodes joined into nodes by the contacts that are closed. */
  private join(state: MechanicalState): { node: Int32Array; nodes: number } {
    const sets = new UnionFind(this.bases);
    const { switches } = this.circuit;
    for (let k = 0; k < switches.length; k += 1) {
      const contact = switches[k];
      if (contact?.closedIn[state[contact.mechanism] as number]) {
        const ends = this.switchBase[k] as readonly [number, number];
        sets.union(ends[0], ends[1]);
      }
    }
    const node = new Int32Array(this.bases).fill(-1);
    let nodes = 0;
    for (let k = 0; k < this.bases; k += 1) {
      const root = sets.find(k);
      if ((node[root] as number) < 0) {
        node[root] = nodes;
        nodes += 1;
      }
      node[k] = node[root] as number;
    }
    return { node, nodes };
  }

  private isLive(source: number, state: MechanicalState): boolean {
    const spec = this.circuit.sources[source];
    return spec !== undefined && (spec.liveIn[state[spec.mechanism] as number] ?? false);
  }

  private findShorts(state: MechanicalState, node: Int32Array): Short[] {
    const shorts: Short[] = [];
    const { conductors } = this;
    for (let a = 0; a < conductors.length; a += 1) {
      const one = conductors[a] as SupplyConductor;
      if (one.source >= 0 && !this.isLive(one.source, state)) continue;
      for (let b = a + 1; b < conductors.length; b += 1) {
        const other = conductors[b] as SupplyConductor;
        if (other.group !== one.group || (node[one.base] as number) !== (node[other.base] as number))
          continue;
        if (other.source >= 0 && !this.isLive(other.source, state)) continue;
        const difference = Math.hypot(one.re - other.re, one.im - other.im);
        if (
          difference >
          SAME_POTENTIAL * Math.max(1, Math.hypot(one.re, one.im), Math.hypot(other.re, other.im))
        )
          shorts.push({ a, b });
      }
    }
    return shorts;
  }

  /** Solves one contact state; slips are per motor, 1 where a rotor is at rest. */
  solve(
    state: MechanicalState,
    slips?: readonly number[],
    meter?: { readonly a: number; readonly b: number; readonly ohms: number },
  ): Electrical {
    const { circuit } = this;
    const joined = this.join(state);
    const { node } = joined;
    let { nodes } = joined;
    const shorts = this.findShorts(state, node);
    const starPoint = circuit.motors.map((motor) => (motor.connection === 'star' ? nodes++ : -1));
    const at = (terminal: number) => node[this.base[terminal] as number] as number;
    const windingNodes = circuit.motors.map((motor, k) =>
      motor.windings.map(
        ([start, finish]) =>
          [start < 0 ? starPoint[k] : at(start), finish < 0 ? starPoint[k] : at(finish)] as [number, number],
      ),
    );
    const admittances = this.motors.map((motor, k) =>
      slips ? this.admittances(motor, k, slips[k] ?? 1) : this.atRest(k),
    );
    const earthNode = this.earth >= 0 ? (node[this.earth] as number) : -1;

    const islands = new UnionFind(nodes);
    const loads: { a: number; b: number; ohms: number; henries: number }[] = [];
    const load = (a: number, b: number, ohms: number, henries: number) => {
      if (a === b) return;
      islands.union(a, b);
      loads.push({ a, b, ohms, henries });
    };
    for (const coil of circuit.coils) {
      const impedance = coilImpedance(circuit, coil, state);
      if (impedance) load(at(coil.a), at(coil.b), impedance.ohms, impedance.henries);
    }
    for (const lamp of circuit.lamps)
      if (state[lamp.mechanism] !== BURNT) load(at(lamp.a), at(lamp.b), lamp.ohms, 0);
    for (const { a, b, ohms, henries } of circuit.loads) load(at(a), at(b), ohms, henries);
    if (meter) load(at(meter.a), at(meter.b), meter.ohms, 0);
    for (const windings of windingNodes) for (const [a, b] of windings) islands.union(a, b);
    const transformers = circuit.transformers.map((transformer) => {
      const [h1, h2, x1, x2] = [...transformer.primary, ...transformer.secondary].map(at) as [
        number,
        number,
        number,
        number,
      ];
      islands.union(h1, h2);
      islands.union(x1, x2);
      return { transformer, h1, h2, x1, x2 };
    });
    const sources: { k: number; a: number; b: number }[] = [];
    circuit.sources.forEach((source, k) => {
      if (!this.isLive(k, state)) return;
      const a = at(source.terminal);
      const b = at(source.reference);
      if (a === b) return;
      islands.union(a, b);
      sources.push({ k, a, b });
    });

    // Reference node of each island: earth, else a live source's reference, else its first node (nothing drives it).
    const reference = new Int32Array(nodes).fill(-1);
    const definedRoot = new Uint8Array(nodes);
    if (earthNode >= 0) {
      const root = islands.find(earthNode);
      reference[root] = earthNode;
      definedRoot[root] = 1;
    }
    for (const { b } of sources) {
      const root = islands.find(b);
      if ((reference[root] as number) < 0) reference[root] = b;
      definedRoot[root] = 1;
    }
    // A motor's windings are coupled without being joined: an open winding is induced on by the others.
    const coupled = windingNodes.length + transformers.length > 0 ? new UnionFind(islands.parent) : islands;
    // A secondary that is not earthed is read against its second terminal.
    for (const { h1, x1, x2 } of transformers) {
      const root = islands.find(x2);
      if ((reference[root] as number) < 0) reference[root] = x2;
      coupled.union(h1, x1);
    }
    for (const windings of windingNodes) for (const [a] of windings) coupled.union(a, windings[0]?.[0] ?? a);
    const driven = new Uint8Array(nodes);
    for (const { b } of sources) driven[coupled.find(b)] = 1;
    const unknown = new Int32Array(nodes).fill(-1);
    let n = 0;
    const island = new Int32Array(nodes);
    const defined: boolean[] = [];
    const islandOf = new Int32Array(nodes).fill(-1);
    for (let k = 0; k < nodes; k += 1) {
      const root = islands.find(k);
      if ((islandOf[root] as number) < 0) {
        islandOf[root] = defined.length;
        defined.push(definedRoot[root] === 1);
      }
      island[k] = islandOf[root] as number;
      if ((reference[root] as number) < 0) reference[root] = k;
      if (driven[coupled.find(k)] === 1 && reference[root] !== k) unknown[k] = n++;
    }

    const potentials: Potentials[] = [];
    for (const frequency of circuit.frequencies) {
      const re = new Float64Array(nodes);
      const im = new Float64Array(nodes);
      potentials.push({ frequency, re, im });
      if (n === 0) continue;
      const omega = 2 * Math.PI * frequency;
      const { system } = this;
      system.reset(n);
      for (const { a, b, ohms, henries } of loads)
        stamp(system, unknown[a] as number, unknown[b] as number, ohms, omega * henries);
      windingNodes.forEach((windings, k) => {
        const row = admittances[k];
        if (row) stampMotor(system, windings, unknown, frequency === 0 ? dcAdmittances(this.motors[k]) : row);
      });
      for (const { transformer, h1, h2, x1, x2 } of transformers) {
        if (frequency === 0) {
          system.admittance(unknown[h1] as number, unknown[h2] as number, 1 / transformer.primaryOhms, 0);
          system.admittance(unknown[x1] as number, unknown[x2] as number, 1 / transformer.secondaryOhms, 0);
          continue;
        }
        stamp(
          system,
          unknown[h1] as number,
          unknown[h2] as number,
          transformer.magnetising.ohms,
          omega * transformer.magnetising.henries,
        );
        stampTransformer(system, transformer, omega, [unknown[h1], unknown[h2], unknown[x1], unknown[x2]] as [
          number,
          number,
          number,
          number,
        ]);
      }
      for (const { k, a, b } of sources) {
        const source = circuit.sources[k];
        if (!source) continue;
        const { ohms } = source;
        const x = omega * source.henries;
        const d = ohms * ohms + x * x;
        const yRe = ohms / d;
        const yIm = -x / d;
        const ra = unknown[a] as number;
        const rb = unknown[b] as number;
        system.admittance(ra, rb, yRe, yIm);
        if (source.frequency !== frequency) continue;
        const iRe = yRe * source.re - yIm * source.im;
        const iIm = yRe * source.im + yIm * source.re;
        system.inject(ra, iRe, iIm);
        system.inject(rb, -iRe, -iIm);
      }
      if (!system.solve()) continue;
      const limit = frequency === 0 ? this.dcLimit(sources, unknown) : 1;
      for (let k = 0; k < nodes; k += 1) {
        const u = unknown[k] as number;
        if (u < 0) continue;
        re[k] = (system.xRe[u] as number) * limit;
        im[k] = (system.xIm[u] as number) * limit;
      }
    }

    const volts = (a: TerminalIndex, b: TerminalIndex) => rmsBetween(potentials, at(a), at(b));
    const dc = potentials.filter(({ frequency }) => frequency === 0);
    return {
      node,
      nodes,
      shorts,
      shortedTransformers: transformers.flatMap(({ transformer, h1, h2, x1, x2 }, k) =>
        x1 === x2 && rmsBetween(potentials, h1, h2) > SECONDARY_LIVE * transformer.primaryVoltage ? [k] : [],
      ),
      potentials,
      island,
      defined,
      coilVolts: Float64Array.from(circuit.coils, (coil) =>
        state[coil.winding] === BURNT ? 0 : volts(coil.a, coil.b),
      ),
      coilDcVolts: Float64Array.from(circuit.coils, (coil) =>
        state[coil.winding] === BURNT ? 0 : rmsBetween(dc, at(coil.a), at(coil.b)),
      ),
      lampVolts: Float64Array.from(circuit.lamps, (lamp) =>
        state[lamp.mechanism] === BURNT ? 0 : volts(lamp.a, lamp.b),
      ),
      motors: circuit.motors.map((_, k) =>
        motorField(this.motors[k] as InductionMotor, windingNodes[k] ?? [], potentials),
      ),
    };
  }

  /** Factor by which a DC supply at its current limit lowers its voltage. */
  private dcLimit(sources: readonly { k: number; a: number; b: number }[], unknown: Int32Array): number {
    let factor = 1;
    for (const { k, a, b } of sources) {
      const source = this.circuit.sources[k];
      if (!source || source.frequency !== 0) continue;
      const va = (unknown[a] as number) < 0 ? 0 : (this.system.xRe[unknown[a] as number] as number);
      const vb = (unknown[b] as number) < 0 ? 0 : (this.system.xRe[unknown[b] as number] as number);
      const amps = Math.abs((source.re - (va - vb)) / source.ohms);
      if (amps > source.currentLimit) factor = Math.min(factor, source.currentLimit / amps);
    }
    return factor;
  }
}

function supplyConductors(circuit: Circuit, base: Int32Array): SupplyConductor[] {
  const conductors: SupplyConductor[] = circuit.sources.map((source, k) => ({
    terminal: source.terminal,
    base: base[source.terminal] as number,
    re: source.re,
    im: source.im,
    name: source.conductor,
    tag: source.tag,
    group: source.frequency === 0 ? source.tag : 'ac',
    source: k,
  }));
  const add = (terminal: TerminalIndex, group: string) => {
    const { tag, terminal: name } = splitRef(circuit.terminals[terminal] ?? '');
    conductors.push({ terminal, base: base[terminal] as number, re: 0, im: 0, name, tag, group, source: -1 });
  };
  for (const terminal of circuit.earthed) add(terminal, 'ac');
  for (const { frequency, reference, tag } of circuit.sources) if (frequency === 0) add(reference, tag);
  return conductors;
}

function stamp(system: ComplexSystem, a: number, b: number, ohms: number, reactance: number): void {
  const r = Math.max(ohms, Math.abs(reactance) > LEAST_OHMS ? 0 : LEAST_OHMS);
  const d = r * r + reactance * reactance;
  system.admittance(a, b, r / d, -reactance / d);
}

/** I = ((V(H1) − V(H2)) / ratio − (V(X1) − V(X2))) / Z leaves at X1 and enters at H1, divided by the ratio. */
function stampTransformer(
  system: ComplexSystem,
  { ratio, series }: Transformer,
  omega: number,
  nodes: readonly [number, number, number, number],
): void {
  const x = omega * series.henries;
  const d = series.ohms * series.ohms + x * x;
  const weights = [1 / ratio, -1 / ratio, -1, 1];
  weights.forEach((row, r) => {
    weights.forEach((column, c) =>
      system.add(
        nodes[r] as number,
        nodes[c] as number,
        (row * column * series.ohms) / d,
        (-row * column * x) / d,
      ),
    );
  });
}

/** A winding at DC is its resistance alone. */
function dcAdmittances(motor: InductionMotor | undefined): readonly [Complex, Complex, Complex] {
  const none = { re: 0, im: 0 };
  return [{ re: 1 / Math.max(motor?.r1 ?? 1, 1e-3), im: 0 }, none, none];
}

/** Current in winding w is Σ y(w, v) V(v); winding v runs between its two nodes. */
function stampMotor(
  system: ComplexSystem,
  windings: readonly (readonly [number, number])[],
  unknown: Int32Array,
  row: readonly [Complex, Complex, Complex],
): void {
  const n = windings.length;
  for (let w = 0; w < n; w += 1) {
    for (let v = 0; v < n; v += 1) {
      const y = row[(v - w + n) % n] as Complex;
      const [wa, wb] = windings[w] as readonly [number, number];
      const [va, vb] = windings[v] as readonly [number, number];
      const ra = unknown[wa] as number;
      const rb = unknown[wb] as number;
      const ca = unknown[va] as number;
      const cb = unknown[vb] as number;
      system.add(ra, ca, y.re, y.im);
      system.add(ra, cb, -y.re, -y.im);
      system.add(rb, ca, -y.re, -y.im);
      system.add(rb, cb, y.re, y.im);
    }
  }
}

/** RMS volts between two nodes, all frequencies together. */
export function rmsBetween(potentials: readonly Potentials[], a: number, b: number): number {
  let sum = 0;
  for (const { re, im } of potentials) {
    const dr = (re[a] as number) - (re[b] as number);
    const di = (im[a] as number) - (im[b] as number);
    sum += dr * dr + di * di;
  }
  return Math.sqrt(sum);
}

function motorField(
  machine: InductionMotor,
  windings: readonly (readonly [number, number])[],
  potentials: readonly Potentials[],
): MotorField {
  const network = potentials.find(({ frequency }) => frequency > 0);
  const zero = { re: 0, im: 0 };
  if (!network) return { positive: 0, negative: 0, driven: 'none', windingVolts: [zero, zero, zero] };
  const [u = zero, v = zero, w = zero] = windings.map(([a, b]) => ({
    re: (network.re[a] as number) - (network.re[b] as number),
    im: (network.im[a] as number) - (network.im[b] as number),
  }));
  if (windings.length === 1)
    return {
      positive: abs(u),
      negative: 0,
      driven: fieldName(abs(u), 0, machine.windingVolts),
      windingVolts: [u],
    };
  const positive = abs(scale(add(u, add(mul(A, v), mul(A2, w))), 1 / 3));
  const negative = abs(scale(add(u, add(mul(A2, v), mul(A, w))), 1 / 3));
  return {
    positive,
    negative,
    driven: fieldName(positive, negative, machine.windingVolts),
    windingVolts: [u, v, w],
  };
}

function fieldName(positive: number, negative: number, rated: number): Driven {
  const strong = Math.max(positive, negative);
  if (strong < DRIVEN * rated) return 'none';
  if (Math.min(positive, negative) > SINGLE_PHASE * strong) return 'single-phase';
  return positive > negative ? 'forward' : 'reverse';
}
