import {
  UnionFind,
  contactPlace,
  isClosed,
  isLiveSupplyNode,
  type Circuit,
  type MechanicalState,
  type Switch,
  type TerminalIndex,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { PICK_UP } from '../tolerances.js';

/** A conductor that a coil or lamp may be joined to, and what it costs to have it: contacts to be closed. */
interface Held {
  readonly net: number;
  readonly group: string;
  readonly re: number;
  readonly im: number;
  /** Contacts without which it has no voltage: those before a transformer. */
  readonly needs: readonly Switch[];
}

interface Edge {
  readonly to: number;
  readonly contact: Switch;
  readonly cost: 0 | 1;
}

/** Shortest ways of one length that are looked at from one net to another. */
const MOST_WAYS = 24;

/** Nets of a board with the contacts between them, open ones at a cost. */
export class Ways {
  private readonly edges: Edge[][];
  private readonly held: readonly Held[];
  private readonly supplied: ReadonlySet<number>;

  constructor(
    private readonly solver: Solver,
    private readonly circuit: Circuit,
    state: MechanicalState,
  ) {
    const { network } = solver;
    this.edges = Array.from({ length: network.nets }, () => []);
    for (const contact of circuit.switches) {
      const [a, b] = [network.net(contact.a), network.net(contact.b)];
      if (a === b) continue;
      const cost = isClosed(contact, state) ? 0 : 1;
      this.edges[a]!.push({ to: b, contact, cost });
      this.edges[b]!.push({ to: a, contact, cost });
    }
    const live = network.supplyNodes.filter((one) => isLiveSupplyNode(one, state));
    const direct = live.map(({ net, group, re, im }): Held => ({ net, group, re, im, needs: [] }));
    this.supplied = new Set(live.map(({ net }) => net));
    this.held = [...direct, ...this.secondaries(direct)];
  }

  /** Ends of the secondaries whose primaries can be fed, with the contacts that feed them. */
  private secondaries(direct: readonly Held[]): Held[] {
    return this.circuit.transformers.flatMap(
      ({ primary, secondary, primaryVoltage, secondaryVoltage }, k) => {
        const [h1, h2] = primary.map((end) => this.solver.network.net(end)) as [number, number];
        // Less on its primary, and what it feeds would not pull in either.
        const [fed] = this.between(h1, h2, direct, (volts) => volts > PICK_UP * primaryVoltage);
        if (!fed) return [];
        const group = `transformer ${k}`;
        return secondary.map((end, side): Held => ({
          net: this.solver.network.net(end),
          group,
          re: side === 0 ? secondaryVoltage : 0,
          im: 0,
          needs: fed,
        }));
      },
    );
  }

  /**
   * Sets of open contacts that would join two ends to conductors with enough voltage between them, the
   * smallest first. A set of none: they are joined already.
   */
  joining(
    a: TerminalIndex,
    b: TerminalIndex,
    isEnough: (volts: number, isDc: boolean) => boolean,
  ): Switch[][] {
    const { network } = this.solver;
    return this.between(network.net(a), network.net(b), this.held, isEnough);
  }

  private between(
    a: number,
    b: number,
    held: readonly Held[],
    isEnough: (volts: number, isDc: boolean) => boolean,
  ): Switch[][] {
    const from = [this.distances(a, b), this.distances(b, a)] as const;
    const pairs = held.flatMap((one) =>
      held.flatMap((other) => {
        if (one.net === other.net || one.group !== other.group) return [];
        const isDc = one.group !== 'ac' && !one.group.startsWith('transformer');
        if (!isEnough(Math.hypot(one.re - other.re, one.im - other.im), isDc)) return [];
        const [p, q] = [from[0][one.net]!, from[1][other.net]!];
        if (p < 0 || q < 0) return [];
        return [{ one, other, cost: p + q + one.needs.length }];
      }),
    );
    pairs.sort((x, y) => x.cost - y.cost);
    const seen = new Set<string>();
    const found: Switch[][] = [];
    for (const { one, other } of pairs) {
      for (const p of this.waysTo(a, one.net, from[0], b))
        for (const q of this.waysTo(b, other.net, from[1], a)) {
          const set = [...new Set([...one.needs, ...p, ...q])];
          const key = set.map(contactPlace).sort().join();
          if (!seen.has(key)) found.push(set);
          seen.add(key);
        }
      if (found.length > MOST_WAYS) break;
    }
    return found.sort((x, y) => x.length - y.length);
  }

  /** Open contacts on the best way from a net to each other one, or −1; conductors are not passed through. */
  private distances(from: number, avoided: number): Int32Array {
    const distance = new Int32Array(this.edges.length).fill(-1);
    const queue = [from];
    distance[from] = 0;
    // Costs are 0 and 1: what costs nothing more is looked at first.
    for (let here = queue.shift(); here !== undefined; here = queue.shift()) {
      if (here !== from && this.supplied.has(here)) continue;
      for (const { to, cost } of this.edges[here]!) {
        const next = distance[here]! + cost;
        if (to === avoided || (distance[to]! >= 0 && distance[to]! <= next)) continue;
        distance[to] = next;
        if (cost === 0) queue.unshift(to);
        else queue.push(to);
      }
    }
    return distance;
  }

  /** The open contacts on each of the shortest ways between two nets. */
  private waysTo(from: number, to: number, distance: Int32Array, avoided: number): Switch[][] {
    const ways: Switch[][] = [];
    const visited = new Set<number>();
    const back = (here: number, open: readonly Switch[]): void => {
      if (ways.length >= MOST_WAYS) return;
      if (here === from) {
        ways.push([...open]);
        return;
      }
      visited.add(here);
      for (const { to: before, contact, cost } of this.edges[here]!) {
        if (before === avoided || visited.has(before)) continue;
        if (before !== from && this.supplied.has(before)) continue;
        if (distance[before]! < 0 || distance[before]! + cost !== distance[here]!) continue;
        back(before, cost === 1 ? [contact, ...open] : open);
      }
      visited.delete(here);
    };
    back(to, []);
    return ways;
  }

  /** True where closed or open contacts could join two terminals, or they are joined already. */
  canMeet(a: TerminalIndex, goals: readonly TerminalIndex[]): boolean {
    const { network } = this.solver;
    const sets = new UnionFind(network.nets);
    for (const { a: from, b: to } of this.circuit.switches) sets.union(network.net(from), network.net(to));
    return goals.some((goal) => sets.find(network.net(goal)) === sets.find(network.net(a)));
  }
}
