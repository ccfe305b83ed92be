import { conductorsByTerminal, splitRef, type Bench, type TerminalRef, type Wire } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import {
  CONTROL,
  placesOf,
  type Circuit,
  type MechanicalState,
  type Stimulus,
  type TerminalIndex,
} from '../circuit/index.js';
import { Solver, isShorted } from '../electrics/index.js';
import { proveCircuit } from '../proof/index.js';
import { Simulation, isExpectation, runSteps, type Mismatch, type Step } from '../simulation/index.js';
import { ENERGISED } from '../tolerances.js';
import { Candidate, isPut, put, signature, take, type Answer } from './wiring.js';
import { storyOf } from './checkpoints.js';
import { Board, type Checkpoint, type Departure, type Failing, type PinWire } from './board.js';

/** One change of a wiring. */
export type RepairEdit =
  { readonly remove: Wire } | { readonly add: Wire } | { readonly move: Wire; readonly to: Wire };

export interface Repair {
  /** A wiring that passes was found (none was needed where `edits` is empty). */
  readonly found: boolean;
  /** All repairs of the fewest edits; the first is shown first. */
  readonly repairs: readonly (readonly RepairEdit[])[];
  /** More of the same length may exist than are listed. */
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
  /** Told now and then: edits up to which it looks, and wirings that it has looked at. */
  readonly watch?: (progress: { readonly edits: number; readonly tried: number }) => void;
  /** Most wirings to look at. */
  readonly effort?: number;
  /** Most wirings to look at for further repairs once one is found. */
  readonly listing?: number;
}

const MOST = 3;
const LIST = 24;
const EFFORT = 1_000_000;
const LISTING = 60_000;
/** Failings that are compared for the fewest answers. */
const COMPARED = 40;
const COMPARED_LAST = 2;
/** Per unit by which the voltage of a load in a right wiring may differ from its rating. */
const NEAR_RATING = 0.2;
/** Expected values that need a voltage. */
const WANTS_POWER: ReadonlySet<unknown> = new Set([
  'in',
  'lit',
  'forward',
  'reverse',
  'timing',
  'done',
  'star',
  'delta',
]);

/**
 * The fewest edits that make a wiring behave rightly and hold every safety property. Each wiring is judged first at
 * checkpoints, the settled moments of the exercise's behaviours, and by what earlier wirings failed in; what it fails to
 * do says which wires or potentials an edit must touch, so only such edits are tried, one deeper at a time. What no
 * checkpoint refuses is proved and tried in full.
 */
export function repair(
  task: RepairTask,
  {
    most = MOST,
    list = LIST,
    stop = () => false,
    watch = () => undefined,
    effort = EFFORT,
    listing = LISTING,
  }: RepairOptions = {},
): Repair {
  const search = new Search(task, list, stop, watch, effort, listing);
  for (let cost = 0; cost <= most; cost += 1) {
    const repairs = search.look(cost);
    const { more, tried, stopped } = search;
    if (repairs.length > 0 || stopped)
      return {
        found: repairs.length > 0,
        repairs,
        more,
        searched: stopped ? Math.max(0, cost - 1) : cost,
        tried,
        stopped,
      };
  }
  return { found: false, repairs: [], more: false, searched: most, tried: search.tried, stopped: false };
}

/** How a whole wiring fails: at a checkpoint, or in a sequence. */
type Refusal =
  | { readonly failing: readonly Failing[] }
  | {
      readonly trace: readonly Step[];
      readonly mismatches: readonly Mismatch[];
      readonly anywhere?: boolean;
    };

class Search {
  tried = 0;
  stopped = false;
  more = false;
  private readonly board: Board;
  private readonly checkpoints: readonly Checkpoint[];
  private readonly departures: readonly Departure[];
  private readonly own: readonly PinWire[];
  private readonly kindOfPin: Uint8Array;
  /** Potentials of the reference: of two repairs the one nearer to it is shown first. */
  private readonly wanted: Int32Array;
  /** By pin: one of its terminals. */
  private readonly terminalOf: TerminalIndex[];
  /** By wiring: how the whole of it fails, or null where it passes. */
  private readonly verdicts = new Map<string, Refusal | null>();
  private seen = new Set<string>();
  /** Only what leads towards the reference is tried. */
  private towards = false;
  private visits = 0;
  private edits = 0;
  /** Wirings tried when the first repair was found. */
  private foundAt = 0;
  private found = new Map<string, { edits: RepairEdit[]; weight: number }>();
  /** The order in which moments are looked at: what refused a wiring last comes first. */
  private readonly order: number[];

  constructor(
    private readonly task: RepairTask,
    private readonly list: number,
    private readonly stop: () => boolean,
    private readonly watch: (progress: { readonly edits: number; readonly tried: number }) => void,
    private readonly effort: number,
    private readonly listing: number,
  ) {
    this.board = new Board({ ...task.bench, wires: task.bench.wires.slice(0, task.locked) });
    const { circuit, pinOf } = this.board;
    const pinned = ({ from, to }: Wire): PinWire => ({ a: this.board.pin(from), b: this.board.pin(to) });
    this.own = task.bench.wires.map(pinned);
    const wanted = task.reference.wires.map(pinned);
    this.wanted = this.board.nets(wanted);
    const places = placesOf(task.bench);
    this.terminalOf = new Array<TerminalIndex>(this.board.pins);
    this.kindOfPin = new Uint8Array(this.board.pins);
    circuit.terminals.forEach((ref, terminal) => {
      const pin = pinOf[terminal]!;
      this.terminalOf[pin] ??= terminal as TerminalIndex;
      this.kindOfPin[pin] = this.kindOfPin[pin]! | (places.get(ref)?.circuits ?? 0);
    });
    const story = storyOf(task, (state, motor) => this.board.tiedEnds(wanted, state, motor));
    this.checkpoints = story.checkpoints;
    this.departures = story.departures;
    this.order = [...this.checkpoints, ...this.departures].map((_, k) => k);
  }

  /** All repairs of exactly this many edits, where fewer do not do. */
  look(cost: number): RepairEdit[][] {
    this.found = new Map();
    this.more = false;
    this.edits = cost;
    // What leads towards the reference is tried first: it finds most repairs at once.
    for (const towards of [true, false]) {
      this.seen = new Set();
      this.towards = towards;
      this.visit(new Candidate(this.board, this.own, [], [], cost));
    }
    return [...this.found.values()].sort((a, b) => a.weight - b.weight).map(({ edits }) => edits);
  }

  private visit(node: Candidate): void {
    if (this.stopped || this.more) return;
    const { key } = node;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    this.tried += 1;
    this.visits += 1;
    if (this.found.size === 0) this.foundAt = this.tried;
    if (this.tried - this.foundAt > this.listing) {
      this.more = true;
      return;
    }
    if ((this.visits & 63) === 0) this.watch({ edits: this.edits, tried: this.tried });
    if (this.tried > this.effort || ((this.visits & 15) === 0 && this.stop())) {
      this.stopped = true;
      return;
    }
    const next = this.children(node);
    if (next === null) {
      if (node.left === 0) this.keep(node);
      return;
    }
    for (const child of next) if (child.left >= 0) this.visit(child);
  }

  /** What a wiring leads to; null where it passes. */
  private children(node: Candidate): readonly Candidate[] | null {
    const most = 2 * node.left + node.free;
    const sets: Map<number, Answer>[] = [];
    for (const failing of this.failings(node.wires)) {
      if (most === 0) return [];
      const set = new Map(
        failing.flatMap((one) => this.answers(node, one)).map((answer) => [answer.key, answer]),
      );
      if (set.size === 0) return [];
      sets.push(set);
      if (sets.length === (most === 1 ? COMPARED_LAST : COMPARED)) break;
    }
    const [first, ...others] = sets;
    if (!first) return this.cures(node)?.flatMap((answer) => node.after(answer)) ?? null;
    // One thing that is left to do must answer all failings.
    if (most === 1)
      return [...first.values()]
        .filter(({ key }) => others.every((set) => set.has(key)))
        .flatMap((answer) => this.last(node, answer));
    if (node.left === 1 && node.free === 0) return this.lastEdit(node, sets);
    if (node.left === 0 && node.free === 2) return this.lastTwo(node, sets);
    return this.narrowed(node, sets, most).flatMap((answer) => node.after(answer));
  }

  /** The last thing that can be done, where no checkpoint refuses what it leads to. */
  private last(node: Candidate, answer: Answer): Candidate[] {
    return 'put' in answer && this.refuses([...node.wires, answer.put]) ? [] : node.after(answer);
  }

  /** The last edit: a wire taken away, put in or moved, which must answer all failings. */
  private lastEdit(node: Candidate, sets: Map<number, Answer>[]): Candidate[] {
    sets.sort((x, y) => x.size - y.size);
    const next: Candidate[] = [];
    const move = (k: number, wire: PinWire): void => {
      for (const { wires, candidate } of node.moved(k, wire))
        if (!this.refuses(wires)) next.push(candidate());
    };
    for (const answer of sets[0]!.values()) {
      const rest = sets.filter((set) => !set.has(answer.key));
      if (rest.length === 0) next.push(...('put' in answer ? this.last(node, answer) : node.after(answer)));
      if ('put' in answer) {
        for (const k of this.beside(node, answer.put))
          if (rest.every((set) => set.has(node.names[k]!))) move(k, answer.put);
      } else if (rest[0]) {
        const net = node.nets[node.wires[answer.take]!.a];
        for (const [key, other] of rest[0])
          if (
            'put' in other &&
            (net === other.put.a || net === other.put.b) &&
            rest.every((set) => set.has(key))
          )
            move(answer.take, other.put);
      }
    }
    return next;
  }

  /** The last two wires to be put in, which must answer all failings. */
  private lastTwo(node: Candidate, sets: Map<number, Answer>[]): Candidate[] {
    sets.sort((x, y) => x.size - y.size);
    const next: Candidate[] = [];
    for (const answer of sets[0]!.values()) {
      if (!('put' in answer)) continue;
      const rest = sets.filter((set) => !set.has(answer.key));
      if (!rest[0]) next.push(...node.after(answer));
      else
        for (const [key, other] of rest[0])
          if (
            'put' in other &&
            rest.every((set) => set.has(key)) &&
            !this.refuses([...node.wires, answer.put, other.put])
          )
            next.push(...node.after(answer).flatMap((one) => one.after(other)));
    }
    return next;
  }

  /** Wires of the board that may go and share a potential with a wire that is put in. */
  private *beside({ names, wires, nets }: Candidate, { a, b }: PinWire): Generator<number> {
    for (let k = 0; k < names.length; k += 1) {
      const name = names[k]!;
      if (!this.mayGo(name)) continue;
      const net = nets[wires[k]!.a];
      if (net === a || net === b) yield k;
    }
  }

  /** True where a checkpoint refuses a wiring. */
  private refuses(wires: readonly PinWire[]): boolean {
    this.tried += 1;
    return !(this.failings(wires).next().done ?? false);
  }

  /**
   * The failing with the fewest answers leads. Each failing must be answered, so of those answers only the ones remain after
   * which what is left can still answer all the others. A wire may also be put in as the moved end of one that is still
   * there: that one is then taken away first.
   */
  private narrowed(node: Candidate, sets: Map<number, Answer>[], most: number): Answer[] {
    sets.sort((x, y) => x.size - y.size);
    const next = new Map<number, Answer>();
    const { left, nets } = node;
    const free = node.takenWires.flatMap(({ a, b }) => [nets[a]!, nets[b]!]);
    // With no edit left after it only moved ends can be put in.
    const fits = (k: number) => (left > 1 ? null : new Set([...free, nets[node.wires[k]!.a]!]));
    for (const answer of sets[0]!.values()) {
      const rest = sets.filter((set) => !set.has(answer.key));
      if (isEnough(node, rest, most - 1, 'take' in answer ? fits(answer.take) : null))
        next.set(answer.key, answer);
      if (!('put' in answer) || left === 0) continue;
      for (const k of this.beside(node, answer.put)) {
        const name = node.names[k]!;
        if (next.has(name)) continue;
        const others = rest.filter((set) => !set.has(name));
        if (isEnough(node, others, most - 2, fits(k))) next.set(name, take(k, name));
      }
    }
    return [...next.values()];
  }

  /** Each thing that a wiring fails to do, as alternatives of which one must be cured. */
  private *failings(wires: readonly PinWire[]): Generator<readonly Failing[]> {
    const { board, order } = this;
    const earth = board.unearthed(wires);
    if (earth) yield [earth];
    for (let k = 0; k < order.length; k += 1) {
      const moment = order[k]!;
      const failing =
        moment < this.checkpoints.length
          ? board.failing(wires, this.checkpoints[moment]!)
          : board.staying(wires, this.departures[moment - this.checkpoints.length]!);
      if (failing.length === 0) continue;
      if (k > 0) order.unshift(...order.splice(k, 1));
      yield failing;
    }
  }

  private answers(node: Candidate, failing: Failing): Answer[] {
    const { board } = this;
    switch (failing.kind) {
      case 'short':
        return this.removals(node, [
          ...new Set(
            failing.ways.flatMap(
              ([from, to]) => board.wiresOnWay(node.wires, failing.state, from, [to]) ?? [],
            ),
          ),
        ]);
      case 'live':
        return this.removals(node, this.feeding(node.wires, failing.state, failing.ends, failing.shared));
      case 'earth': {
        const { nets } = node;
        return this.additions(node, [nets[failing.from]!], new Set(board.bonded.map((pin) => nets[pin]!)));
      }
      case 'dead':
        return [
          ...this.feed(node, failing.state, failing.ends, failing.wants),
          ...(failing.shared
            ? this.removals(node, this.feeding(node.wires, failing.state, failing.ends, true))
            : []),
        ];
    }
  }

  /** Wires that carry a potential to some pins. */
  private feeding(
    wires: readonly PinWire[],
    state: MechanicalState,
    ends: readonly number[],
    shared = false,
  ): number[] {
    const goals = this.board.tiedPins(state);
    return [...new Set(ends.flatMap((end) => this.board.wiresOnWay(wires, state, end, goals, shared) ?? []))];
  }

  /** A load has no voltage, or the wrong one. Wires that are taken away never feed anything, so what is open must be joined to something. */
  private feed(node: Candidate, state: MechanicalState, ends: readonly number[], wants: number): Answer[] {
    return ends.length > 2
      ? this.feedMotor(node, state, ends, wants)
      : this.feedLoad(node, state, ends as readonly [number, number], wants);
  }

  private feedLoad(
    node: Candidate,
    state: MechanicalState,
    ends: readonly [number, number],
    volts: number,
  ): Answer[] {
    const { board } = this;
    const puts = node.left + node.free;
    const { nodes, held } = board.potentialsIn(node.wires, state);
    const [one, other] = [nodes[ends[0]]!, nodes[ends[1]]!];
    // Ends that are joined must be parted and one of them fed anew; so must ends on one potential.
    if (one === other)
      return puts === 0
        ? []
        : this.removals(node, board.wiresOnWay(node.wires, state, ends[0], [ends[1]]) ?? []);
    const open = [one, other].filter((root) => held[root]! < 0);
    const [root] = open;
    if (root === undefined)
      return puts === 0 ? [] : this.removals(node, this.feeding(node.wires, state, ends));
    if (open.length > puts) return [];
    // With nothing left but that, only a potential that gives the load its voltage helps.
    const against = open.length === 2 ? -1 : held[root === one ? other : one]!;
    const fits = (potential: number) =>
      against < 0 || Math.abs(board.volts(potential, against) - volts) <= NEAR_RATING * volts;
    return this.join(node, nodes, root, (to, nets) =>
      held[to]! >= 0 ? puts > 1 || fits(held[to]!) : open.length < puts && nets > 1,
    );
  }

  private feedMotor(
    node: Candidate,
    state: MechanicalState,
    ends: readonly number[],
    wants: number,
  ): Answer[] {
    const puts = node.left + node.free;
    const { nodes, held } = this.board.potentialsIn(node.wires, state);
    const roots = ends.map((end) => nodes[end]!);
    const open = [...new Set(roots.filter((root) => held[root]! < 0))];
    const tied = roots.filter((root) => held[root]! >= 0).length;
    if (tied < wants) {
      // One wire ties one group of ends more.
      const groups = open.map((root) => roots.filter((other) => other === root).length).sort((x, y) => y - x);
      let [needed, reached] = [0, tied];
      while (reached < wants && needed < groups.length) reached += groups[needed++]!;
      if (reached < wants || needed > puts) return [];
      // Two open groups joined to each other need as many wires in all: one of them is tied for both.
      const admits = (to: number, nets: number) =>
        held[to]! >= 0 || (needed < puts && nets > 1) || (needed > 1 && open.includes(to));
      // Where every end must be tied it is enough to begin with one.
      return (wants === ends.length ? open.slice(0, 1) : open).flatMap((root) =>
        this.join(node, nodes, root, admits),
      );
    }
    const removals =
      open.length === 0 && wants === ends.length && puts === 0
        ? []
        : this.removals(node, this.feeding(node.wires, state, ends));
    if (puts === 0) return removals;
    return [
      ...removals,
      ...open.flatMap((root) =>
        this.join(
          node,
          nodes,
          root,
          (to, nets) => held[to]! >= 0 || roots.includes(to) || (puts > 1 && nets > 1),
        ),
      ),
    ];
  }

  /**
   * Wires from a node to those that are admitted, by their root and how many nets they are. To go on from an open node of
   * one net is the same as to go there at once, so none need begin with it.
   */
  private join(
    node: Candidate,
    nodes: Int32Array,
    root: number,
    admits: (to: number, nets: number) => boolean,
  ): Answer[] {
    const { nets } = node;
    const byNode = new Map<number, Set<number>>();
    for (let pin = 0; pin < nets.length; pin += 1) {
      const to = nodes[pin]!;
      const known = byNode.get(to);
      if (known) known.add(nets[pin]!);
      else byNode.set(to, new Set([nets[pin]!]));
    }
    // A net that may yet be parted counts as more than one.
    const parting = new Set<number>();
    if (node.left > 0)
      node.names.forEach((name, k) => name >= this.task.locked && parting.add(nets[node.wires[k]!.a]!));
    // So does one at which a wire ended that was taken away: only from there can that wire go on, and not from everywhere else.
    if (node.free > 0) for (const { a, b } of node.takenWires) parting.add(nets[a]!).add(nets[b]!);
    const size = (members: ReadonlySet<number>): number =>
      members.size + (parting.size > 0 && [...members].some((net) => parting.has(net)) ? 1 : 0);
    const to = new Set<number>();
    for (const [other, members] of byNode)
      if (other !== root && admits(other, size(members))) for (const net of members) to.add(net);
    return this.additions(node, [...(byNode.get(root) ?? [])], to);
  }

  /** Taking away one of the wires on a way. */
  private removals(node: Candidate, way: readonly number[]): Answer[] {
    if (node.left === 0) return [];
    return node.partOf(way).flatMap((k): Answer[] => {
      const name = node.names[k]!;
      return this.mayGo(name) ? [take(k, name)] : [];
    });
  }

  /** What stays is the instructor's, and what was just put in. */
  private mayGo(name: number): boolean {
    if (name < this.task.locked) return false;
    const { a, b } = this.own[name]!;
    return !this.towards || this.wanted[a] !== this.wanted[b];
  }

  /** A wire from one of some potentials to one of others. */
  private additions(node: Candidate, from: readonly number[], to: ReadonlySet<number>): Answer[] {
    if (node.left === 0 && node.free === 0) return [];
    const { nets } = node;
    const kinds = this.kindsOf(nets);
    const next: Answer[] = [];
    const alike = this.towards ? this.alike(nets) : null;
    // With no edit left only the moved end of a wire that was taken away can be put in.
    const moved = node.left > 0 ? null : new Set(node.takenWires.flatMap(({ a, b }) => [nets[a]!, nets[b]!]));
    for (const a of from) {
      for (const b of to) {
        if (moved !== null && !moved.has(a) && !moved.has(b)) continue;
        // Nobody mends a motor's lead through a push button: power is joined to power, control to control, earth to earth.
        if (a !== b && (kinds[a]! & kinds[b]!) !== 0 && (alike?.(a, b) ?? true))
          next.push(put(a, b, this.board.pins));
      }
    }
    return next;
  }

  /** Whether two nets hold pins that the reference joins. */
  private alike(nets: Int32Array): (a: number, b: number) => boolean {
    const wanted = new Map<number, Set<number>>();
    nets.forEach((net, pin) => {
      const known = wanted.get(net) ?? new Set();
      wanted.set(net, known.add(this.wanted[pin]!));
    });
    return (a, b) => [...(wanted.get(a) ?? [])].some((potential) => wanted.get(b)?.has(potential));
  }

  /** True where each wire that was put in joins what belongs together without it. */
  private joinsAlike({ wires, names, added }: Candidate): boolean {
    return added.every(({ a, b }, n) => {
      const nets = this.board.nets(wires.filter((_, k) => names[k] !== -1 - n));
      const kinds = this.kindsOf(nets);
      return (kinds[nets[a]!]! & kinds[nets[b]!]!) !== 0;
    });
  }

  /** By net: POWER, CONTROL and EARTH, by the terminals in it. */
  private kindsOf(nets: Int32Array): Uint8Array {
    const kinds = new Uint8Array(nets.length);
    nets.forEach((net, pin) => (kinds[net] = kinds[net]! | this.kindOfPin[pin]!));
    return kinds;
  }

  /** How the whole of a wiring fails; null where it passes. */
  private verdict({ wires, nets }: Candidate): Refusal | null {
    const key = signature(nets);
    let refusal = this.verdicts.get(key);
    if (refusal === undefined) {
      refusal = this.tryWhole(new Solver(this.circuitOf(wires)));
      this.verdicts.set(key, refusal);
    }
    return refusal;
  }

  private tryWhole(solver: Solver): Refusal | null {
    for (const checkpoint of this.checkpoints) {
      const failing = this.board.failingExactly(solver, checkpoint);
      if (failing.length > 0) return { failing };
    }
    for (const steps of this.task.behaviours) {
      const { mismatches } = runSteps(solver, steps);
      if (mismatches[0])
        return {
          trace: steps.slice(0, mismatches[0].step + 1),
          mismatches,
          anywhere: mismatches.some(({ actual }) => actual === 'chattering'),
        };
    }
    const proof = proveCircuit(solver);
    const broken = proof.properties.find(({ holds }) => !holds);
    if (broken)
      return {
        trace: broken.trace,
        mismatches: [],
        anywhere: broken.id === 'no-race' || broken.id === 'no-chatter',
      };
    return proof.complete ? null : { failing: [] };
  }

  /** What could cure a wiring that fails as a whole; null where it passes. */
  private cures(node: Candidate): Answer[] | null {
    const refusal = this.verdict(node);
    if (!refusal) return null;
    if ('failing' in refusal) return refusal.failing.flatMap((one) => this.answers(node, one));
    // A board or a proof failed: one of the wires that fed a coil or a motor on the way must go, or what stayed dead be fed.
    // What hangs on which armature is quicker may hang on any wire of the control circuit.
    if (refusal.anywhere) {
      const kinds = this.kindsOf(node.nets);
      return this.removals(
        node,
        node.wires.flatMap(({ a }, k) => (kinds[node.nets[a]!]! & CONTROL ? [k] : [])),
      );
    }
    const { fed, state } = this.fedAlong(new Solver(this.circuitOf(node.wires)), node.wires, refusal.trace);
    const dead = refusal.mismatches.flatMap(({ what, expected }) =>
      WANTS_POWER.has(expected) ? this.endsOf(what) : [],
    );
    return [
      ...this.removals(node, fed),
      ...dead.flatMap(({ ends, wants }) => this.feed(node, state, ends, wants)),
    ];
  }

  /** Pins of what an expectation names (a coil, a lamp or a motor) and what it wants there. */
  private endsOf(what: string): { ends: readonly number[]; wants: number }[] {
    const { circuit, pinOf } = this.board;
    const tag = what.replace(/[.:].*/, '');
    const loads = [...circuit.coils, ...circuit.lamps].filter((load) => load.tag === tag);
    return [
      ...loads.map(({ a, b, voltage }) => ({
        ends: [pinOf[a]!, pinOf[b]!],
        wants: voltage,
      })),
      ...circuit.motors.flatMap((motor, k) =>
        motor.tag === tag ? [{ ends: this.board.motorEnds[k] ?? [], wants: 3 }] : [],
      ),
    ];
  }

  /** Wires that feed coils and motors at any moment of a sequence, and the state in which it ends. */
  private fedAlong(
    solver: Solver,
    wires: readonly PinWire[],
    steps: readonly (Step | Stimulus)[],
  ): { fed: number[]; state: MechanicalState } {
    const { circuit } = solver;
    const simulation = new Simulation(solver);
    const found = new Set<number>();
    const pins = (terminals: readonly number[]) =>
      terminals.filter((k) => k >= 0).map((k) => this.board.pinOf[k]!);
    const look = (): void => {
      const electrical = solver.at(simulation.state);
      circuit.coils.forEach(({ a, b, voltage }, k) => {
        if (isShorted(electrical) || electrical.coilVolts[k]! > ENERGISED * voltage)
          for (const wire of this.feeding(wires, simulation.state, pins([a, b]))) found.add(wire);
      });
      circuit.motors.forEach(({ terminals }, k) => {
        if (electrical.motors[k]?.driven !== 'none')
          for (const wire of this.feeding(wires, simulation.state, pins(terminals))) found.add(wire);
      });
    };
    for (const step of steps) {
      if (isExpectation(step)) continue;
      simulation.apply(step);
      look();
      if (!('wait' in step)) simulation.settle();
      look();
    }
    return { fed: [...found], state: simulation.state };
  }

  private circuitOf(wires: readonly PinWire[]): Circuit {
    const { circuit } = this.board;
    const at = (pin: number) => this.terminalOf[pin]!;
    return {
      ...circuit,
      conductors: [
        ...circuit.conductors,
        ...wires.map(({ a, b }, wire) => ({ a: at(a), b: at(b), wire, tag: '', ohms: 0.02 })),
      ],
    };
  }

  /** Pairs of pins that are joined in a wiring or in the reference and not in both. */
  private strangeness(wires: readonly PinWire[]): number {
    const nets = this.board.nets(wires);
    let count = 0;
    for (let a = 0; a < nets.length; a += 1)
      for (let b = 0; b < a; b += 1)
        if ((nets[a] === nets[b]) !== (this.wanted[a] === this.wanted[b])) count += 1;
    return count;
  }

  private keep(node: Candidate): void {
    const edits = this.joinsAlike(node) ? this.editsOf(node) : null;
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
  private editsOf({ wires, names, taken, moves, added }: Candidate): RepairEdit[] | null {
    const { bench } = this.task;
    const kept = names.flatMap((name) => (name >= 0 ? [bench.wires[name]!] : []));
    const count = conductorsByTerminal(kept);
    const nets = this.board.nets(wires.filter((_, k) => names[k]! >= 0));
    const room = (ref: TerminalRef) => (this.roomOf(ref) > (count.get(ref) ?? 0) ? 0 : 1);
    const pick = (pin: number, not?: TerminalRef): TerminalRef => {
      const net = nets[pin]!;
      const candidates = this.board.circuit.terminals.filter(
        (ref, k) => ref !== not && nets[this.board.pinOf[k]!] === net,
      );
      return candidates.sort((x, y) => room(x) - room(y) || (count.get(x) ?? 0) - (count.get(y) ?? 0))[0]!;
    };
    const fill = (ref: TerminalRef) => count.set(ref, (count.get(ref) ?? 0) + 1);
    const edits: RepairEdit[] = [];
    for (const [k, wire] of taken.entries()) {
      const own = bench.wires[wire]!;
      const moved = moves[k]!;
      if (moved < 0) {
        edits.push({ remove: own });
        continue;
      }
      const { a, b } = added[moved]!;
      // One end stays where it is: it meets the added wire there, at the wire's own end or through others.
      const others = this.board.nets(wires.filter((_, at) => names[at] !== -1 - moved));
      const meets = (ref: TerminalRef, end: number): boolean => others[this.board.pin(ref)] === others[end];
      const keepsFrom = meets(own.from, a) || meets(own.from, b);
      const stays = keepsFrom ? own.from : own.to;
      const other = pick(meets(stays, a) ? b : a, stays);
      fill(other);
      fill(stays);
      edits.push({ move: own, to: keepsFrom ? { ...own, to: other } : { ...own, from: other } });
    }
    added.forEach(({ a, b }, n) => {
      if (moves.includes(n)) return;
      const from = pick(a);
      fill(from);
      const to = pick(b, from);
      fill(to);
      edits.push({ add: { from, to, ...this.style(from, to) } });
    });
    return edits;
  }

  /** Colour and area of a new wire: as a wire that ends on one of its terminals, or in the reference. */
  private style(from: TerminalRef, to: TerminalRef): Pick<Wire, 'colour' | 'area'> {
    const like = [...this.task.reference.wires, ...this.task.bench.wires].find((wire) =>
      [wire.from, wire.to].some((ref) => ref === from || ref === to),
    );
    return {
      ...(like?.colour === undefined ? {} : { colour: like.colour }),
      ...(like?.area === undefined ? {} : { area: like.area }),
    };
  }

  private roomOf(ref: TerminalRef): number {
    const { tag, terminal } = splitRef(ref);
    const device = this.task.bench.devices.find((d) => d.tag === tag);
    return (device && anatomy(device).terminals.find(({ name }) => name === terminal)?.conductors) ?? 2;
  }
}

/**
 * True where some failings can be answered by so many things done: failings that share no answer need one each. Where
 * only moved ends can be put in, they go to some nets.
 */
function isEnough(
  { left, free }: Candidate,
  sets: readonly ReadonlyMap<number, Answer>[],
  most: number,
  fits: ReadonlySet<number> | null,
): boolean {
  if (sets.length === 0) return true;
  if (most === 0) return false;
  if (most === 1) {
    const [first, ...others] = sets as [ReadonlyMap<number, Answer>, ...ReadonlyMap<number, Answer>[]];
    for (const [key, answer] of first) {
      if (fits !== null && (!('put' in answer) || (!fits.has(answer.put.a) && !fits.has(answer.put.b))))
        continue;
      if (others.every((set) => set.has(key))) return true;
    }
    return false;
  }
  const used = new Set<number>();
  let [puts, takes, all] = [0, 0, 0];
  for (const set of sets) {
    let [isFresh, hasPut, hasTake] = [true, false, false];
    for (const [key, answer] of set) {
      isFresh &&= !used.has(key);
      if (isPut(answer)) hasPut = true;
      else hasTake = true;
    }
    if (!isFresh) continue;
    for (const key of set.keys()) used.add(key);
    all += 1;
    if (!hasTake) puts += 1;
    else if (!hasPut) takes += 1;
    if (puts > left + free || takes > left || all > most) return false;
  }
  return true;
}

/** Moving a wire disturbs less than taking one away and putting another in. */
const weightOf = (edits: readonly RepairEdit[]): number =>
  edits.reduce((sum, edit) => sum + ('remove' in edit ? 1 : 'move' in edit ? 2 : 3), 0);
