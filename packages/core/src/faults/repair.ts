import { conductorsByTerminal, splitRef, type Bench, type TerminalRef, type Wire } from '../bench/index.js';
import { OPERATED, REST, TIMER_DONE, TIMER_IDLE, TIMER_TIMING, anatomy } from '../catalogue/index.js';
import { compile, isMoving, type Circuit, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver, isShorted } from '../electrics/index.js';
import { proveCircuit } from '../proof/index.js';
import { Simulation, isExpectation, runSteps, type Step } from '../simulation/index.js';
import { ENERGISED, LAMP_LIT } from '../tolerances.js';
import { Trial, type Checkpoint, type Departure, type Failing, type PinWire } from './trial.js';

/** One change of a wiring. */
export type RepairEdit = { readonly remove: Wire } | { readonly add: Wire } | { readonly move: Wire; readonly to: Wire };

export interface Repair {
  /** A wiring that passes was found (none was needed where `edits` is empty). */
  readonly found: boolean;
  /** All repairs of the fewest edits; the first is shown first. */
  readonly repairs: readonly (readonly RepairEdit[])[];
  /** More of the same length exist than are listed. */
  readonly more: boolean;
  /** Edits up to which every repair was looked for. */
  readonly searched: number;
  /** Wirings that were looked at. */
  readonly tried: number;
  /** The search was stopped before it had looked at everything. */
  readonly stopped: boolean;
}

/** What is to be repaired, and what a right wiring does. */
export interface RepairTask {
  /** The board with the wiring to repair; its first `locked` wires stay. */
  readonly bench: Bench;
  readonly locked: number;
  /** The same board rightly wired. */
  readonly reference: Bench;
  readonly behaviours: readonly (readonly Step[])[];
  readonly observe: readonly string[];
}

export interface RepairOptions {
  /** Most edits; 3 by default. */
  readonly most?: number;
  /** Most repairs to list. */
  readonly list?: number;
  /** Called now and then; the search stops when it returns true. */
  readonly stop?: () => boolean;
  /** Most wirings to look at. */
  readonly effort?: number;
}

const MOST = 3;
const LIST = 24;
const EFFORT = 3_000_000;
/** Failings that are compared for the fewest answers. */
const COMPARED = 8;
/** Circuits that a terminal belongs to. */
const POWER = 1;
const CONTROL = 2;
const EARTH = 4;

/**
 * The fewest edits that make a wiring behave rightly and hold every safety property. Each wiring is judged first at
 * checkpoints, the settled moments of the exercise's behaviours, and by what earlier wirings failed in; what it fails to
 * do says which wires or potentials an edit must touch, so only such edits are tried, one deeper at a time. What no
 * checkpoint refuses is proved and tried in full.
 */
export function repair(task: RepairTask, { most = MOST, list = LIST, stop = () => false, effort = EFFORT }: RepairOptions = {}): Repair {
  const search = new Search(task, list, stop, effort);
  for (let cost = 0; cost <= most; cost += 1) {
    const repairs = search.look(cost);
    if (repairs.length > 0 || search.stopped) {
      return { found: repairs.length > 0, repairs, more: search.more, searched: search.stopped ? Math.max(0, cost - 1) : cost, tried: search.tried, stopped: search.stopped };
    }
  }
  return { found: false, repairs: [], more: false, searched: most, tried: search.tried, stopped: false };
}

interface Taken {
  /** Index among the wires of the bench. */
  readonly wire: number;
  /** Its end that was moved elsewhere: the added wire that stands for it, or −1. */
  readonly moved: number;
}

/** What can be done to a wiring on the way: its kth wire taken away (as the added wire `moved`), or a wire put in (as the kth one taken away). */
type Answer = { readonly take: number; readonly moved: number } | { readonly put: PinWire; readonly as: number };

/** A wiring on the way, and how it was reached. */
class Node {
  constructor(
    private readonly trial: Trial,
    readonly wires: readonly PinWire[],
    /** Which wire of the bench each is; −1 − n for the nth added one. */
    readonly names: readonly number[],
    readonly taken: readonly Taken[],
    readonly added: readonly PinWire[],
    /** Edits that are left. */
    readonly left: number,
    private kept?: Int32Array,
  ) {}

  /** Net of each pin under the wires alone. */
  get nets(): Int32Array {
    this.kept ??= this.trial.nets(this.wires);
    return this.kept;
  }

  after(answer: Answer): Node {
    return 'take' in answer ? this.without(answer.take, answer.moved) : this.with(answer.put, answer.as);
  }

  /** Without the kth wire, which stands for a move to the added wire `moved`, or costs an edit. */
  private without(k: number, moved: number): Node {
    const taken = [...this.taken, { wire: this.names[k] as number, moved }];
    return new Node(this.trial, this.wires.toSpliced(k, 1), this.names.toSpliced(k, 1), taken, this.added, moved < 0 ? this.left - 1 : this.left);
  }

  /** With one more wire, which is the moved end of the kth wire taken away, or costs an edit where k is −1. */
  private with(wire: PinWire, k: number): Node {
    const { nets } = this;
    const [a, b] = [nets[wire.a] as number, nets[wire.b] as number];
    const joined = nets.slice();
    for (let pin = 0; pin < joined.length; pin += 1) if (joined[pin] === b) joined[pin] = a;
    const taken = k < 0 ? this.taken : this.taken.with(k, { wire: (this.taken[k] as Taken).wire, moved: this.added.length });
    return new Node(this.trial, [...this.wires, wire], [...this.names, -1 - this.added.length], taken, [...this.added, wire], k < 0 ? this.left - 1 : this.left, joined);
  }

  /** A wiring and what can still be done to it; the order in which it was reached does not matter. */
  get key(): string {
    const free = this.taken.filter(({ moved }) => moved < 0).map(({ wire }) => wire);
    const spare = this.added.filter((_, n) => !this.taken.some(({ moved }) => moved === n)).length;
    return `${signature(this.nets)}|${this.left}|${spare}|${free.sort((x, y) => x - y).join()}`;
  }
}

/** The same for all wirings that are one circuit. */
function signature(nets: Int32Array): string {
  const first = new Int32Array(nets.length).fill(-1);
  let text = '';
  for (let pin = 0; pin < nets.length; pin += 1) {
    const net = nets[pin] as number;
    if ((first[net] as number) < 0) first[net] = pin;
    text += String.fromCharCode(33 + (first[net] as number));
  }
  return text;
}

class Search {
  tried = 0;
  stopped = false;
  more = false;
  private readonly trial: Trial;
  private readonly checkpoints: readonly Checkpoint[];
  private readonly departures: readonly Departure[];
  private readonly own: readonly PinWire[];
  private readonly kindOfPin: Uint8Array;
  /** Potentials of the reference: of two repairs the one nearer to it is shown first. */
  private readonly wanted: Int32Array;
  private readonly locked: ReadonlySet<number>;
  /** By wiring: the sequence in which the whole of it fails, or null where it passes. */
  private readonly traces = new Map<string, readonly Step[] | null>();
  private seen = new Set<string>();
  private found = new Map<string, { edits: RepairEdit[]; weight: number }>();

  constructor(
    private readonly task: RepairTask,
    private readonly list: number,
    private readonly stop: () => boolean,
    private readonly effort: number,
  ) {
    this.trial = new Trial({ ...task.bench, wires: task.bench.wires.slice(0, task.locked) });
    const { indexOf } = this.trial.circuit;
    const pin = (ref: string) => this.trial.pinOf[indexOf.get(ref) as number] as number;
    this.own = task.bench.wires.map(({ from, to }) => ({ a: pin(from), b: pin(to) }));
    this.locked = new Set(task.bench.wires.slice(0, task.locked).map((_, k) => k));
    const pinned = (wire: Wire): PinWire => ({ a: pin(wire.from), b: pin(wire.to) });
    const wanted = task.reference.wires.map(pinned);
    this.wanted = this.trial.nets(wanted);
    this.kindOfPin = new Uint8Array(this.trial.pins);
    for (const ref of this.trial.circuit.terminals) this.kindOfPin[pin(ref)] = (this.kindOfPin[pin(ref)] as number) | circuitOf(task.bench, ref);
    const story = storyOf(task, (state, motor) => this.trial.isCutOff(wanted, state, motor));
    this.checkpoints = story.checkpoints;
    this.departures = story.departures;
  }

  /** All repairs of exactly this many edits, where fewer do not do. */
  look(cost: number): RepairEdit[][] {
    this.seen = new Set();
    this.found = new Map();
    this.more = false;
    this.visit(
      new Node(
        this.trial,
        this.own,
        this.own.map((_, k) => k),
        [],
        [],
        cost,
      ),
    );
    return [...this.found.values()].sort((a, b) => a.weight - b.weight).map(({ edits }) => edits);
  }

  private visit(node: Node): void {
    if (this.stopped || this.more) return;
    const { key } = node;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    this.tried += 1;
    if (this.tried > this.effort || ((this.tried & 255) === 0 && this.stop())) {
      this.stopped = true;
      return;
    }
    const branches = this.branches(node);
    if (branches === null) {
      if (node.left === 0 || node.taken.length + node.added.length === 0) this.keep(node);
      return;
    }
    for (const answer of branches) this.visit(node.after(answer));
  }

  /** What to try next; null where the wiring passes. */
  private branches(node: Node): Answer[] | null {
    let best: Answer[] | null = null;
    let count = 0;
    // The failing with the fewest answers leads; a few are enough to choose from.
    for (const failing of this.failings(node)) {
      count += 1;
      const next = failing.flatMap((one) => this.answers(node, one));
      if (best === null || next.length < best.length) best = next;
      if (next.length === 0 || count === COMPARED) break;
    }
    if (best) return best;
    const verdict = this.verdict(node);
    if (verdict === true) return null;
    if (verdict === false) return [];
    // A proof or a trial of the whole failed: one of the wires that fed a coil or a motor on the way must go.
    return this.removals(node, verdict);
  }

  /** Each thing that a wiring fails to do, as alternatives of which one must be cured. */
  private *failings({ wires }: Node): Generator<readonly Failing[]> {
    const { trial } = this;
    const earth = trial.unearthed(wires);
    if (earth) yield [earth];
    for (const checkpoint of this.checkpoints) {
      const failing = trial.failing(wires, checkpoint);
      if (failing.length > 0) yield failing;
    }
    for (const departure of this.departures) {
      const staying = trial.staying(wires, departure);
      if (staying.length > 0) yield staying;
    }
  }

  private answers(node: Node, failing: Failing): Answer[] {
    const { trial } = this;
    switch (failing.kind) {
      case 'short':
        return this.removals(node, trial.wiresOnWay(node.wires, failing.state, failing.from, [failing.to]) ?? []);
      case 'live':
        return this.removals(node, this.feeding(node.wires, failing.state, failing.ends));
      case 'earth': {
        const { nets } = node;
        return this.additions(node, [nets[failing.from] as number], new Set(trial.bonded.map((pin) => nets[pin] as number)));
      }
      case 'dead':
        return this.feed(node, failing.state, failing.ends);
    }
  }

  /** Wires that carry a potential to some pins. */
  private feeding(wires: readonly PinWire[], state: MechanicalState, ends: readonly number[]): number[] {
    const goals = this.trial.tiedPins(state).map(({ pin }) => pin);
    return [...new Set(ends.flatMap((end) => this.trial.wiresOnWay(wires, state, end, goals) ?? []))];
  }

  /** A load has no voltage, or the wrong one: its open ends must be joined to something, or what feeds it wrongly must go. */
  private feed(node: Node, state: MechanicalState, ends: readonly number[]): Answer[] {
    const { trial } = this;
    const nodes = trial.nodes(node.wires, state);
    const tied = new Set(trial.tiedPins(state).map(({ pin }) => nodes[pin] as number));
    const roots = ends.map((end) => nodes[end] as number);
    const isMotor = ends.length > 2;
    // A winding's end that meets nothing carries no current; one that meets other ends may be a star point.
    const open = [...new Set(roots)].filter((root) => !tied.has(root) && (!isMotor || roots.indexOf(root) === roots.lastIndexOf(root)));
    const [root] = open;
    if (root === undefined) return [...this.openNodes(node, nodes, roots, tied), ...this.removals(node, this.feeding(node.wires, state, ends))];
    // Every open end must be fed in the end, so it is enough to begin with one of them; with nothing left but that, only
    // what holds a potential (or another winding) helps.
    const last = this.additionsLeft(node) <= (isMotor ? 1 : open.length);
    return this.join(node, nodes, root, (to) => !last || tied.has(to) || (isMotor && roots.includes(to)));
  }

  /** Joins of nodes in which several winding ends meet and no conductor does. */
  private openNodes(node: Node, nodes: Int32Array, roots: readonly number[], tied: ReadonlySet<number>): Answer[] {
    return [...new Set(roots)].filter((root) => !tied.has(root)).flatMap((root) => this.join(node, nodes, root, (to) => tied.has(to) || roots.includes(to)));
  }

  private join(node: Node, nodes: Int32Array, root: number, admits: (to: number) => boolean): Answer[] {
    const to = new Set<number>();
    const { nets } = node;
    for (let pin = 0; pin < nets.length; pin += 1) {
      const other = nodes[pin] as number;
      if (other !== root && admits(other)) to.add(nets[pin] as number);
    }
    return this.additions(node, netsIn(nodes, node.nets, root), to);
  }

  /** Wires that can still be added: one an edit, and one for each wire that was taken away and not yet put elsewhere. */
  private additionsLeft({ left, taken }: Node): number {
    return left + taken.filter(({ moved }) => moved < 0).length;
  }

  private removals(node: Node, wires: readonly number[]): Answer[] {
    const spare = node.added.flatMap((wire, n) => (node.taken.some(({ moved }) => moved === n) ? [] : [{ wire, n }]));
    return wires.flatMap((k): Answer[] => {
      const name = node.names[k] as number;
      // What stays is the instructor's; what was just added is not taken away again.
      if (name < 0 || this.locked.has(name)) return [];
      // A wire that was added before may turn out to be this one, moved.
      const moved = spare.find(({ wire, n }) => this.isMove(node, k, wire, n))?.n ?? -1;
      return moved >= 0 || node.left > 0 ? [{ take: k, moved }] : [];
    });
  }

  /** True where the nth added wire keeps an end of the kth wire when that is taken away. */
  private isMove({ wires, names }: Node, k: number, added: PinWire, n: number): boolean {
    const nets = this.trial.nets(wires.filter((_, i) => i !== k && names[i] !== -1 - n));
    const { a, b } = wires[k] as PinWire;
    return [a, b].some((end) => nets[end] === nets[added.a] || nets[end] === nets[added.b]);
  }

  /** A wire from one of some potentials to one of others: as the moved end of a wire that was taken away, or as a new one. */
  private additions(node: Node, from: readonly number[], to: ReadonlySet<number>): Answer[] {
    const { nets } = node;
    const next: Answer[] = [];
    const free = node.taken.flatMap(({ wire, moved }, k) => (moved < 0 ? [{ k, ends: this.own[wire] as PinWire }] : []));
    if (free.length === 0 && node.left === 0) return next;
    const kinds = this.kindsOf(nets);
    for (const a of from) {
      for (const b of to) {
        // Nobody mends a motor's lead through a push button: power is joined to power, control to control, earth to earth.
        if (a === b || ((kinds[a] as number) & (kinds[b] as number)) === 0) continue;
        const movable = free.filter(({ ends }) => [ends.a, ends.b].some((end) => nets[end] === a || nets[end] === b));
        for (const { k } of movable) next.push({ put: { a, b }, as: k });
        if (movable.length === 0 && node.left > 0) next.push({ put: { a, b }, as: -1 });
      }
    }
    return next;
  }

  /** By net: POWER, CONTROL and EARTH, by the terminals in it. */
  private kindsOf(nets: Int32Array): Uint8Array {
    const kinds = new Uint8Array(nets.length);
    nets.forEach((net, pin) => (kinds[net] = (kinds[net] as number) | (this.kindOfPin[pin] as number)));
    return kinds;
  }

  /** True where a wiring passes; otherwise the wires that fed what it should not have, or false where nothing leads on. */
  private verdict({ wires, nets }: Node): boolean | readonly number[] {
    const key = signature(nets);
    let trace = this.traces.get(key);
    const solver = new Solver(this.circuitOf(wires));
    if (trace === undefined) {
      const proof = proveCircuit(solver);
      const broken = proof.properties.find(({ holds }) => !holds);
      trace = broken ? broken.trace : proof.complete ? this.failedBehaviour(solver) : [];
      this.traces.set(key, trace);
    }
    if (trace === null) return true;
    const feeding = this.fedAlong(solver, wires, trace);
    return feeding.length > 0 ? feeding : false;
  }

  private failedBehaviour(solver: Solver): readonly Step[] | null {
    for (const steps of this.task.behaviours) {
      const { mismatches } = runSteps(solver, steps);
      if (mismatches[0]) return steps.slice(0, mismatches[0].step + 1);
    }
    return null;
  }

  /** Wires that feed coils and motors at any moment of a sequence. */
  private fedAlong(solver: Solver, wires: readonly PinWire[], steps: readonly (Step | Stimulus)[]): number[] {
    const { circuit } = solver;
    const simulation = new Simulation(solver);
    const found = new Set<number>();
    const pins = (terminals: readonly number[]) => terminals.filter((k) => k >= 0).map((k) => this.trial.pinOf[k] as number);
    const look = (): void => {
      const electrical = solver.at(simulation.state);
      circuit.coils.forEach(({ a, b, voltage }, k) => {
        if (isShorted(electrical) || (electrical.coilVolts[k] as number) > ENERGISED * voltage)
          for (const wire of this.feeding(wires, simulation.state, pins([a, b]))) found.add(wire);
      });
      circuit.motors.forEach(({ terminals }, k) => {
        if (electrical.motors[k]?.driven !== 'none') for (const wire of this.feeding(wires, simulation.state, pins(terminals))) found.add(wire);
      });
    };
    for (const step of steps) {
      if (isExpectation(step)) continue;
      simulation.apply(step);
      look();
      if (!('wait' in step)) simulation.settle();
      look();
    }
    return [...found];
  }

  private circuitOf(wires: readonly PinWire[]): Circuit {
    const { circuit, pinOf } = this.trial;
    const terminalOf = new Map<number, number>();
    pinOf.forEach((pin, terminal) => terminalOf.has(pin) || terminalOf.set(pin, terminal));
    const at = (pin: number) => terminalOf.get(pin) as Circuit['conductors'][number]['a'];
    return { ...circuit, conductors: [...circuit.conductors, ...wires.map(({ a, b }, wire) => ({ a: at(a), b: at(b), wire, tag: '', ohms: 0.02 }))] };
  }

  /** Pairs of pins that are joined in a wiring or in the reference and not in both. */
  private strangeness(wires: readonly PinWire[]): number {
    const nets = this.trial.nets(wires);
    let count = 0;
    for (let a = 0; a < nets.length; a += 1) for (let b = 0; b < a; b += 1) if ((nets[a] === nets[b]) !== (this.wanted[a] === this.wanted[b])) count += 1;
    return count;
  }

  private keep(node: Node): void {
    const edits = this.editsOf(node);
    if (!edits) return;
    const key = edits
      .map((edit) => JSON.stringify(edit))
      .sort()
      .join();
    if (this.found.has(key)) return;
    if (this.found.size >= this.list) {
      this.more = true;
      return;
    }
    this.found.set(key, { edits, weight: this.strangeness(node.wires) * 10 + weightOf(edits) });
  }

  /** The edits of a node at terminals that take another conductor. */
  private editsOf({ wires, names, taken, added }: Node): RepairEdit[] | null {
    const { bench } = this.task;
    const kept = names.flatMap((name) => (name >= 0 ? [bench.wires[name] as Wire] : []));
    const count = conductorsByTerminal(kept);
    const nets = this.trial.nets(wires.filter((_, k) => (names[k] as number) >= 0));
    const room = (ref: TerminalRef) => (this.roomOf(ref) > (count.get(ref) ?? 0) ? 0 : 1);
    const pick = (pin: number, not?: TerminalRef): TerminalRef => {
      const net = nets[pin] as number;
      const candidates = this.trial.circuit.terminals.filter((ref, k) => ref !== not && nets[this.trial.pinOf[k] as number] === net);
      return candidates.sort((x, y) => room(x) - room(y) || (count.get(x) ?? 0) - (count.get(y) ?? 0))[0] as TerminalRef;
    };
    const take = (ref: TerminalRef) => count.set(ref, (count.get(ref) ?? 0) + 1);
    const edits: RepairEdit[] = [];
    for (const { wire, moved } of taken) {
      const own = bench.wires[wire] as Wire;
      if (moved < 0) {
        edits.push({ remove: own });
        continue;
      }
      const { a, b } = added[moved] as PinWire;
      const [from, to] = [own.from, own.to].map((ref) => nets[this.pin(ref)] as number) as [number, number];
      const goes = [nets[a] as number, nets[b] as number];
      const keepsFrom = goes.includes(from);
      if (!keepsFrom && !goes.includes(to)) return null;
      const stays = keepsFrom ? own.from : own.to;
      const other = pick(nets[a] === nets[this.pin(stays)] ? b : a, stays);
      take(other);
      take(stays);
      edits.push({ move: own, to: keepsFrom ? { ...own, to: other } : { ...own, from: other } });
    }
    added.forEach(({ a, b }, n) => {
      if (taken.some(({ moved }) => moved === n)) return;
      const from = pick(a);
      take(from);
      const to = pick(b, from);
      take(to);
      edits.push({ add: { from, to, ...this.style(from, to) } });
    });
    return edits;
  }

  /** Colour and area of a new wire: as a wire that ends on one of its terminals, or in the reference. */
  private style(from: TerminalRef, to: TerminalRef): Pick<Wire, 'colour' | 'area'> {
    const like = [...this.task.reference.wires, ...this.task.bench.wires].find((wire) => [wire.from, wire.to].some((ref) => ref === from || ref === to));
    return { ...(like?.colour === undefined ? {} : { colour: like.colour }), ...(like?.area === undefined ? {} : { area: like.area }) };
  }

  private pin(ref: TerminalRef): number {
    return this.trial.pinOf[this.trial.circuit.indexOf.get(ref) as number] as number;
  }

  private roomOf(ref: TerminalRef): number {
    const { tag, terminal } = splitRef(ref);
    const device = this.task.bench.devices.find((d) => d.tag === tag);
    return (device && anatomy(device).terminals.find(({ name }) => name === terminal)?.conductors) ?? 2;
  }
}

/** Supplies, switchgear, fuses, transformers and strips serve both circuits; poles, heaters and motors are power. */
function circuitOf(bench: Bench, ref: TerminalRef): number {
  const { tag, terminal } = splitRef(ref);
  if (terminal === 'PE') return EARTH;
  const device = bench.devices.find((d) => d.tag === tag);
  switch (device?.type) {
    case 'contactor':
    case 'overload':
      return /^[1-6]$/.test(terminal) ? POWER : CONTROL;
    case 'motor-3':
    case 'motor-1':
      return POWER;
    case 'pushbutton':
    case 'estop':
    case 'selector':
    case 'limit-switch':
    case 'relay':
    case 'timer':
    case 'star-delta-timer':
    case 'lamp':
    case 'buzzer':
      return CONTROL;
    case 'transformer':
    case 'terminal-strip':
    case 'busbar':
      return POWER | CONTROL | EARTH;
    default:
      return POWER | CONTROL;
  }
}

/** Moving a wire disturbs less than taking one away and putting another in. */
const weightOf = (edits: readonly RepairEdit[]): number => edits.reduce((sum, edit) => sum + ('remove' in edit ? 1 : 'move' in edit ? 2 : 3), 0);

function netsIn(nodes: Int32Array, nets: Int32Array, root: number): number[] {
  const found = new Set<number>();
  nodes.forEach((node, pin) => {
    if (node === root) found.add(nets[pin] as number);
  });
  return [...found];
}

/** The settled moments of the behaviours, as the reference goes through them, and what sets off each change between them. */
function storyOf(
  { reference, behaviours, observe }: RepairTask,
  isCutOff: (state: MechanicalState, motor: number) => boolean,
): { checkpoints: Checkpoint[]; departures: Departure[] } {
  const solver = new Solver(compile(reference));
  const { circuit } = solver;
  const named = new Set([...observe, ...behaviours.flatMap((steps) => steps.flatMap((step) => (isExpectation(step) ? Object.keys(step.expect) : [])))]);
  const unobserved = circuit.coils.flatMap(({ tag }, k) => (named.has(tag) ? [] : [k]));
  const free = unobserved.map((k) => circuit.coils[k]?.mechanism as number);
  const checkpoints = new Map<string, Checkpoint>();
  const departures = new Map<string, Departure>();
  const isSettled = (state: MechanicalState) => !circuit.mechanisms.some((mechanism) => isMoving(mechanism, state[mechanism.index] as number));
  const take = (state: MechanicalState): void => {
    const key = String.fromCharCode(...state);
    if (checkpoints.has(key) || !isSettled(state)) return;
    const electrical = solver.at(state);
    if (isShorted(electrical)) return;
    checkpoints.set(key, {
      states: variants(circuit, state.slice(), free),
      coils: circuit.coils.map(({ tag, mechanism }) => (named.has(tag) ? state[mechanism] === OPERATED : null)),
      lamps: circuit.lamps.map(({ tag, voltage }, k) => (named.has(tag) ? (electrical.lampVolts[k] as number) >= LAMP_LIT * voltage : null)),
      motors: electrical.motors.map(({ driven, positive }, k) => ({ driven, positive, dead: isCutOff(state, k) })),
    });
  };
  const depart = (before: MechanicalState, after: MechanicalState): void => {
    if (!isSettled(before) || !isSettled(after)) return;
    const state = before.slice();
    for (const { index, kind } of circuit.mechanisms) {
      if (kind !== 'armature' && (kind !== 'timer' || before[index] === TIMER_TIMING)) state[index] = after[index] as number;
    }
    const moves = circuit.coils.flatMap(({ tag, mechanism }, coil) => {
      const goesIn = after[mechanism] === OPERATED;
      return named.has(tag) && circuit.mechanisms[mechanism]?.kind === 'armature' && goesIn !== (before[mechanism] === OPERATED) ? [{ coil, in: goesIn }] : [];
    });
    const key = String.fromCharCode(...state);
    if (moves.length > 0 && !departures.has(key)) departures.set(key, { state, moves, unobserved });
  };
  take(new Simulation(solver).state);
  for (const steps of behaviours) {
    const simulation = new Simulation(solver);
    for (const step of steps) {
      if (isExpectation(step)) continue;
      const before = simulation.state.slice();
      simulation.apply(step);
      if (!('wait' in step)) simulation.settle();
      take(simulation.state);
      depart(before, simulation.state);
    }
  }
  return { checkpoints: [...checkpoints.values()], departures: [...departures.values()] };
}

/** A state with every way in which what nobody observes may stand; the reference's own way first. */
function variants(circuit: Circuit, state: MechanicalState, free: readonly number[]): MechanicalState[] {
  let states = [state];
  for (const mechanism of free) {
    const rests = circuit.mechanisms[mechanism]?.kind === 'timer' ? [TIMER_IDLE, TIMER_TIMING, TIMER_DONE] : [REST, OPERATED];
    states = states.flatMap((one) => {
      const own = one[mechanism] as number;
      return [own, ...rests.filter((rest) => rest !== own)].map((rest) => {
        const other = one.slice();
        other[mechanism] = rest;
        return other;
      });
    });
  }
  return states.slice(0, 27);
}
