import { splitRef, type Bench } from '../../bench/index.js';
import { UnionFind, type Circuit, type TerminalIndex } from '../../circuit/index.js';
import { expectedOhms, ohmsLimits, type DeadTest } from '../../marking/index.js';
import { Bits, transposed } from './bits.js';
import { cover } from './cover.js';
import {
  WiredMeter,
  bareCircuit,
  bareStates,
  holdWords,
  holdsOf,
  type BareState,
  type Hold,
} from './meter.js';
import { jointsOf, keyOf, mistakesOf, potentialsOf, type Mistake } from './mistakes.js';

/** A reading of a dead-test table, and what it proves. */
export interface PlannedTest extends DeadTest {
  /** What a right wiring shows there, ohms; Infinity where nothing joins the two. */
  readonly ohms: number;
  /** What is done to the board meanwhile, in words: `S2 held`, `KM1 pushed in`, `Q1 open`. */
  readonly held: string;
  /** Leads that are proved to be there. */
  readonly leads: readonly string[];
  /**
   * How many other single mistakes show here: leads on a wrong terminal, exchanged, or joining what must be
   * apart.
   */
  readonly others: number;
}

/** The fewest readings found that show every single wiring mistake that shows on a dead board at all. */
export interface DeadTestTable {
  readonly tests: readonly PlannedTest[];
  /** Single wiring mistakes that were tried. */
  readonly mistakes: number;
  /** Those that no reading shows with the board dead, in words: they are left to the functional test. */
  readonly unseen: readonly string[];
  /**
   * False where the board is too large for every mistake and every reading: those near each other alone
   * were tried.
   */
  readonly complete: boolean;
  /** No table that finds as much can have fewer readings. */
  readonly bound: number;
  /** Keys of what the table claims to find (`partitionOf`). */
  readonly claims: ReadonlySet<string>;
}

/** A reading that could be made. */
interface Candidate {
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  readonly hold: Hold;
  readonly ohms: number;
  readonly expect: DeadTest['expect'];
  /** Mistakes that show in it. */
  readonly finds: Bits;
}

/**
 * The dead-test table of a board as it should be wired: every single mistake is made on it, every reading
 * between two terminals that have leads is taken by simulation, with no button held and with each, and as
 * few of them are kept as show all.
 */
export function deadTestTable(bench: Bench): DeadTestTable {
  const circuit = bareCircuit(bench);
  const complete = isWithinReach(circuit, bench);
  const mistakes = mistakesOf(circuit, bench, complete);
  const candidates = candidatesOf(circuit, bench, mistakes, complete);
  const cost = (k: number) => {
    const one = candidates[k];
    return one ? 1e6 * one.hold.length + one.a + one.b : Number.POSITIVE_INFINITY;
  };
  const { chosen, bound } = cover(
    candidates.map(({ finds }) => finds),
    cost,
  );
  const found = new Bits(mistakes.length);
  const order = (one: Candidate) => one.hold.map((tag) => bench.devices.findIndex((d) => d.tag === tag) + 1);
  const tests = chosen
    .map((k) => candidates[k]!)
    .sort((x, y) => (order(x)[0] ?? 0) - (order(y)[0] ?? 0) || x.a - y.a || x.b - y.b)
    .map((one): PlannedTest => {
      const shown = one.finds.members();
      for (const k of shown) found.set(k);
      const leads = shown.filter((k) => mistakes[k]!.kind === 'left out' && mistakes[k]!.lead);
      return {
        between: [circuit.terminals[one.a]!, circuit.terminals[one.b]!],
        hold: one.hold,
        held: holdWords(bench, one.hold),
        expect: one.expect,
        ohms: one.ohms,
        leads: leads.map((k) => mistakes[k]!.lead!),
        others: shown.filter((k) => mistakes[k]!.kind !== 'left out').length,
      };
    });
  return {
    tests,
    mistakes: mistakes.length,
    unseen: mistakes.filter((_, k) => !found.has(k)).map(({ title }) => title),
    complete,
    bound,
    claims: new Set(mistakes.filter((_, k) => found.has(k)).map(({ key }) => key)),
  };
}

/**
 * The name of what the leads of a bench join; a wiring with the name of one of a table's claims is found by
 * it.
 */
export function partitionOf(bench: Bench): string {
  const circuit = bareCircuit(bench);
  return keyOf(jointsOf(potentialsOf(circuit, bench.wires).nets));
}

/**
 * States, mistakes and pairs of potentials, multiplied, of the largest board of which everything is tried:
 * under twenty seconds (measured).
 */
const MOST_COMPARISONS = 5e7;

/** Whether every mistake can be tried by every reading in every state. */
function isWithinReach(circuit: Circuit, bench: Bench): boolean {
  const { nets, free } = potentialsOf(circuit, bench.wires);
  const potentials = nets.length;
  const mistakes = 2 * bench.wires.length * (potentials + free.length) + potentials ** 2 / 2;
  return (holdsOf(bench).length * mistakes * potentials ** 2) / 2 <= MOST_COMPARISONS;
}

/**
 * Readings between two places that have leads, and which mistakes each shows: every one, or those along a
 * potential or a device.
 */
function candidatesOf(
  circuit: Circuit,
  bench: Bench,
  mistakes: readonly Mistake[],
  complete: boolean,
): Candidate[] {
  const { nets, netOf } = potentialsOf(circuit, bench.wires);
  const wired = new Set(bench.wires.flatMap(({ from, to }) => [from as string, to]));
  // Inner links make one of all terminals of an atom: any that has a lead does.
  const ends = nets
    .flatMap((net) => net.map((atom) => atom.find((k) => wired.has(circuit.terminals[k]!))))
    .filter((one): one is TerminalIndex => one !== undefined)
    .sort((a, b) => a - b);
  const right = jointsOf(nets);
  const tagOf = (k: TerminalIndex) => splitRef(circuit.terminals[k]!).tag;
  const asks = (a: TerminalIndex, b: TerminalIndex) =>
    complete || netOf[a] === netOf[b] || tagOf(a) === tagOf(b);
  const states = bareStates(circuit, complete ? holdsOf(bench) : [[]]);
  return states.flatMap((state) => readings(state, ends, right, mistakes, asks));
}

/**
 * Ends that read alike on the sound and on the mistaken board: their places in the list of ends, the sound
 * node's place, and the other node.
 */
interface Group {
  readonly members: number[];
  readonly sound: number;
  readonly node: number;
}

function readings(
  state: BareState,
  ends: readonly TerminalIndex[],
  right: Mistake['joints'],
  mistakes: readonly Mistake[],
  asks: (a: TerminalIndex, b: TerminalIndex) => boolean,
): Candidate[] {
  const sound = new WiredMeter(state, right);
  const n = ends.length;
  const candidates: Omit<Candidate, 'finds'>[] = [];
  const place = new Int32Array(n * n).fill(-1);
  for (let i = 0; i < n; i += 1)
    for (let j = i + 1; j < n; j += 1) {
      const [a, b] = [ends[i]!, ends[j]!];
      if (!asks(a, b)) continue;
      const ohms = sound.between(sound.node(a), sound.node(b));
      const expect = expectedOhms(ohms);
      place[j * n + i] = place[i * n + j] = candidates.push({ a, b, hold: state.hold, ohms, expect }) - 1;
    }
  const { places, least, most, size } = limitsOf(
    sound,
    ends.map((end) => sound.node(end)),
  );
  const show = (shown: Bits, one: readonly number[], other: readonly number[]) => {
    for (const i of one)
      for (const j of other) {
        const at = i === j ? -1 : place[i * n + j]!;
        if (at >= 0) shown.set(at);
      }
  };
  const islands = islandsOf(state, right);
  const rows = mistakes.map(({ joints, touched }) => {
    const shown = new Bits(candidates.length);
    // What hangs on none of the potentials that a mistake changes reads as before.
    const near = new Set(touched.map((terminal) => islands[state.nodeOf[terminal]!]!));
    const isNear = (node: number) => near.has(islands[node]!);
    const meter = new WiredMeter(
      state,
      joints.filter(([first]) => isNear(state.nodeOf[first!]!)),
      state.resistors.filter(({ a }) => isNear(a)),
    );
    const groups = groupsOf(ends, places, meter, (end) => isNear(state.nodeOf[end]!));
    const read = meter.readings(groups.map(({ node }) => node));
    for (let p = 0; p < groups.length; p += 1) {
      const one = groups[p]!;
      const row = one.sound * size;
      for (let q = p; q < groups.length; q += 1) {
        const other = groups[q]!;
        const ohms = read[p * groups.length + q]!;
        if (ohms < least[row + other.sound]! || ohms > most[row + other.sound]!)
          show(shown, one.members, other.members);
      }
    }
    return shown;
  });
  const finds = transposed(rows, candidates.length);
  return candidates.map((one, k): Candidate => ({ ...one, finds: finds[k]! }));
}

/**
 * What may be read between any two nodes of the sound board, by the places of the nodes; and the place of
 * each end's node.
 */
function limitsOf(sound: WiredMeter, nodes: readonly number[]) {
  const unlike = [...new Set(nodes)];
  const size = unlike.length;
  const least = new Float64Array(size * size);
  const most = new Float64Array(size * size);
  unlike.forEach((p, i) => {
    unlike.forEach((q, j) => {
      [least[i * size + j], most[i * size + j]] = ohmsLimits(expectedOhms(sound.between(p, q)));
    });
  });
  return { places: nodes.map((node) => unlike.indexOf(node)), least, most, size };
}

/** By bare node: what joints and resistors connect it to, as the number of one node of that. */
function islandsOf({ nodes, nodeOf, resistors }: BareState, joints: Mistake['joints']): Int32Array {
  const sets = new UnionFind(nodes);
  for (const [first, ...others] of joints)
    for (const one of others) sets.union(nodeOf[first!]!, nodeOf[one]!);
  for (const { a, b } of resistors) sets.union(a, b);
  return Int32Array.from({ length: nodes }, (_, k) => sets.find(k));
}

/** More nodes than any board has. */
const KEYS = 2 ** 20;

/** Some ends in groups that read alike on both boards. */
function groupsOf(
  ends: readonly TerminalIndex[],
  places: readonly number[],
  meter: WiredMeter,
  isAsked: (end: TerminalIndex) => boolean,
): Group[] {
  const groups = new Map<number, Group>();
  ends.forEach((end, i) => {
    if (!isAsked(end)) return;
    const [sound, node] = [places[i]!, meter.node(end)];
    const key = sound * KEYS + node;
    const known = groups.get(key);
    if (known) known.members.push(i);
    else groups.set(key, { members: [i], sound, node });
  });
  return [...groups.values()];
}
