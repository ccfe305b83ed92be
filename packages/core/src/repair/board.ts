import type { Bench } from '../bench/index.js';
import {
  Network,
  UnionFind,
  compile,
  isFixed,
  isHeldByCoil,
  isLiveTie,
  movedByCoil,
  supplyEarths,
  type Circuit,
  type MechanicalState,
  type MechanismIndex,
} from '../circuit/index.js';
import { Solver, coilVolts, isShorted, pulls, type Driven, type Electrical } from '../electrics/index.js';
import { LAMP_LIT } from '../tolerances.js';

/** What a right wiring must do at one moment of the exercise: everything that moves is where the reference has it. */
export interface Checkpoint {
  /** One state for each way in which what nobody observes may stand; one of them must fit. */
  readonly states: readonly MechanicalState[];
  /** By coil that is observed: its armature is in; null where it is not observed. */
  readonly coils: readonly (boolean | null)[];
  readonly lamps: readonly (boolean | null)[];
  /** Field of each motor, and its positive-sequence winding volts. */
  readonly motors: readonly Field[];
}

export interface Field {
  readonly driven: Driven;
  readonly positive: number;
  /** Of its ends, how many a live conductor holds. */
  readonly tied: number;
}

/**
 * The moment after something was done and before any armature has moved: at least one of the armatures that will move
 * must be asked to by its coil.
 */
export interface Departure {
  readonly state: MechanicalState;
  readonly moves: readonly { readonly coil: number; readonly in: boolean }[];
  /** Coils that nobody observes: one of them may be what moves first. */
  readonly unobserved: readonly number[];
}

/**
 * What a wiring fails to do at a checkpoint: two pins that must not meet, or a load that should or should not have its
 * voltage, by conductors alone or shared with other loads. A short circuit goes along some ways, one of which must be cut.
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
      readonly shared?: boolean;
    }
  | { readonly kind: 'earth'; readonly from: number };

/** A wire between two pins. */
export interface PinWire {
  readonly a: number;
  readonly b: number;
}

/** Per unit by which the positive-sequence voltage of a right wiring may differ from the reference's. */
const SAME_FIELD = 0.1;

/** What can be seen of a wiring in one state; null where it cannot be told. */
interface Seen {
  /** Loads may share a voltage. */
  readonly shared: boolean;
  /** What coil k asks of an armature that is in or not. */
  readonly asks: (k: number, sealed: boolean) => boolean | null;
  readonly lampVolts: (k: number) => number | null;
  /** An end of motor k that a live conductor holds. */
  readonly liveEnd: (k: number) => number | undefined;
  readonly field: (k: number) => Omit<Field, 'tied'> | null;
}

/**
 * A board as the search for repairs sees it: pins are terminals with what always joins them (inner links, wires that stay,
 * switchgear that nobody works), and a wiring is a set of wires between pins. Judges a wiring at checkpoints by the
 * conductors that closed contacts hold; where loads in series share a voltage it does not judge, and says that all is well.
 */
export class Board {
  readonly circuit: Circuit;
  readonly pins: number;
  readonly pinOf: Int32Array;
  private readonly network: Network;
  private readonly coilLoads: readonly PinWire[];
  private readonly lampLoads: readonly PinWire[];
  readonly motorEnds: readonly (readonly number[])[];
  private readonly potentials: readonly { readonly re: number; readonly im: number }[];
  private readonly earthPins: readonly number[];
  /** Pins of the supplies' PE. */
  readonly bonded: readonly number[];
  private readonly byConductors: Seen = {
    shared: false,
    asks: (k, sealed) => this.asks(k, sealed),
    lampVolts: (k) => {
      const { a, b } = this.lampLoads[k]!;
      return this.voltsAcross(a, b);
    },
    liveEnd: (k) => this.motorEnds[k]?.find((end) => this.held[this.sets.find(end)]! >= 0),
    field: (k) => this.field(k),
  };
  private readonly closedIn = new WeakMap<MechanicalState, readonly PinWire[]>();
  private readonly fields = new Map<string, Omit<Field, 'tied'>>();
  private readonly solver: Solver;
  private readonly sets: UnionFind;
  /** Every pin by itself. */
  private readonly apart: Int32Array;
  private readonly held: Int32Array;
  /** By root of a held node: the pin by which it was held first. */
  private readonly met: Int32Array;
  private readonly cameFrom: Int32Array;
  private readonly cameBy: Int32Array;
  private readonly queue: Int32Array;
  private readonly usable: boolean;
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
    this.network = new Network(circuit, { isFixed, earthed: false });
    this.pinOf = this.network.spotOf;
    this.pins = this.network.terminalSpots;
    const pin = (terminal: number): number => this.pinOf[terminal]!;
    const load = ({ a, b }: { a: number; b: number }): PinWire => ({ a: pin(a), b: pin(b) });
    this.coilLoads = circuit.coils.map(load);
    this.lampLoads = circuit.lamps.map(load);
    this.motorEnds = circuit.motors.map(({ terminals }) => terminals.map(pin));
    const potentials = [...this.network.potentials];
    this.earthPins = circuit.motors.map(({ earth }) => pin(earth));
    this.bonded = supplyEarths(circuit).map(pin);
    const { spots } = this.network;
    this.sets = new UnionFind(spots);
    this.apart = Int32Array.from({ length: spots }, (_, k) => k);
    this.held = new Int32Array(spots);
    this.met = new Int32Array(spots);
    this.cameFrom = new Int32Array(spots);
    this.cameBy = new Int32Array(spots);
    this.queue = new Int32Array(spots);
    // Several supplies are beyond what conductors alone can tell.
    this.usable = new Set(circuit.sources.map(({ tag }) => tag)).size === 1;
    this.potentials = potentials;
    this.transformers = circuit.transformers.map(
      ({ primary, secondary, primaryVoltage, secondaryVoltage }) => ({
        primary: [pin(primary[0]), pin(primary[1])],
        secondary: [pin(secondary[0]), pin(secondary[1])],
        primaryVoltage,
        potential: potentials.push({ group: '', re: secondaryVoltage, im: 0 }) - 1,
      }),
    );
  }

  /** What a wiring fails to do at a checkpoint, one answer for each way in which the unobserved may stand: one of them must be cured. Empty where nothing is found. */
  failing(wires: readonly PinWire[], checkpoint: Checkpoint): Failing[] {
    if (!this.usable) return [];
    return unlessOneFits(
      checkpoint.states,
      (state) => this.hold(wires, state) ?? this.judge(state, checkpoint, this.byConductors),
    );
  }

  /** The same of a whole wiring by the solution of its circuit. */
  failingExactly(solver: Solver, checkpoint: Checkpoint): Failing[] {
    return unlessOneFits(checkpoint.states, (state) => {
      const electrical = solver.at(state);
      return isShorted(electrical) ? null : this.judge(state, checkpoint, this.bySolution(electrical));
    });
  }

  private judge(state: MechanicalState, { coils, lamps, motors }: Checkpoint, seen: Seen): Failing | null {
    const { circuit } = this;
    const { shared } = seen;
    for (let k = 0; k < circuit.coils.length; k += 1) {
      const { voltage } = circuit.coils[k]!;
      const sealed = coils[k] ?? this.isHeld(state, k);
      const has = seen.asks(k, sealed);
      const { a, b } = this.coilLoads[k]!;
      if (has !== null && has !== sealed)
        return { kind: has ? 'live' : 'dead', state, ends: [a, b], wants: voltage, shared };
    }
    for (let k = 0; k < circuit.lamps.length; k += 1) {
      const wanted = lamps[k] ?? null;
      const volts = wanted === null ? null : seen.lampVolts(k);
      if (volts === null) continue;
      const { voltage } = circuit.lamps[k]!;
      const lit = volts >= LAMP_LIT * voltage;
      const { a, b } = this.lampLoads[k]!;
      if (lit !== wanted) return { kind: lit ? 'live' : 'dead', state, ends: [a, b], wants: voltage, shared };
    }
    for (const [k, wanted] of motors.entries()) {
      // A motor that the reference cuts off at every end is cut off.
      const liveEnd = wanted.tied === 0 ? seen.liveEnd(k) : undefined;
      if (liveEnd !== undefined) return { kind: 'live', state, ends: [liveEnd], wants: 0, shared };
      const field = seen.field(k);
      // A line's place taken by the neutral still turns the motor, but with another field.
      if (
        field === null ||
        (field.driven === wanted.driven &&
          Math.abs(field.positive - wanted.positive) <= SAME_FIELD * Math.max(wanted.positive, 1))
      )
        continue;
      return {
        kind: wanted.driven === 'none' ? 'live' : 'dead',
        state,
        ends: this.motorEnds[k] ?? [],
        wants: wanted.tied,
        shared,
      };
    }
    return null;
  }

  private bySolution(electrical: Electrical): Seen {
    return {
      shared: true,
      asks: (k, sealed) => pulls(this.circuit.coils[k]!, sealed, coilVolts(electrical, k)),
      lampVolts: (k) => electrical.lampVolts[k]!,
      liveEnd: () => undefined,
      field: (k) => electrical.motors[k] ?? null,
    };
  }

  /** Where the armatures that must move come to a stand before they have all moved, what none of the rest is asked to do; empty where they do not, or where it cannot be told. */
  staying(wires: readonly PinWire[], { state: before, moves, unobserved }: Departure): Failing[] {
    if (!this.usable) return [];
    const { circuit } = this;
    let state = before;
    const change = (coil: number): { coil: number; in: boolean } => ({
      coil,
      in: !this.isHeld(state, coil),
    });
    const wrong = (at: MechanicalState, coil: number, goesIn: boolean): Failing => {
      const { a, b } = this.coilLoads[coil]!;
      return {
        kind: goesIn ? 'dead' : 'live',
        state: at,
        ends: [a, b],
        wants: circuit.coils[coil]?.voltage ?? 0,
      };
    };
    // What nobody observes may move on the way, or rather should not have.
    const aside: Failing[] = [];
    let rest = [...moves, ...unobserved.map(change)];
    while (rest.some((move) => moves.includes(move))) {
      if (this.hold(wires, state)) return [];
      const asked: typeof rest = [];
      for (const move of rest) {
        const has = this.asks(move.coil, !move.in);
        if (has === null) return [];
        if (has === move.in) asked.push(move);
      }
      if (asked.length === 0) {
        return [...rest.map(({ coil, in: goesIn }) => wrong(state, coil, goesIn)), ...aside];
      }
      const then = state;
      state = state.slice();
      for (const { coil, in: goesIn } of asked) {
        const mechanism = circuit.coils[coil]?.mechanism as MechanismIndex;
        if (unobserved.includes(coil)) aside.push(wrong(then, coil, !goesIn));
        state[mechanism] = movedByCoil(circuit.mechanisms[mechanism]!, goesIn);
      }
      rest = rest.filter((move) => !asked.includes(move));
    }
    return [];
  }

  /** What coil k asks of an armature that is in or not, by the conductors that are held now; null where loads share its voltage. */
  /** True where coil k must be energised for its mechanism to stay as it is. */
  private isHeld(state: MechanicalState, k: number): boolean {
    const { mechanism } = this.circuit.coils[k]!;
    return isHeldByCoil(this.circuit.mechanisms[mechanism]!, state[mechanism]!);
  }

  private asks(k: number, sealed: boolean): boolean | null {
    const coil = this.circuit.coils[k];
    const load = this.coilLoads[k];
    const volts = coil && load ? this.voltsAcross(load.a, load.b) : null;
    if (!coil || volts === null) return null;
    const dc = this.circuit.sources[0]?.frequency === 0;
    return pulls(coil, sealed, dc ? { ac: 0, dc: volts } : { ac: volts, dc: 0 });
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
      closed = this.network.contacts.filter(({ mechanism, closedIn }) => closedIn[state[mechanism]!]);
      this.closedIn.set(state, closed);
    }
    return closed;
  }

  /** Joins a wiring in a state and marks what the live conductors hold; a short circuit where two meet. */
  private hold(wires: readonly PinWire[], state: MechanicalState): Failing | null {
    const { sets, held } = this;
    this.join(wires, state);
    held.fill(-1);
    const { met } = this;
    let live = false;
    for (const tie of this.network.ties) {
      if (!isLiveTie(tie, state)) continue;
      const { spot: pin, potential, supply } = tie;
      live ||= supply >= 0;
      const root = sets.find(pin);
      const other = held[root]!;
      if (other >= 0 && other !== potential) return { kind: 'short', state, ways: [[met[root]!, pin]] };
      held[root] = potential;
      met[root] = pin;
    }
    if (!live) return null;
    for (const { primary, secondary, primaryVoltage, potential } of this.transformers) {
      const [h1, h2] = primary.map((pin) => held[sets.find(pin)]!) as [number, number];
      const volts = h1 < 0 || h2 < 0 ? 0 : this.volts(h1, h2);
      if (Math.abs(volts - primaryVoltage) > SAME_FIELD * primaryVoltage)
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

  /** Volts across a load between two pins; null where other loads share them. */
  private voltsAcross(a: number, b: number): number | null {
    const { sets, held } = this;
    const [one, other] = [sets.find(a), sets.find(b)];
    if (one === other) return 0;
    const [p, q] = [held[one]!, held[other]!];
    if (p >= 0 && q >= 0) return this.volts(p, q);
    const reached = new Set<number>([p, q].filter((potential) => potential >= 0));
    const crossed = this.flood(
      [one, other].filter((root) => held[root]! < 0),
      a,
      b,
      reached,
    );
    if (reached.size <= 1) return 0;
    return crossed ? null : 0;
  }

  /** Adds the potentials that loads other than the one between two pins reach from open nodes; true where one is reached, or the other end. */
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

  /** The field of a motor by the conductors on its ends; null where other loads hang on an open end. */
  private field(k: number): Omit<Field, 'tied'> | null {
    const { sets, held } = this;
    const ends = this.motorEnds[k] ?? [];
    const own = this.elementOf(k);
    const label = new Map<number, string>();
    const pattern = ends.map((end) => {
      const root = sets.find(end);
      if (held[root]! >= 0) return String(held[root]);
      if (!label.has(root)) label.set(root, `n${label.size}`);
      return label.get(root) as string;
    });
    for (const root of label.keys()) {
      const others = this.network.loads.some(({ a, b, element }) => {
        const [x, y] = [sets.find(a), sets.find(b)];
        return element !== own && x !== y && (x === root || y === root);
      });
      if (others) return null;
    }
    const key = `${k} ${pattern.join()}`;
    const known = this.fields.get(key);
    if (known) return known;
    const field = this.solveField(k, pattern);
    this.fields.set(key, field);
    return field;
  }

  private elementOf(motor: number): number {
    return this.circuit.elements.findIndex(({ law }) => law.kind === 'motor' && law.motor === motor);
  }

  /** The whole solution for a motor alone, its ends joined to conductors and to each other as a pattern says. */
  private solveField(k: number, pattern: readonly string[]): Omit<Field, 'tied'> {
    const { circuit } = this;
    const motor = circuit.motors[k];
    if (!motor) return { driven: 'none', positive: 0 };
    const conductors = motor.terminals.flatMap((terminal, n) => {
      const own = pattern[n]!;
      const tie = own.startsWith('n')
        ? undefined
        : this.network.ties.find(({ potential }) => potential === Number(own));
      const first = pattern.indexOf(own);
      const to = tie ? tie.terminal : first < n ? motor.terminals[first] : undefined;
      return to === undefined ? [] : [{ a: terminal, b: to, wire: -1, tag: '', ohms: 1 }];
    });
    const elements = [circuit.elements[this.elementOf(k)]!];
    const alone = { ...circuit, conductors, switches: [], elements, coils: [], lamps: [], transformers: [] };
    const field = new Solver(alone).solve(circuit.initial).motors[k];
    return { driven: field?.driven ?? 'none', positive: field?.positive ?? 0 };
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

  /** Of a motor's ends, how many live conductors hold. */
  tiedEnds(wires: readonly PinWire[], state: MechanicalState, motor: number): number {
    this.hold(wires, state);
    return (this.motorEnds[motor] ?? []).filter((end) => this.held[this.sets.find(end)]! >= 0).length;
  }

  /** Roots of the pins' nodes with the contacts of a state closed, and by root the potential that holds it, or −1. */
  potentialsIn(wires: readonly PinWire[], state: MechanicalState): { nodes: Int32Array; held: Int32Array } {
    this.hold(wires, state);
    return { nodes: this.roots(), held: this.held.slice() };
  }

  /** Pins that the live supplies of a state, earth, and transformers hold. */
  tiedPins(state: MechanicalState): number[] {
    return [
      ...this.network.ties.flatMap((tie) => (isLiveTie(tie, state) ? [tie.spot] : [])),
      ...this.transformers.flatMap(({ secondary }) => secondary),
    ];
  }

  /** The pin of a terminal. */
  pin(ref: string): number {
    return this.pinOf[this.circuit.indexOf.get(ref)!]!;
  }

  /** Wires on a shortest way between pins and goals through wires and closed contacts, and through loads where told so; null where there is none. */
  wiresOnWay(
    wires: readonly PinWire[],
    state: MechanicalState,
    from: number,
    goals: readonly number[],
    shared = false,
  ): number[] | null {
    const { cameFrom, cameBy, queue } = this;
    const closed = this.closed(state);
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
}

/** What is found in each of some states; nothing where one of them fits. */
function unlessOneFits(
  states: readonly MechanicalState[],
  judge: (state: MechanicalState) => Failing | null,
): Failing[] {
  const found: Failing[] = [];
  for (const state of states) {
    const failing = judge(state);
    if (!failing) return [];
    found.push(failing);
  }
  return found;
}

const UNREACHED = -2;
const NO_WIRE = -1;
