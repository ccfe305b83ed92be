import { blocksOf, isSupplySwitch, type Circuit } from '../circuit/index.js';
import type { Decisions } from './decisions.js';

/**
 * Which mechanisms lie between the supply and a coil, a motor or a place where two potentials could meet: the
 * first estimate of what each depends on. Only contacts are looked at here; what loads join is found as the
 * decisions are made.
 */
export class Cones {
  private readonly supplies: readonly number[];
  /** Nets of the trunk are one node: what lies between two of them does not change how either is fed. */
  private readonly node: (net: number) => number;
  private readonly root: number;
  /** What a mechanism depends on, by itself. */
  private readonly kept = new Map<number, readonly number[]>();

  constructor(
    private readonly circuit: Circuit,
    private readonly decisions: Decisions,
  ) {
    const { network, trunk } = decisions;
    this.supplies = circuit.mechanisms.filter(isSupplySwitch).map(({ index }) => index);
    this.root = network.nets;
    const isRoot = (net: number): boolean =>
      trunk.isDivided ? trunk.potential[net]! >= 0 : trunk.isBounded && network.supplyNodeAt[net] !== null;
    this.node = (net) => (isRoot(net) ? this.root : net);
  }

  /** Mechanisms that a search moves. */
  get movable(): number {
    return this.decisions.fixed.reduce((sum, fixed) => sum + 1 - fixed, 0);
  }

  /** What the driven mechanisms of a set depend on, taken in until nothing is missing. */
  close(mechanisms: Iterable<number>): Set<number> {
    const closed = new Set<number>();
    const queue = [...mechanisms, ...this.supplies];
    for (const m of queue) {
      if (closed.has(m) || this.decisions.fixed[m] === 1) continue;
      closed.add(m);
      queue.push(...this.directly(m));
    }
    return closed;
  }

  ofMotor(k: number): number[] {
    const { decisions, circuit } = this;
    return [...this.between(circuit.motors[k]!.terminals), ...decisions.looks(decisions.motorQuestion(k))];
  }

  ofLamp(k: number): number[] {
    const { decisions, circuit } = this;
    const { a, b, mechanism } = circuit.lamps[k]!;
    return [mechanism, ...this.between([a, b]), ...decisions.looks(decisions.lampQuestion(k))];
  }

  ofRegion(k: number): number[] {
    const { network, shortAt } = this.decisions;
    return [
      ...this.decisions.regionContacts(k).map((c): number => network.contacts[c]!.mechanism),
      ...this.decisions.looks(shortAt + k),
    ];
  }

  /** Answers have looked further since: what was estimated is estimated anew. */
  forget(): void {
    this.kept.clear();
  }

  private directly(m: number): readonly number[] {
    const known = this.kept.get(m);
    if (known) return known;
    const { coils, mechanisms, interlocks, controllers } = this.circuit;
    const found = [
      ...controllers.flatMap(({ members }): number[] =>
        members.some((one) => one === m) ? [...members] : [],
      ),
      ...interlocks.flatMap((group): number[] => (group.some((one) => one === m) ? [...group] : [])),
      ...mechanisms[m]!.coils.flatMap((k) => [
        ...this.between([coils[k]!.a, coils[k]!.b]),
        ...this.decisions.looks(k),
      ]),
    ];
    this.kept.set(m, found);
    return found;
  }

  /**
   * Mechanisms whose contacts lie on some way between the trunk and one of some terminals, poles of the trunk
   * included.
   */
  private between(terminals: readonly number[]): number[] {
    const { network, trunk } = this.decisions;
    const { root } = this;
    const end = root + 1;
    const nets = [...new Set(terminals.map((terminal) => network.net(terminal)))];
    const contacts = this.around(nets);
    const edges = [
      ...contacts.map((c) => ({
        a: this.node(network.contacts[c]!.a),
        b: this.node(network.contacts[c]!.b),
      })),
      ...nets.map((net) => ({ a: this.node(net), b: end })),
      ...(trunk.isBounded ? [] : network.supplyNodes.map(({ net }) => ({ a: net, b: root }))),
      { a: root, b: end },
    ];
    const block = blocksOf(end + 1, edges);
    const own = block.at(-1);
    const found = new Set<number>();
    contacts.forEach((c, k) => {
      const { a, b, mechanism } = network.contacts[c]!;
      if (block[k] !== own || this.node(a) === this.node(b)) return;
      found.add(mechanism);
      for (const net of [a, b]) for (const feeder of trunk.feedersOf(net)) found.add(feeder);
    });
    for (const net of nets) for (const feeder of trunk.feedersOf(net)) found.add(feeder);
    return [...found];
  }

  /** Contacts that lead on from some nets, as far as the root. */
  private around(nets: readonly number[]): number[] {
    const { network, contactsAt } = this.decisions.map;
    const found = new Set<number>();
    const seen = new Set(nets);
    for (const net of seen) {
      if (this.node(net) === this.root) continue;
      for (const c of contactsAt[net]!) {
        found.add(c);
        const { a, b } = network.contacts[c]!;
        seen.add(a === net ? b : a);
      }
    }
    return [...found];
  }
}
