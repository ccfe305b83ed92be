import type { Bench } from '../../bench/index.js';
import { kindOf } from '../../catalogue/index.js';
import { compile, UnionFind, type Circuit, type Stimulus, type TerminalIndex } from '../../circuit/index.js';
import { deadState } from '../../diagnosis/index.js';
import { Ohmmeter, Solver, type Resistor } from '../../electrics/index.js';
import { Simulation } from '../../simulation/index.js';

/** Devices on which a person's hand is while a dead board is measured: none, or what `heldDead` says. */
export type Hold = readonly string[];

/** What is done while a dead board is measured: nothing, and each act by itself. */
export const holdsOf = ({ devices }: Pick<Bench, 'devices'>): Hold[] => [
  [],
  ...devices.filter((device) => kindOf(device).heldDead).map(({ tag }) => [tag]),
];

const handsOf = ({ devices }: Pick<Bench, 'devices'>, hold: Hold) =>
  hold.flatMap((tag) => {
    const device = devices.find((one) => one.tag === tag);
    const hand = device && kindOf(device).heldDead;
    return hand ? [{ tag, hand }] : [];
  });

/** The acts by which something is held on a dead board. */
export const holding = (bench: Pick<Bench, 'devices'>, hold: Hold): Stimulus[] =>
  handsOf(bench, hold).map(({ tag, hand: { by } }): Stimulus => {
    if (by === 'pushIn') return { inject: { 'armature-jammed': tag, position: 'in' } };
    return by === 'press' ? { press: tag } : by === 'open' ? { open: tag } : { trip: tag };
  });

/** The same in words: `S2 held`, `KM1 pushed in`. */
export const holdWords = (bench: Pick<Bench, 'devices'>, hold: Hold): string =>
  handsOf(bench, hold)
    .map(({ tag, hand }) => `${tag} ${hand.words}`)
    .join(', ');

/**
 * The board without its leads, off and isolated, in one state of its controls: what closed contacts and
 * inner links join.
 */
export interface BareState {
  readonly hold: Hold;
  readonly nodes: number;
  /** By terminal. */
  readonly nodeOf: Int32Array;
  readonly resistors: readonly Resistor[];
}

/** The circuit of a board without any of its leads. */
export const bareCircuit = (bench: Bench): Circuit => compile({ ...bench, wires: [] });

/** The states of a bare board in which it is measured. */
export function bareStates(circuit: Circuit, holds: readonly Hold[]): BareState[] {
  const solver = new Solver(circuit);
  return holds.map((hold) => {
    const board = new Simulation(solver, deadState(circuit), false, []);
    for (const stimulus of holding(circuit.bench, hold)) board.work(stimulus);
    const meter = new Ohmmeter(board.solver, board.state);
    return {
      hold,
      nodes: meter.nodes,
      nodeOf: Int32Array.from(circuit.terminals, (_, k) => meter.nodeOf(k as TerminalIndex)),
      resistors: meter.resistors,
    };
  });
}

/** Leads that join terminals: those of each group are one. */
export type Joints = readonly (readonly TerminalIndex[])[];

/** Readings between any two terminals of a bare board on which some joints are made. */
export class WiredMeter {
  /** Place of each node among those that matter, by bare node. */
  private readonly root: Int32Array;
  private readonly place: Int32Array;
  private readonly component: Int32Array;
  /** Potential of place p where one ampere enters at place q, both to their component's reference. */
  private readonly ohms: Float64Array;
  private readonly size: number;

  constructor(
    private readonly state: BareState,
    joints: Joints,
    resistors: readonly Resistor[] = state.resistors,
  ) {
    const { nodes, nodeOf } = state;
    const sets = new UnionFind(nodes);
    for (const [first, ...others] of joints)
      for (const one of others) sets.union(nodeOf[first!]!, nodeOf[one]!);
    this.root = Int32Array.from({ length: nodes }, (_, k) => sets.find(k));
    this.place = new Int32Array(nodes).fill(-1);
    const live = resistors.filter(({ a, b }) => this.root[a] !== this.root[b]);
    let size = 0;
    for (const { a, b } of live)
      for (const end of [this.root[a]!, this.root[b]!]) if (this.place[end]! < 0) this.place[end] = size++;
    this.size = size;
    const reach = new UnionFind(size);
    const at = (node: number) => this.place[this.root[node]!]!;
    for (const { a, b } of live) reach.union(at(a), at(b));
    this.component = componentsOf(
      size,
      reach,
      live.map(({ a, b }) => [at(a), at(b)]),
    );
    this.ohms = potentials(
      size,
      this.component,
      live.map(({ a, b, siemens }) => ({ a: at(a), b: at(b), siemens })),
    );
  }

  /** The node on which a terminal lies; terminals of one node read alike. */
  node(terminal: TerminalIndex): number {
    return this.root[this.state.nodeOf[terminal]!]!;
  }

  /** Ohms between each two of some nodes, in the upper half of a square matrix. */
  readings(nodes: readonly number[]): Float64Array {
    const { ohms, size, place, component } = this;
    const n = nodes.length;
    const found = new Float64Array(n * n);
    for (let p = 0; p < n; p += 1) {
      const i = place[nodes[p]!]!;
      const own = i < 0 ? 0 : ohms[i * size + i]!;
      for (let q = p + 1; q < n; q += 1) {
        const j = place[nodes[q]!]!;
        const isOpen = i < 0 || j < 0 || component[i] !== component[j];
        found[p * n + q] =
          nodes[p] === nodes[q]
            ? 0
            : isOpen
              ? Number.POSITIVE_INFINITY
              : own + ohms[j * size + j]! - 2 * ohms[i * size + j]!;
      }
    }
    return found;
  }

  /** Ohms between two nodes; Infinity where nothing joins the two. */
  between(p: number, q: number): number {
    if (p === q) return 0;
    const [i, j] = [this.place[p]!, this.place[q]!];
    if (i < 0 || j < 0 || this.component[i] !== this.component[j]) return Number.POSITIVE_INFINITY;
    const { ohms, size } = this;
    return ohms[i * size + i]! + ohms[j * size + j]! - 2 * ohms[i * size + j]!;
  }
}

/**
 * The reference of each place's component: where most resistors meet, so that few of the other places hang
 * on each other.
 */
function componentsOf(
  size: number,
  reach: UnionFind,
  pairs: readonly (readonly [number, number])[],
): Int32Array {
  const degree = new Int32Array(size);
  for (const [a, b] of pairs) {
    degree[a]! += 1;
    degree[b]! += 1;
  }
  const reference = Int32Array.from({ length: size }, (_, k) => reach.find(k));
  for (let k = 0; k < size; k += 1) {
    const root = reach.find(k);
    if (degree[k]! > degree[reference[root]!]!) reference[root] = k;
  }
  return Int32Array.from({ length: size }, (_, k) => reference[reach.find(k)]!);
}

/**
 * The inverse of a resistor network's admittances, component by component, each with one of its places as
 * reference.
 */
function potentials(size: number, component: Int32Array, resistors: readonly Resistor[]): Float64Array {
  const matrix = new Float64Array(size * size);
  const inverse = new Float64Array(size * size);
  for (const { a, b, siemens } of resistors) {
    matrix[a * size + a]! += siemens;
    matrix[b * size + b]! += siemens;
    matrix[a * size + b]! -= siemens;
    matrix[b * size + a]! -= siemens;
  }
  const isReference = (k: number) => component[k] === k;
  for (let k = 0; k < size; k += 1) {
    inverse[k * size + k] = isReference(k) ? 0 : 1;
    if (!isReference(k)) continue;
    for (let j = 0; j < size; j += 1) matrix[k * size + j] = matrix[j * size + k] = 0;
    matrix[k * size + k] = 1;
  }
  // Positive definite without the references: no pivoting is needed.
  for (let k = 0; k < size; k += 1) {
    const pivot = 1 / matrix[k * size + k]!;
    for (let j = 0; j < size; j += 1) {
      matrix[k * size + j]! *= pivot;
      inverse[k * size + j]! *= pivot;
    }
    for (let i = 0; i < size; i += 1) {
      const factor = i === k ? 0 : matrix[i * size + k]!;
      if (factor === 0) continue;
      // Before the pivot the matrix is done; behind it the inverse has its ones alone.
      for (let j = k; j < size; j += 1) matrix[i * size + j]! -= factor * matrix[k * size + j]!;
      for (let j = 0; j <= k; j += 1) inverse[i * size + j]! -= factor * inverse[k * size + j]!;
    }
  }
  return inverse;
}
