import type { MotorPlate } from '../catalogue/index.js';
import { Network, type Circuit, type MechanicalState, type SupplyNode } from '../circuit/index.js';
import { fitMotor, type InductionMotor } from '../machines/index.js';
import { perObject } from '../per-object.js';
import { SECONDARY_LIVE } from '../tolerances.js';
import { admittanceOf, admittancesOf, type Admittances } from './admittances.js';
import type { Electrical, Potentials, Short } from './electrical.js';
import { motorField } from './field.js';
import { ComplexSystem } from './linear.js';
import { joinNodes, topologyOf, type LiveSource, type Probe, type Topology } from './topology.js';

const STANDSTILL_CACHE_LIMIT = 200_000;

/** A meter between two terminals. */
export interface Meter {
  readonly a: number;
  readonly b: number;
  readonly ohms: number;
}

/** Weights by which the contact classes of mechanisms make one number; exact while that is a whole one. */
interface Keys {
  readonly radix: Float64Array;
  readonly areExact: boolean;
}

const keysOf = perObject((mechanisms: Circuit['mechanisms']): Keys => {
  let product = 1;
  const radix = Float64Array.from(mechanisms, ({ classes }) => {
    const weight = product;
    product *= classes;
    return weight;
  });
  return { radix, areExact: product < Number.MAX_SAFE_INTEGER };
});

/**
 * Nodal analysis of a circuit in complex phasors, one solution for each contact state: closed contacts join
 * nets into nodes, elements between them make a dense linear system. Solutions with every rotor at rest
 * are kept by the contact state they belong to.
 */
export class Solver {
  readonly motors: readonly InductionMotor[];
  /** By element: the coil or lamp that it is the winding of, or −1. */
  private readonly coilAt: Int32Array;
  private readonly lampAt: Int32Array;
  private whole: Network | null = null;
  private dead: Network | null = null;
  private readonly keys: Keys;
  private readonly kept = new Map<number | string, Electrical>();
  private readonly system = new ComplexSystem();
  private last: { readonly key: number | string; readonly topology: Topology } | null = null;
  /** By frequency, element and variant: admittances with rotors at rest. */
  private readonly atRest = new Map<number, Admittances[][]>();

  constructor(readonly circuit: Circuit) {
    this.motors = circuit.motors.map(({ plate }) => fitted(plate));
    this.coilAt = new Int32Array(circuit.elements.length).fill(-1);
    this.lampAt = this.coilAt.slice();
    circuit.coils.forEach(({ element }, k) => (this.coilAt[element] = k));
    circuit.lamps.forEach(({ element }, k) => (this.lampAt[element] = k));
    this.keys = keysOf(circuit.mechanisms);
  }

  get network(): Network {
    this.whole ??= new Network(this.circuit);
    return this.whole;
  }

  /** The network with every supply disconnected: return and earth are joined in the supply. */
  get disconnected(): Network {
    this.dead ??= new Network(this.circuit, { earthed: false });
    return this.dead;
  }

  /** Same key, same electrical solution. */
  contactKey(state: MechanicalState): number | string {
    const { mechanisms } = this.circuit;
    const { radix, areExact } = this.keys;
    if (!areExact)
      return String.fromCharCode(...mechanisms.map(({ classOf }, k) => 48 + classOf[state[k]!]!));
    let key = 0;
    for (let k = 0; k < mechanisms.length; k += 1) key += radix[k]! * mechanisms[k]!.classOf[state[k]!]!;
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

  /**
   * Admittances of an element at the present slips of the motors; with rotors at rest where none are given,
   * and kept.
   */
  admittances(element: number, variant: number, frequency: number, slips?: readonly number[]): Admittances {
    const { circuit, motors: machines } = this;
    const one = circuit.elements[element]!;
    if (slips && one.law.kind === 'motor')
      return admittancesOf(circuit, one, variant, frequency, {
        machines,
        slip: (motor) => slips[motor] ?? 1,
      });
    let atRest = this.atRest.get(frequency);
    if (!atRest) this.atRest.set(frequency, (atRest = circuit.elements.map(() => [])));
    return (atRest[element]![variant] ??= admittancesOf(circuit, one, variant, frequency, {
      machines,
      slip: () => 1,
    }));
  }

  /**
   * Solves one contact state: lays out its nodes, assembles and factors each frequency, reads what
   * instruments and coils see.
   */
  solve(state: MechanicalState, slips?: readonly number[], meter?: Meter): Electrical {
    const { circuit } = this;
    const { topology, probe } = meter ? this.probed(state, meter) : this.laidOut(state);
    const potentials = circuit.frequencies.map((frequency) => {
      this.assemble(topology, frequency, slips, probe);
      return this.factor(topology, frequency);
    });
    return this.read(state, topology, potentials);
  }

  /** The nodes of a contact state; kept while the next one asked for is the same, as while shafts run up. */
  private laidOut(state: MechanicalState): { topology: Topology; probe: null } {
    const key = this.contactKey(state);
    if (this.last?.key !== key) {
      const { circuit, network } = this;
      const topology = topologyOf(circuit, network, state, joinNodes(network, state), null);
      this.last = { key, topology };
    }
    return { topology: this.last.topology, probe: null };
  }

  private probed(state: MechanicalState, { a, b, ohms }: Meter): { topology: Topology; probe: Probe } {
    const { circuit, network } = this;
    const joined = joinNodes(network, state);
    const at = (terminal: number) => joined.node[network.net(terminal)]!;
    const probe = { a: at(a), b: at(b), ohms };
    return { topology: topologyOf(circuit, network, state, joined, probe), probe };
  }

  /** Stamps everything between the nodes at one frequency. */
  private assemble(
    { elements, sources, unknown, unknowns }: Topology,
    frequency: number,
    slips: readonly number[] | undefined,
    probe: Probe | null,
  ): void {
    const { system, circuit } = this;
    system.reset(unknowns);
    if (unknowns === 0) return;
    for (const { element, variant, windings } of elements) {
      if (windings.length === 1 && windings[0]![0] === windings[0]![1]) continue;
      stamp(system, windings, unknown, this.admittances(element, variant, frequency, slips));
    }
    if (probe) system.admittance(unknown[probe.a]!, unknown[probe.b]!, 1 / probe.ohms, 0);
    const omega = 2 * Math.PI * frequency;
    for (const { source, a, b } of sources) {
      const spec = circuit.sources[source]!;
      const y = admittanceOf(spec, omega);
      const [ra, rb] = [unknown[a]!, unknown[b]!];
      system.admittance(ra, rb, y.re, y.im);
      if (spec.frequency !== frequency) continue;
      const re = y.re * spec.re - y.im * spec.im;
      const im = y.re * spec.im + y.im * spec.re;
      system.inject(ra, re, im);
      system.inject(rb, -re, -im);
    }
  }

  /** Solves what was assembled: the potential of every node, 0 at references and where nothing drives. */
  private factor({ nodes, sources, unknown, unknowns }: Topology, frequency: number): Potentials {
    const { system } = this;
    const re = new Float64Array(nodes);
    const im = new Float64Array(nodes);
    if (unknowns === 0 || !system.solve()) return { frequency, re, im };
    const limit = frequency === 0 ? this.dcLimit(sources, unknown) : 1;
    for (let k = 0; k < nodes; k += 1) {
      const u = unknown[k]!;
      if (u < 0) continue;
      re[k] = system.xRe[u]! * limit;
      im[k] = system.xIm[u]! * limit;
    }
    return { frequency, re, im };
  }

  /** Factor by which a DC supply at its current limit lowers its voltage. */
  private dcLimit(sources: readonly LiveSource[], unknown: Int32Array): number {
    const volts = (node: number) => (unknown[node]! < 0 ? 0 : this.system.xRe[unknown[node]!]!);
    return sources.reduce((factor, { source, a, b }) => {
      const { frequency, re, ohms, currentLimit } = this.circuit.sources[source]!;
      if (frequency !== 0) return factor;
      const amps = Math.abs((re - (volts(a) - volts(b))) / ohms);
      return amps > currentLimit ? Math.min(factor, currentLimit / amps) : factor;
    }, 1);
  }

  /** What coils, lamps and motors have, and what is shorted. */
  private read(state: MechanicalState, topology: Topology, potentials: readonly Potentials[]): Electrical {
    const { circuit, network, coilAt, lampAt } = this;
    const { node, nodes, elements, island, defined } = topology;
    const dc = potentials.filter(({ frequency }) => frequency === 0);
    const shortedTransformers: number[] = [];
    const coils = circuit.coils.length;
    const coilVolts = new Float64Array(coils);
    const coilDcVolts = new Float64Array(coils);
    const lampVolts = new Float64Array(circuit.lamps.length);
    const motors = circuit.motors.map(() => NO_FIELD);
    for (const { element, windings } of elements) {
      const { law } = circuit.elements[element]!;
      const [a, b] = windings[0]!;
      if (law.kind === 'motor') motors[law.motor] = motorField(this.motors[law.motor]!, windings, potentials);
      else if (law.kind === 'transformer') {
        const [x1, x2] = windings[1]!;
        const least = SECONDARY_LIVE * circuit.transformers[law.transformer]!.primaryVoltage;
        if (x1 === x2 && rmsBetween(potentials, a, b) > least) shortedTransformers.push(law.transformer);
      } else if (coilAt[element]! >= 0) {
        coilVolts[coilAt[element]!] = rmsBetween(potentials, a, b);
        coilDcVolts[coilAt[element]!] = rmsBetween(dc, a, b);
      } else if (lampAt[element]! >= 0) lampVolts[lampAt[element]!] = rmsBetween(potentials, a, b);
    }
    const shorts = network.supplyNodes.length === 0 ? [] : this.findShorts(state, node);
    return {
      node,
      nodes,
      shorts,
      shortedTransformers,
      potentials,
      island,
      defined,
      coilVolts,
      coilDcVolts,
      lampVolts,
      motors,
    };
  }

  /** Pairs of supply conductors of different potential in one node. */
  private findShorts(state: MechanicalState, node: Int32Array): Short[] {
    const shorts: Short[] = [];
    const { supplyNodes } = this.network;
    for (let a = 0; a < supplyNodes.length; a += 1) {
      const one = supplyNodes[a]!;
      if (!this.isLive(one, state)) continue;
      for (let b = a + 1; b < supplyNodes.length; b += 1) {
        const other = supplyNodes[b]!;
        if (other.group !== one.group || other.potential === one.potential) continue;
        if (node[one.net] === node[other.net] && this.isLive(other, state)) shorts.push({ a, b });
      }
    }
    return shorts;
  }

  private isLive({ source }: SupplyNode, state: MechanicalState): boolean {
    if (source < 0) return true;
    const { liveIn, mechanism } = this.circuit.sources[source]!;
    return liveIn[state[mechanism]!]!;
  }
}

/** A plate's machine is worked out once. */
const machines = new WeakMap<MotorPlate, InductionMotor>();

function fitted(plate: MotorPlate): InductionMotor {
  const machine = machines.get(plate) ?? fitMotor(plate);
  machines.set(plate, machine);
  return machine;
}

const NO_FIELD: Electrical['motors'][number] = { positive: 0, negative: 0, driven: 'none', windingVolts: [] };

/** Current in winding w is Σ y(w, v) V(v); each winding runs between two nodes. */
function stamp(
  system: ComplexSystem,
  windings: readonly (readonly [number, number])[],
  unknown: Int32Array,
  y: Admittances,
): void {
  const n = windings.length;
  for (let w = 0; w < n; w += 1) {
    const [wa, wb] = windings[w]!;
    const [ra, rb] = [unknown[wa]!, unknown[wb]!];
    for (let v = 0; v < n; v += 1) {
      const re = y[2 * (w * n + v)]!;
      const im = y[2 * (w * n + v) + 1]!;
      const [va, vb] = windings[v]!;
      const [ca, cb] = [unknown[va]!, unknown[vb]!];
      system.add(ra, ca, re, im);
      system.add(ra, cb, -re, -im);
      system.add(rb, ca, -re, -im);
      system.add(rb, cb, re, im);
    }
  }
}

/** RMS volts between two nodes, all frequencies together. */
export function rmsBetween(potentials: readonly Potentials[], a: number, b: number): number {
  let sum = 0;
  for (const { re, im } of potentials) {
    const dr = re[a]! - re[b]!;
    const di = im[a]! - im[b]!;
    sum += dr * dr + di * di;
  }
  return Math.sqrt(sum);
}
