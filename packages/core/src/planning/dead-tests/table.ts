import type { Bench } from '../../bench/index.js';
import type { Circuit, TerminalIndex } from '../../circuit/index.js';
import { expectedOhms, ohmsLimits, type DeadTest } from '../../marking/index.js';
import { Bits, cover } from './cover.js';
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
  /** How many other single mistakes show here: leads on a wrong terminal, exchanged, or joining what must be apart. */
  readonly others: number;
}

/** The fewest readings found that show every single wiring mistake that shows on a dead board at all. */
export interface DeadTestTable {
  readonly tests: readonly PlannedTest[];
  /** Single wiring mistakes that were tried. */
  readonly mistakes: number;
  /** Those that no reading shows with the board dead, in words: they are left to the functional test. */
  readonly unseen: readonly string[];
  /** No table that finds as much can have fewer readings. */
  readonly bound: number;
  /** Keys of what the table claims to find (`divisionOf`). */
  readonly claims: ReadonlySet<string>;
}

/** A reading that could be made. */
interface Candidate {
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
  readonly hold: Hold;
  readonly ohms: number;
  readonly expect: DeadTest['expect'];
  readonly finds: Bits;
}

/**
 * The dead-test table of a board as it should be wired: every single mistake is made on it, every reading between two terminals
 * that have leads is taken by simulation, with no button held and with each, and as few of them are kept as show all.
 */
export function deadTestTable(bench: Bench): DeadTestTable {
  const circuit = bareCircuit(bench);
  const mistakes = mistakesOf(circuit, bench);
  const candidates = candidatesOf(circuit, bench, mistakes);
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
    bound,
    claims: new Set(mistakes.filter((_, k) => found.has(k)).map(({ key }) => key)),
  };
}

/** The name of what the leads of a bench join; a wiring with the name of one of a table's claims is found by it. */
export function divisionOf(bench: Bench): string {
  const circuit = bareCircuit(bench);
  return keyOf(jointsOf(potentialsOf(circuit, bench.wires).nets));
}

/** Every reading between two places that have leads, and which mistakes it shows. */
function candidatesOf(circuit: Circuit, bench: Bench, mistakes: readonly Mistake[]): Candidate[] {
  const { nets } = potentialsOf(circuit, bench.wires);
  const wired = new Set(bench.wires.flatMap(({ from, to }) => [from as string, to]));
  // Inner links make one of all terminals of an atom: any that has a lead does.
  const ends = nets
    .flatMap((net) => net.map((atom) => atom.find((k) => wired.has(circuit.terminals[k]!))))
    .filter((one): one is TerminalIndex => one !== undefined)
    .sort((a, b) => a - b);
  const right = jointsOf(nets);
  return bareStates(circuit, holdsOf(bench)).flatMap((state) => readings(state, ends, right, mistakes));
}

function readings(
  state: BareState,
  ends: readonly TerminalIndex[],
  right: Mistake['joints'],
  mistakes: readonly Mistake[],
): Candidate[] {
  const sound = new WiredMeter(state, right);
  const n = ends.length;
  const candidates: Candidate[] = [];
  const least = new Float64Array(n * n);
  const most = new Float64Array(n * n);
  const place = new Int32Array(n * n);
  for (let i = 0; i < n; i += 1)
    for (let j = i + 1; j < n; j += 1) {
      const [a, b] = [ends[i]!, ends[j]!];
      const ohms = sound.between(sound.node(a), sound.node(b));
      const expect = expectedOhms(ohms);
      [least[i * n + j], most[i * n + j]] = ohmsLimits(expect);
      place[i * n + j] =
        candidates.push({ a, b, hold: state.hold, ohms, expect, finds: new Bits(mistakes.length) }) - 1;
    }
  const classOf = new Int32Array(n);
  mistakes.forEach(({ joints }, k) => {
    const meter = new WiredMeter(state, joints);
    // Ends on one node read alike: the meter is asked once for each two nodes.
    const nodes: number[] = [];
    const known = new Map<number, number>();
    ends.forEach((end, i) => {
      const node = meter.node(end);
      const found = known.get(node) ?? nodes.push(node) - 1;
      known.set(node, found);
      classOf[i] = found;
    });
    const m = nodes.length;
    const ohms = new Float64Array(m * m);
    for (let p = 0; p < m; p += 1)
      for (let q = p + 1; q < m; q += 1)
        ohms[p * m + q] = ohms[q * m + p] = meter.between(nodes[p]!, nodes[q]!);
    for (let i = 0; i < n; i += 1) {
      const row = classOf[i]! * m;
      for (let j = i + 1; j < n; j += 1) {
        const read = ohms[row + classOf[j]!]!;
        const at = i * n + j;
        if (read < least[at]! || read > most[at]!) candidates[place[at]!]!.finds.set(k);
      }
    }
  });
  return candidates;
}
