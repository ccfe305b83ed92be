import type { Bench } from '../bench/index.js';
import { isHeldByCoil, movedByCoil, type MechanicalState } from '../circuit/index.js';
import { Solver, coilVolts, isShorted, pulls, type Driven, type Electrical } from '../electrics/index.js';
import { LAMP_LIT } from '../tolerances.js';
import { HeldNetwork, type Failing, type PinWire } from './held.js';

export type { Failing, PinWire } from './held.js';

/**
 * What a right wiring must do at one moment of the exercise: everything that moves is where the reference
 * has it.
 */
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
  readonly supplied: number;
}

/**
 * The moment after something was done and before any armature has moved: at least one of the armatures that
 * will move must be asked to by its coil.
 */
export interface Transition {
  readonly state: MechanicalState;
  readonly moves: readonly { readonly coil: number; readonly in: boolean }[];
  /** Coils that nobody observes: one of them may be what moves first. */
  readonly unobserved: readonly number[];
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
  readonly field: (k: number) => Omit<Field, 'supplied'> | null;
}

/**
 * A board as the search for repairs sees it: a wiring is a set of wires between pins. Judges a wiring at checkpoints by
 * the conductors that closed contacts hold; where loads in series share a voltage it does not judge, and says that all is well.
 */ export class Board extends HeldNetwork {
  private readonly coilLoads: readonly PinWire[];
  private readonly lampLoads: readonly PinWire[];
  private readonly byConductors: Seen = {
    shared: false,
    asks: (k, sealed) => this.asks(k, sealed),
    lampVolts: (k) => {
      const { a, b } = this.lampLoads[k]!;
      return this.voltsAcross(a, b)?.volts ?? null;
    },
    liveEnd: (k) => this.motorEnds[k]?.find((end) => this.held[this.sets.find(end)]! >= 0),
    field: (k) => this.field(k),
  };
  private readonly fields = new Map<string, Omit<Field, 'supplied'>>();

  constructor(bench: Bench) {
    super(bench);
    const { circuit, pinOf } = this;
    const load = ({ a, b }: PinWire): PinWire => ({ a: pinOf[a]!, b: pinOf[b]! });
    this.coilLoads = circuit.coils.map(load);
    this.lampLoads = circuit.lamps.map(load);
  }

  /** What a wiring fails to do at a checkpoint, one answer for each way in which the unobserved may stand: one of them must be cured. Empty where nothing is found. */
  failing(wires: readonly PinWire[], checkpoint: Checkpoint): Failing[] {
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
      const liveEnd = wanted.supplied === 0 ? seen.liveEnd(k) : undefined;
      if (liveEnd !== undefined)
        return { kind: 'live', state, ends: [liveEnd], wants: 0, isMotor: true, shared };
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
        wants: wanted.supplied,
        isMotor: true,
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

  /**
   * The armatures that must move and are not asked to by their coils, once those that are have moved; empty where all of
   * them move, or where it cannot be told.
   */
  staying(wires: readonly PinWire[], { state: before, moves, unobserved }: Transition): Failing[] {
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
        const { mechanism, asks } = circuit.coils[coil]!;
        if (unobserved.includes(coil)) aside.push(wrong(then, coil, !goesIn));
        state[mechanism] = movedByCoil(circuit.mechanisms[mechanism]!, asks, goesIn);
      }
      rest = rest.filter((move) => !asked.includes(move));
    }
    return [];
  }

  /** True where coil k must be energised for its mechanism to stay as it is. */
  private isHeld(state: MechanicalState, k: number): boolean {
    const { mechanism, asks } = this.circuit.coils[k]!;
    return isHeldByCoil(this.circuit.mechanisms[mechanism]!, state[mechanism]!, asks);
  }

  /**
   * What coil k asks of an armature that is in or not, by the conductors that are held now; null where
   * loads share its voltage.
   */
  private asks(k: number, sealed: boolean): boolean | null {
    const { a, b } = this.coilLoads[k]!;
    const across = this.voltsAcross(a, b);
    if (!across) return null;
    const { volts, isDc } = across;
    return pulls(this.circuit.coils[k]!, sealed, isDc ? { ac: 0, dc: volts } : { ac: volts, dc: 0 });
  }

  /** The field of a motor by the conductors on its ends; null where other loads hang on an open end. */
  private field(k: number): Omit<Field, 'supplied'> | null {
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

  /**
   * The whole solution for a motor alone, its ends joined to conductors and to each other as a pattern
   * says.
   */
  private solveField(k: number, pattern: readonly string[]): Omit<Field, 'supplied'> {
    const { circuit } = this;
    const motor = circuit.motors[k];
    if (!motor) return { driven: 'none', positive: 0 };
    const conductors = motor.terminals.flatMap((terminal, n) => {
      const own = pattern[n]!;
      const supplyNode = own.startsWith('n')
        ? undefined
        : this.network.supplyNodes.find(({ potential }) => potential === Number(own));
      const first = pattern.indexOf(own);
      const to = supplyNode ? supplyNode.terminal : first < n ? motor.terminals[first] : undefined;
      return to === undefined ? [] : [{ a: terminal, b: to, wire: -1, tag: '', ohms: 1 }];
    });
    const elements = [circuit.elements[this.elementOf(k)]!];
    const alone = { ...circuit, conductors, switches: [], elements, coils: [], lamps: [], transformers: [] };
    const field = new Solver(alone).solve(circuit.initial).motors[k];
    return { driven: field?.driven ?? 'none', positive: field?.positive ?? 0 };
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
