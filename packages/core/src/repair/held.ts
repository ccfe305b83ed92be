import type { Bench } from '../bench/index.js';
import {
  isSwitchgear,
  Network,
  UnionFind,
  closedIn,
  compile,
  heatersOf,
  isLiveSupplyNode,
  supplyEarths,
  type Circuit,
  type MechanicalState,
} from '../circuit/index.js';
import { REST } from '../catalogue/index.js';
import { Solver } from '../electrics/index.js';
import type { PropertyId } from '../proof/index.js';

/** A wire between two pins. */
export interface PinWire {
  readonly a: number;
  readonly b: number;
}

/**
 * What a wiring fails to do at a checkpoint: two pins that must not meet, or a load that should or should
 * not have its voltage, by conductors alone or shared with other loads. A short circuit goes along some
 * ways, one of which must be cut.
 * `wants` is a coil's or lamp's rated voltage, or how many ends of a motor live conductors must hold.
 */
export type Failing =
  | {
      readonly kind: 'short';
      readonly state: MechanicalState;
      readonly ways: readonly (readonly [number, number])[];
    }
  | {
      readonly kind: 'live' | 'dead';
      readonly state: MechanicalState;
      readonly ends: readonly number[];
      readonly wants: number;
      /** The ends are a motor's. */
      readonly isMotor?: boolean;
      readonly shared?: boolean;
    }
  | { readonly kind: 'earth'; readonly from: number }
  /** Something is joined that must not be, whatever is worked: one of these wires must go. */
  | { readonly kind: 'way'; readonly wires: readonly number[] };

/**
 * What a property keeps apart: pins, each with those that it must not be joined to while some contacts are
 * closed.
 */
interface Barrier {
  readonly property: PropertyId;
  readonly closed: readonly PinWire[];
  readonly pairs: readonly (readonly [number, readonly number[]])[];
}

/** Per unit by which the primary voltage of a transformer in a right wiring may differ from its rating. */
const SAME_VOLTS = 0.1;

/** What a load has between its ends. */
interface Across {
  readonly volts: number;
  readonly isDc: boolean;
}
const NONE: Across = { volts: 0, isDc: false };

/** Potentials of AC supplies, and of the transformers behind them. */
const isAc = (group: string): boolean => group === 'ac' || group === '';

const UNREACHED = -2;
const NO_WIRE = -1;

/**
 * The network of a board under some wires and in one state: pins are terminals with what always joins them
 * (inner links, wires that stay), and conductors hold what closed contacts and heaters join to them. The
 * two ends of a heater are two pins: it makes a difference on which a lead ends.
 */
export class HeldNetwork {
  readonly circuit: Circuit;
  readonly pins: number;
  readonly pinOf: Int32Array;
  readonly motorEnds: readonly (readonly number[])[];
  /** Pins of the supplies' PE. */
  readonly bonded: readonly number[];
  protected readonly solver: Solver;
  protected readonly network: Network;
  protected readonly sets: UnionFind;
  /** By root of a node: the potential that holds it, or −1. */
  protected readonly held: Int32Array;
  private readonly earthPins: readonly number[];
  /** Pins of the line conductors of AC supplies. */
  private readonly lines: readonly number[];
  private readonly barriers: readonly Barrier[];
  private readonly potentials: readonly {
    readonly group: string;
    readonly re: number;
    readonly im: number;
  }[];
  private readonly heaters: readonly PinWire[];
  private readonly closedIn = new WeakMap<MechanicalState, readonly PinWire[]>();
  /** Every pin by itself. */
  private readonly apart: Int32Array;
  /** By root of a held node: the pin by which it was held first. */
  private readonly met: Int32Array;
  /** Roots at which conductors of two supplies meet that have nothing to do with each other. */
  private readonly mixed = new Set<number>();
  private readonly cameFrom: Int32Array;
  private readonly cameBy: Int32Array;
  private readonly queue: Int32Array;
  private readonly transformers: readonly {
    readonly primary: readonly [number, number];
    readonly secondary: readonly [number, number];
    readonly primaryVoltage: number;
    readonly potential: number;
  }[];

  constructor(bench: Bench) {
    this.solver = new Solver(compile(bench));
    const { circuit } = this.solver;
    this.circuit = circuit;
    // A frame must be earthed by a wire of its own, so earth and return are two pins.
    const heaters = heatersOf(circuit);
    const conductors = circuit.conductors.filter((conductor) => !heaters.includes(conductor));
    this.network = new Network({ ...circuit, conductors }, { earthed: false });
    const { netOf, terminalNets, nets, potentials: known } = this.network;
    this.heaters = heaters.map(({ a, b }) => ({ a: netOf[a]!, b: netOf[b]! }));
    this.pinOf = netOf;
    this.pins = terminalNets;
    const pin = (terminal: number): number => netOf[terminal]!;
    this.motorEnds = circuit.motors.map(({ terminals }) => terminals.map(pin));
    this.earthPins = circuit.motors.map(({ earth }) => pin(earth));
    this.bonded = supplyEarths(circuit).map(pin);
    const potentials = [...known];
    this.potentials = potentials;
    this.transformers = circuit.transformers.map(
      ({ primary, secondary, primaryVoltage, secondaryVoltage }) => ({
        primary: [pin(primary[0]), pin(primary[1])],
        secondary: [pin(secondary[0]), pin(secondary[1])],
        primaryVoltage,
        potential: potentials.push({ group: '', re: secondaryVoltage, im: 0 }) - 1,
      }),
    );
    this.lines = circuit.sources.flatMap(({ terminal, frequency }) => (frequency > 0 ? [pin(terminal)] : []));
    this.sets = new UnionFind(nets);
    this.apart = Int32Array.from({ length: nets }, (_, k) => k);
    this.held = new Int32Array(nets);
    this.met = new Int32Array(nets);
    this.cameFrom = new Int32Array(nets);
    this.cameBy = new Int32Array(nets);
    this.queue = new Int32Array(nets);
    this.barriers = this.barriersOf();
  }

  /** Pins joined by wires and by the contacts that are closed. */
  private join(wires: readonly PinWire[], state: MechanicalState): void {
    const { sets } = this;
    sets.parent.set(this.apart);
    for (let k = 0; k < wires.length; k += 1) {
      const { a, b } = wires[k]!;
      sets.union(a, b);
    }
    const closed = this.closed(state);
    for (let k = 0; k < closed.length; k += 1) {
      const { a, b } = closed[k]!;
      sets.union(a, b);
    }
  }

  /** Contacts that are closed in a state. */
  private closed(state: MechanicalState): readonly PinWire[] {
    let closed = this.closedIn.get(state);
    if (!closed) {
      closed = [...this.network.contacts.filter(closedIn(state)), ...this.heaters];
      this.closedIn.set(state, closed);
    }
    return closed;
  }

  /** Joins a wiring in a state and marks what the live conductors hold; a short circuit where two meet. */
  protected hold(wires: readonly PinWire[], state: MechanicalState): Failing | null {
    const { sets, held } = this;
    this.join(wires, state);
    held.fill(-1);
    const { met, mixed } = this;
    mixed.clear();
    let live = false;
    for (const supplyNode of this.network.supplyNodes) {
      if (!isLiveSupplyNode(supplyNode, state)) continue;
      const { net: pin, potential, supply } = supplyNode;
      live ||= supply >= 0;
      const root = sets.find(pin);
      const other = held[root]!;
      if (other >= 0 && !this.areOfOneSupply(other, potential)) {
        mixed.add(root);
        continue;
      }
      if (other >= 0 && other !== potential) return { kind: 'short', state, ways: [[met[root]!, pin]] };
      held[root] = potential;
      met[root] = pin;
    }
    if (!live) return null;
    for (const { primary, secondary, primaryVoltage, potential } of this.transformers) {
      const [h1, h2] = primary.map((pin) => held[sets.find(pin)]!) as [number, number];
      const volts = h1 < 0 || h2 < 0 ? 0 : this.volts(h1, h2);
      if (Math.abs(volts - primaryVoltage) > SAME_VOLTS * primaryVoltage)
        return { kind: 'dead', state, ends: primary, wants: primaryVoltage };
      // Whichever side is earthed stands for the reference; where none is, the second.
      const [x1, x2] = secondary;
      const [far, near] = held[sets.find(x1)] === this.network.earthPotential ? [x2, x1] : [x1, x2];
      const [nearRoot, farRoot] = [sets.find(near), sets.find(far)];
      if (nearRoot === farRoot) return { kind: 'short', state, ways: [[near, far]] };
      if (held[farRoot]! >= 0 && held[farRoot] !== potential) {
        const ways = [
          [far, met[farRoot]!] as const,
          ...(held[nearRoot]! >= 0 ? [[near, met[nearRoot]!] as const] : []),
        ];
        return { kind: 'short', state, ways };
      }
      if (held[nearRoot]! < 0) [held[nearRoot], met[nearRoot]] = [this.network.earthPotential, near];
      [held[farRoot], met[farRoot]] = [potential, far];
    }
    return null;
  }

  /**
   * True of two potentials between which there is a voltage: of the same supply, or behind transformers of
   * it.
   */
  private areOfOneSupply(p: number, q: number): boolean {
    const [one, other] = [this.potentials[p]!.group, this.potentials[q]!.group];
    return one === other || (isAc(one) && isAc(other));
  }

  /** Volts across a load between two pins; null where other loads share them. */
  protected voltsAcross(a: number, b: number): Across | null {
    const { sets, held, mixed } = this;
    const [one, other] = [sets.find(a), sets.find(b)];
    if (one === other) return NONE;
    if (mixed.has(one) || mixed.has(other)) return null;
    const [p, q] = [held[one]!, held[other]!];
    if (p >= 0 && q >= 0)
      return this.areOfOneSupply(p, q)
        ? { volts: this.volts(p, q), isDc: !isAc(this.potentials[p]!.group) }
        : NONE;
    const reached = new Set<number>([p, q].filter((potential) => potential >= 0));
    const crossed = this.flood(
      [one, other].filter((root) => held[root]! < 0),
      a,
      b,
      reached,
    );
    if (reached.size <= 1) return NONE;
    return crossed ? null : NONE;
  }

  /**
   * Adds the potentials that loads other than the one between two pins reach from open nodes; true where
   * one is reached, or the other end.
   */
  private flood(from: readonly number[], a: number, b: number, reached: Set<number>): boolean {
    const { sets, held } = this;
    const seen = new Set(from);
    const queue = [...from];
    let crossed = false;
    for (const root of queue) {
      for (const load of this.network.loads) {
        if ((load.a === a && load.b === b) || (load.a === b && load.b === a)) continue;
        const [x, y] = [sets.find(load.a), sets.find(load.b)];
        if (x === y || (x !== root && y !== root)) continue;
        const to = x === root ? y : x;
        if (held[to]! >= 0) {
          reached.add(held[to]!);
          crossed = true;
        } else if (!seen.has(to)) {
          seen.add(to);
          queue.push(to);
        }
      }
    }
    return crossed;
  }

  /** Volts between two potentials. */
  volts(p: number, q: number): number {
    const [one, other] = [this.potentials[p], this.potentials[q]];
    return one && other ? Math.hypot(one.re - other.re, one.im - other.im) : 0;
  }

  /** Numbers of the pins' nodes under some wires alone: two wirings of one signature are one circuit. */
  nets(wires: readonly PinWire[]): Int32Array {
    this.sets.parent.set(this.apart);
    for (const { a, b } of wires) this.sets.union(a, b);
    return this.roots();
  }

  private roots(): Int32Array {
    const roots = new Int32Array(this.pins);
    for (let pin = 0; pin < roots.length; pin += 1) roots[pin] = this.sets.find(pin);
    return roots;
  }

  /**
   * Roots of the pins' nodes with the contacts of a state closed, and by root the potential that holds it,
   * or −1.
   */
  potentialsIn(wires: readonly PinWire[], state: MechanicalState): { nodes: Int32Array; held: Int32Array } {
    this.hold(wires, state);
    return { nodes: this.roots(), held: this.held.slice() };
  }

  /** Pins that the live supplies of a state, earth, and transformers hold. */
  suppliedPins(state: MechanicalState): number[] {
    return [
      ...this.network.supplyNodes.flatMap((supplyNode) =>
        isLiveSupplyNode(supplyNode, state) ? [supplyNode.net] : [],
      ),
      ...this.transformers.flatMap(({ secondary }) => secondary),
    ];
  }

  /** The pin of a terminal. */
  pin(ref: string): number {
    return this.pinOf[this.circuit.indexOf.get(ref)!]!;
  }

  /**
   * Wires on a shortest way between pins and goals through wires and closed contacts, and through loads
   * where told so; null where there is none.
   */
  wiresOnWay(
    wires: readonly PinWire[],
    state: MechanicalState,
    from: number,
    goals: readonly number[],
    shared = false,
  ): number[] | null {
    return this.wiresAlong(wires, this.closed(state), from, goals, shared);
  }

  private wiresAlong(
    wires: readonly PinWire[],
    closed: readonly PinWire[],
    from: number,
    goals: readonly number[],
    shared = false,
  ): number[] | null {
    const { cameFrom, cameBy, queue } = this;
    cameBy.fill(UNREACHED);
    cameBy[from] = NO_WIRE;
    cameFrom[from] = -1;
    queue[0] = from;
    let count = 1;
    const reach = (here: number, { a, b }: PinWire, wire: number): void => {
      const to = a === here ? b : b === here ? a : here;
      if (cameBy[to] !== UNREACHED) return;
      cameBy[to] = wire;
      cameFrom[to] = here;
      queue[count] = to;
      count += 1;
    };
    for (let order = 0; order < count; order += 1) {
      const here = queue[order]!;
      if (goals.includes(here)) {
        const found: number[] = [];
        for (let at = here; at >= 0; at = cameFrom[at]!) if (cameBy[at]! >= 0) found.push(cameBy[at]!);
        return found;
      }
      for (let k = 0; k < wires.length; k += 1) reach(here, wires[k]!, k);
      for (const contact of closed) reach(here, contact, NO_WIRE);
      if (shared && order > 0) for (const load of this.network.loads) reach(here, load, NO_WIRE);
    }
    return null;
  }

  /** A motor frame that no wire joins to the supply's PE. */
  unearthed(wires: readonly PinWire[]): Failing | null {
    const { sets } = this;
    sets.parent.set(this.apart);
    for (const { a, b } of wires) sets.union(a, b);
    for (const from of this.earthPins)
      if (!this.bonded.some((bonded) => sets.find(bonded) === sets.find(from)))
        return { kind: 'earth', from };
    return null;
  }

  /**
   * Wires on a way from a line to a motor's terminal in a state around every heater; none where there is no
   * such way.
   */
  aroundHeaters(wires: readonly PinWire[], state: MechanicalState, motor: number): number[] {
    const closed = this.network.contacts.filter(closedIn(state));
    return (this.motorEnds[motor] ?? []).flatMap(
      (end) => this.wiresAlong(wires, closed, end, this.lines) ?? [],
    );
  }

  /** What joins something that must stay apart whatever is worked, of the properties that are asked. */
  *unprotected(wires: readonly PinWire[], isAsked: (property: PropertyId) => boolean): Generator<Failing> {
    for (const { property, closed, pairs } of this.barriers) {
      if (!isAsked(property)) continue;
      const { sets } = this;
      sets.parent.set(this.apart);
      for (let k = 0; k < wires.length; k += 1) sets.union(wires[k]!.a, wires[k]!.b);
      for (const { a, b } of closed) sets.union(a, b);
      for (const [from, goals] of pairs) {
        if (!goals.some((goal) => sets.find(goal) === sets.find(from))) continue;
        const way = this.wiresAlong(wires, closed, from, goals);
        if (way) yield { kind: 'way', wires: way };
        break;
      }
    }
  }

  /** By property: what is closed where it is judged, and what must not be joined then. */
  private barriersOf(): readonly Barrier[] {
    const { circuit, network, heaters, motorEnds } = this;
    const pin = (terminal: number): number => network.net(terminal);
    const kindOf = (mechanism: number) => circuit.mechanisms[mechanism]!.kind;
    const { lines } = this;
    const loads = [
      ...motorEnds.flat(),
      ...[...circuit.coils, ...circuit.lamps].flatMap(({ a, b }) => [pin(a), pin(b)]),
    ];
    const hasSwitchgear = circuit.mechanisms.some(isSwitchgear);
    const behind = network.contacts.filter(({ mechanism }) => kindOf(mechanism) !== 'switchgear');
    const atRest = network.contacts.filter(
      ({ mechanism, closedIn }) =>
        closedIn[kindOf(mechanism) === 'armature' ? REST : circuit.initial[mechanism]!],
    );
    const earths = new Set(this.bonded);
    const others = network.supplyNodes.map(({ net }) => net).filter((net) => !earths.has(net));
    return [
      ...(hasSwitchgear
        ? [
            {
              property: 'isolates' as const,
              closed: [...behind, ...heaters],
              pairs: loads.map((load) => [load, lines] as const),
            },
          ]
        : []),
      {
        property: 'dead-at-rest',
        closed: [...atRest, ...heaters],
        pairs: motorEnds.flat().map((end) => [end, lines] as const),
      },
      ...this.transformers.map(({ secondary }) => ({
        property: 'separate-secondary' as const,
        closed: [...network.contacts, ...heaters],
        pairs: secondary.map((end) => [end, others] as const),
      })),
    ];
  }

  /** Of a motor's ends, how many live conductors hold. */
  suppliedEnds(wires: readonly PinWire[], state: MechanicalState, motor: number): number {
    this.hold(wires, state);
    return (this.motorEnds[motor] ?? []).filter((end) => this.held[this.sets.find(end)]! >= 0).length;
  }
}
