import { spellRef, type Bench, type Problem, type TerminalRef, type Wire } from '../bench/index.js';
import { compile, wiredTogether, type Circuit, type UnionFind } from '../circuit/index.js';
import { groupsOf, innerSets, namedGroups } from './sets.js';

/** Which terminals of a board are joined by leads: each list is joined, and nothing else. */
export interface Joints {
  readonly contactum: 'joints/1';
  readonly joined: readonly (readonly TerminalRef[])[];
}

/** A board wired as its joints are, and what had to be changed for it. */
export interface Rewired {
  readonly bench: Bench;
  readonly cut: readonly Wire[];
  readonly laid: readonly Wire[];
}

export type RewiredOrNot =
  ({ readonly ok: true } & Rewired) | { readonly ok: false; readonly problems: readonly Problem[] };

/** The most leads that usually go under one screw (common practice, no source). */
const UNDER_A_SCREW = 2;

/**
 * A bench wired so that exactly the terminals of each list are joined, by the fewest edits: leads that serve
 * stay, those that join what is not joined go, and what is not joined yet is joined by a tree of new leads,
 * with no more than two under a screw where that can be, between devices that stand near each other. Bars
 * and strips join by themselves. The first `fixed` leads of the bench are part of the board. Refused, each
 * with its place, are terminals that the board does not have, and lists that the board itself joins.
 */
export function wiringFromJoints(bench: Bench, joined: Joints['joined'], fixed = 0): RewiredOrNot {
  const circuit = compile(bench);
  const problems: Problem[] = [];
  const wanted = innerSets(circuit);
  const listOf = new Map<number, number>();
  joined.forEach((list, n) => {
    const own = list.flatMap((ref, k): number[] => {
      const terminal = circuit.indexOf.get(ref);
      if (terminal !== undefined) return [terminal];
      problems.push({ path: `joined[${n}][${k}]`, message: `"${ref}" is not a terminal of this bench` });
      return [];
    });
    for (const terminal of own) {
      const other = listOf.get(wanted.find(terminal));
      if (other !== undefined && other !== n)
        problems.push({
          path: `joined[${n}]`,
          message: `${spellRef(circuit.terminals[terminal]!)} is joined to joined[${other}] already: make one list of them`,
        });
    }
    for (const terminal of own) {
      wanted.union(own[0]!, terminal);
      listOf.set(wanted.find(terminal), n);
    }
  });
  bench.wires.slice(0, fixed).forEach(({ from, to }) => {
    const [a, b] = [circuit.indexOf.get(from), circuit.indexOf.get(to)];
    if (a !== undefined && b !== undefined && wanted.find(a) !== wanted.find(b))
      problems.push({
        path: 'joined',
        message: `the board’s own lead ${spellRef(from)} – ${spellRef(to)} is not among them`,
      });
  });
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, ...rewired(bench, circuit, { wanted, given: innerSets(circuit), fixed }) };
}

/**
 * A bench with the fewest edits that join its terminals as wanted.
 * @param given what is joined without any lead: inner links, and contacts that are closed.
 */
export const rewired = (
  bench: Bench,
  circuit: Circuit,
  { wanted, given, fixed }: { readonly wanted: UnionFind; readonly given: UnionFind; readonly fixed: number },
): Rewired => new Rewiring(bench, circuit, wanted, given).done(fixed);

class Rewiring {
  /** Leads that end on each terminal. */
  private readonly ends: Int32Array;
  private readonly places: readonly (readonly [number, number])[];

  constructor(
    private readonly bench: Bench,
    private readonly circuit: Circuit,
    private readonly wanted: UnionFind,
    /** What is joined so far. */
    private readonly sets: UnionFind,
  ) {
    this.ends = new Int32Array(circuit.terminals.length);
    const at = new Map(bench.devices.map(({ tag, at: place }, k) => [tag, place ?? ([k * 100, 0] as const)]));
    this.places = circuit.terminals.map((ref) => at.get(ref.slice(0, ref.lastIndexOf(':'))) ?? [0, 0]);
  }

  done(fixed: number): Rewired {
    const { bench, circuit, wanted } = this;
    const kept: Wire[] = [];
    const cut: Wire[] = [];
    bench.wires.forEach((wire, k) => {
      const [a, b] = [circuit.indexOf.get(wire.from)!, circuit.indexOf.get(wire.to)!];
      if (k >= fixed && wanted.find(a) !== wanted.find(b)) cut.push(wire);
      else {
        kept.push(wire);
        this.lay(a, b);
      }
    });
    const laid = groupsOf(circuit.terminals.length, wanted).flatMap((group) => this.tree(group));
    return { bench: { ...bench, wires: [...kept, ...laid] }, cut, laid };
  }

  private lay(a: number, b: number): void {
    this.ends[a]! += 1;
    this.ends[b]! += 1;
    this.sets.union(a, b);
  }

  /** Leads that join all of a group, the cheapest next one each time. */
  private tree(group: readonly number[]): Wire[] {
    const laid: Wire[] = [];
    for (;;) {
      const best = this.cheapest(group);
      if (!best) return laid;
      const [a, b] = best;
      this.lay(a, b);
      laid.push({ from: this.circuit.terminals[a]!, to: this.circuit.terminals[b]! });
    }
  }

  private cheapest(group: readonly number[]): readonly [number, number] | null {
    let best: readonly [number, number] | null = null;
    let least = Infinity;
    for (const [k, a] of group.entries())
      for (const b of group.slice(k + 1)) {
        if (this.sets.find(a) === this.sets.find(b)) continue;
        const cost = this.cost(a, b);
        if (cost < least) [best, least] = [[a, b], cost];
      }
    return best;
  }

  private cost(a: number, b: number): number {
    const [[ax, ay], [bx, by]] = [this.places[a]!, this.places[b]!];
    const crowded = [a, b].filter((one) => this.ends[one]! >= UNDER_A_SCREW).length;
    return crowded * 1e6 + Math.hypot(ax - bx, ay - by) + this.ends[a]! + this.ends[b]!;
  }
}

/** The joints of a wiring: terminals that its leads, bars and strips join, each list in order of the board. */
export function jointsOfBench(bench: Bench): Joints {
  const circuit = compile(bench);
  return { contactum: 'joints/1', joined: namedGroups(circuit, wiredTogether(circuit)) };
}
