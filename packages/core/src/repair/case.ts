import type { Wire } from '../bench/index.js';
import { dequal } from 'dequal';
import { programOf, type Device } from '../catalogue/index.js';
import { placesOf, type Circuit, type MechanicalState, type TerminalIndex } from '../circuit/index.js';
import { Board, type Checkpoint, type PinWire, type Transition, type Waking } from './board.js';
import { storyOf } from './checkpoints.js';
import type { RepairTask } from './task.js';
import { signature } from './wiring.js';

/**
 * A task of repair as the search sees it: the board, its wires and the reference's between pins, and the
 * moments to be judged at.
 */
export class Case {
  readonly board: Board;
  readonly checkpoints: readonly Checkpoint[];
  readonly transitions: readonly Transition[];
  readonly wakings: readonly Waking[];
  /** Properties that the reference itself does not hold. */
  readonly excused: ReadonlySet<string>;
  /** The board's own wires. */
  readonly own: readonly PinWire[];
  /** Potentials of the reference, by pin: of two repairs the one nearer to it is shown first. */
  readonly wanted: Int32Array;
  /**
   * Signature of a wiring that joins exactly what the reference joins and so passes as that does; null where
   * the boards differ in anything but their leads.
   */
  readonly asReference: string | null;
  /** By pin: one of its terminals. */
  private readonly terminalOf: TerminalIndex[];
  /** By pin: the circuits that its terminals may belong to, as bits. */
  private readonly circuitsOfPin: Uint8Array;

  constructor(readonly task: RepairTask) {
    this.board = new Board({ ...task.bench, wires: task.bench.wires.filter(({ fitted }) => fitted) });
    const { circuit, pinOf } = this.board;
    const pinned = ({ from, to }: Wire): PinWire => ({ a: this.board.pin(from), b: this.board.pin(to) });
    this.own = task.bench.wires.map(pinned);
    const wanted = task.reference.wires.map(pinned);
    this.wanted = this.board.nets(wanted);
    const places = placesOf(task.bench);
    this.terminalOf = new Array<TerminalIndex>(this.board.pins);
    this.circuitsOfPin = new Uint8Array(this.board.pins);
    circuit.terminals.forEach((ref, terminal) => {
      const pin = pinOf[terminal]!;
      this.terminalOf[pin] ??= terminal as TerminalIndex;
      this.circuitsOfPin[pin]! |= places.get(ref)?.circuits ?? 0;
    });
    // Where the reference joins power and control, so may a wiring: a pole that seals in, a neutral from
    // behind a breaker.
    const together = new Map<number, number>();
    this.wanted.forEach((net, p) => together.set(net, (together.get(net) ?? 0) | this.circuitsOfPin[p]!));
    this.wanted.forEach((net, p) => (this.circuitsOfPin[p] = together.get(net)!));
    const story = storyOf(task);
    this.excused = story.excused;
    this.asReference = story.isRight && areAlike(task) ? signature(this.wanted) : null;
    // Conductors alone do not tell everything: what they would refuse in the reference itself is left to
    // whole solutions.
    const { board } = this;
    // What inputs must show is known of the reference's programs alone.
    const isSame = isAsOnReference(task, programOf);
    const moments = isSame ? story.checkpoints : story.checkpoints.map((one) => ({ ...one, readings: [] }));
    this.checkpoints = moments.filter((one) => board.failing(wanted, one).length === 0);
    this.transitions = story.transitions.filter((one) => board.staying(wanted, one).length === 0);
    this.wakings = isSame ? story.wakings.filter((one) => board.sleeping(wanted, one).length === 0) : [];
  }

  /** By net: the circuits that its terminals may belong to, as bits. */
  circuitsOf(nets: Int32Array): Uint8Array {
    const circuits = new Uint8Array(nets.length);
    nets.forEach((net, pin) => (circuits[net]! |= this.circuitsOfPin[pin]!));
    return circuits;
  }

  /** True for a lead of the wiring that may be taken away: neither the instructor's nor one just put in. */
  isLoose(name: number): boolean {
    return name >= 0 && !this.task.bench.wires[name]!.fitted;
  }

  /** True where the reference joins the two ends of one of the board's wires. */
  isWanted(name: number): boolean {
    const { a, b } = this.own[name]!;
    return this.wanted[a] === this.wanted[b];
  }

  /** Whether two nets hold pins that the reference joins. */
  alike(nets: Int32Array): (a: number, b: number) => boolean {
    const wanted = new Map<number, Set<number>>();
    nets.forEach((net, pin) => {
      const known = wanted.get(net) ?? new Set();
      wanted.set(net, known.add(this.wanted[pin]!));
    });
    return (a, b) => [...(wanted.get(a) ?? [])].some((potential) => wanted.get(b)?.has(potential));
  }

  /** Wires that carry a potential to some pins, through loads as well where told so. */
  feeding(
    wires: readonly PinWire[],
    state: MechanicalState,
    ends: readonly number[],
    shared = false,
  ): number[] {
    const goals = this.board.suppliedPins(state);
    return [...new Set(ends.flatMap((end) => this.board.wiresOnWay(wires, state, end, goals, shared) ?? []))];
  }

  /** The whole circuit of a wiring. */
  circuitWith(wires: readonly PinWire[]): Circuit {
    const { circuit } = this.board;
    const at = (pin: number) => this.terminalOf[pin]!;
    const added = wires.map(({ a, b }, wire) => ({ a: at(a), b: at(b), wire, tag: '', ohms: 0.02 }));
    return { ...circuit, conductors: [...circuit.conductors, ...added] };
  }
}

/** Whether something of each device of a board is as it is on the reference. */
const isAsOnReference = (
  { bench, reference }: RepairTask,
  of: (device: Device | undefined) => unknown,
): boolean =>
  bench.devices.every((device) =>
    dequal(of(device), of(reference.devices.find(({ tag }) => tag === device.tag))),
  );

/** Whether two boards have the same devices, set alike, and no lead whose length drops volts. */
const areAlike = (task: RepairTask): boolean =>
  [...task.bench.wires, ...task.reference.wires].every(({ length }) => length === undefined) &&
  task.bench.devices.length === task.reference.devices.length &&
  isAsOnReference(task, (device) => device);
