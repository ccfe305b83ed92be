import type { Bench } from '../bench/index.js';
import { isHeldByCoil, isInputCoil, movedByCoil, type MechanicalState } from '../circuit/index.js';
import { Solver, coilVolts, isShorted, pulls, type Driven, type Electrical } from '../electrics/index.js';
import { LAMP_LIT } from '../tolerances.js';
import { inputsToChange, type Readings } from './inputs.js';
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
  /** What the inputs of controllers may show; nothing where it is not known. */
  readonly readings: readonly Readings[];
}

/**
 * The moment after something was done and before any program has worked, of a change in which outputs change:
 * some output must change now, or a coil ask an armature to move, or nothing would happen at all.
 */
export interface Waking {
  readonly state: MechanicalState;
  readonly moves: readonly { readonly coil: number; readonly in: boolean }[];
  readonly unobserved: readonly number[];
  readonly readings: readonly Readings[];
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
  /** By coil: it is an input of a controller. */
  private readonly isInput: readonly boolean[];
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
    this.isInput = circuit.coils.map((coil) => isInputCoil(circuit, coil));
  }

  /** What a wiring fails to do at a checkpoint, one answer for each way in which the unobserved may stand: one of them must be cured. Empty where nothing is found. */
  failing(wires: readonly PinWire[], checkpoint: Checkpoint): Failing[] {
    return unlessOneFits(checkpoint.states, (state) => {
      const failing = this.hold(wires, state) ?? this.judge(state, checkpoint, this.byConductors);
      return failing ? [failing] : this.misreadAny(state, checkpoint.readings, this.byConductors);
    });
  }

  /** The same of a whole wiring by the solution of its circuit. */
  failingExactly(solver: Solver, checkpoint: Checkpoint): Failing[] {
    return unlessOneFits(checkpoint.states, (state) => {
      const electrical = solver.at(state);
      if (isShorted(electrical)) return [];
      const seen = this.bySolution(electrical);
      const failing = this.judge(state, checkpoint, seen);
      return failing ? [failing] : this.misreadAny(state, checkpoint.readings, seen);
    });
  }

  /** Inputs of the first controller that do not show what its program needs; see `misread`. */
  private misreadAny(state: MechanicalState, readings: readonly Readings[], seen: Seen): Failing[] {
    for (const one of readings) {
      const found = this.misread(state, one, seen);
      if (found.length > 0) return found;
    }
    return [];
  }

  /**
   * Inputs that do not show what their program needs, of which one at least must show something else; none
   * where they do, or where it cannot be told.
   */
  private misread(state: MechanicalState, readings: Readings, seen: Seen): Failing[] {
    const pattern = readings.isRunning(state) ? this.patternOf(readings, state, seen) : null;
    if (pattern === null || readings.fits[pattern]) return [];
    return inputsToChange(readings, pattern).map((bit) =>
      this.wrong(state, readings.coils[bit]!, ((pattern >> bit) & 1) === 0, seen.shared),
    );
  }

  /** What some inputs show; null where it cannot be told. */
  private patternOf({ coils }: Readings, state: MechanicalState, seen: Seen): number | null {
    let pattern = 0;
    for (let bit = 0; bit < coils.length; bit += 1) {
      const isOn = seen.asks(coils[bit]!, this.isHeld(state, coils[bit]!));
      if (isOn === null) return null;
      if (isOn) pattern |= 1 << bit;
    }
    return pattern;
  }

  private judge(state: MechanicalState, { coils, lamps, motors }: Checkpoint, seen: Seen): Failing | null {
    const { circuit } = this;
    const { shared } = seen;
    for (let k = 0; k < circuit.coils.length; k += 1) {
      // What inputs show is their program's matter.
      if (this.isInput[k]) continue;
      const sealed = coils[k] ?? this.isHeld(state, k);
      const has = seen.asks(k, sealed);
      if (has !== null && has !== sealed) return this.wrong(state, k, sealed, shared);
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
        return [...rest.map(({ coil, in: goesIn }) => this.wrong(state, coil, goesIn)), ...aside];
      }
      const then = state;
      state = state.slice();
      for (const { coil, in: goesIn } of asked) {
        const { mechanism, asks } = circuit.coils[coil]!;
        if (unobserved.includes(coil)) aside.push(this.wrong(then, coil, !goesIn));
        state[mechanism] = movedByCoil(circuit.mechanisms[mechanism]!, asks, goesIn);
      }
      rest = rest.filter((move) => !asked.includes(move));
    }
    return [];
  }

  /**
   * Where nothing at all is set off by what was done: the armatures and the inputs of which one at least must
   * be; empty where something is, or where it cannot be told.
   */
  sleeping(wires: readonly PinWire[], { state, moves, unobserved, readings }: Waking): Failing[] {
    const { circuit } = this;
    if (this.hold(wires, state)) return [];
    for (let k = 0; k < circuit.coils.length; k += 1)
      if (!this.isInput[k] && this.asks(k, this.isHeld(state, k)) !== this.isHeld(state, k)) return [];
    const misread = readings.map((one) => this.misread(state, one, this.byConductors));
    if (misread.some((found) => found.length === 0)) return [];
    return [
      ...misread.flat(),
      ...moves.map(({ coil, in: goesIn }) => this.wrong(state, coil, goesIn)),
      ...unobserved.map((coil) => this.wrong(state, coil, !this.isHeld(state, coil))),
    ];
  }

  /** A coil that does not ask what it should. */
  private wrong(state: MechanicalState, coil: number, goesIn: boolean, shared = false): Failing {
    const { a, b } = this.coilLoads[coil]!;
    const wants = this.circuit.coils[coil]!.voltage;
    return { kind: goesIn ? 'dead' : 'live', state, ends: [a, b], wants, shared };
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
  judge: (state: MechanicalState) => readonly Failing[],
): Failing[] {
  const found: Failing[] = [];
  for (const state of states) {
    const failing = judge(state);
    if (failing.length === 0) return [];
    found.push(...failing);
  }
  return found;
}
