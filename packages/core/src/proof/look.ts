import {
  isLiveSupplyNode,
  type MechanicalState,
  type MechanismIndex,
  type MovingContact,
  type Network,
  type SupplyNode,
} from '../circuit/index.js';

/** A leaf at which only the whole solution decides. */
export const SOLVE = 8;

/** What is known at a leaf under construction: a verdict, or the mechanisms that must be looked at next. */
export type Judgement = { readonly verdict: number } | { readonly look: readonly MechanismIndex[] };

const NONE: readonly number[] = [];

/** A network with what lies at each net, and the working store of breadth-first searches over it. */
export class SearchMap {
  readonly contactsAt: readonly (readonly number[])[];
  readonly loadsAt: readonly (readonly number[])[];
  /** Nets that a search has reached, in order, and how many. */
  readonly queue: Int32Array;
  reached = 0;
  /** Which round a net was reached in, from where, by which contact. */
  private round = 0;
  private readonly seen: Int32Array;
  readonly cameFrom: Int32Array;
  readonly cameBy: Int32Array;

  constructor(readonly network: Network) {
    const { nets } = network;
    this.contactsAt = lyingAt(nets, network.contacts);
    this.loadsAt = lyingAt(nets, network.loads);
    this.seen = new Int32Array(nets);
    this.cameFrom = new Int32Array(nets);
    this.cameBy = new Int32Array(nets);
    this.queue = new Int32Array(nets);
  }

  /** Begins a search that has reached nothing. */
  begin(): void {
    this.round += 1;
    this.reached = 0;
  }

  /** Takes a net into the queue that this search has not reached yet. */
  reach(to: number, net: number, contact: number): void {
    if (this.seen[to] === this.round) return;
    this.seen[to] = this.round;
    this.cameFrom[to] = net;
    this.cameBy[to] = contact;
    this.queue[this.reached] = to;
    this.reached += 1;
  }
}

function lyingAt(nets: number, ways: readonly { readonly a: number; readonly b: number }[]): number[][] {
  const list: number[][] = Array.from({ length: nets }, () => []);
  ways.forEach(({ a, b }, k) => {
    list[a]!.push(k);
    list[b]!.push(k);
  });
  return list;
}

/**
 * Contacts that hang together between nets at which a branch ends, and those of these nets that they touch.
 */
export interface Branch {
  /** Places in `Network.contacts`. */
  readonly contacts: readonly number[];
  readonly nets: readonly number[];
}

/** What hangs together of a network's contacts but for some, between nets at which it ends. */
export function branchesOf(
  { network: { contacts }, contactsAt }: SearchMap,
  endsAt: (net: number) => boolean,
  isLeft: (contact: number) => boolean = () => false,
): Branch[] {
  const met = Uint8Array.from(contacts, (_, c) => (isLeft(c) ? 1 : 0));
  return contacts.flatMap((_, first): Branch[] => {
    if (met[first] === 1) return [];
    met[first] = 1;
    const members = [first];
    const nets = new Set<number>();
    for (const c of members)
      for (const net of [contacts[c]!.a, contacts[c]!.b]) {
        if (endsAt(net)) {
          nets.add(net);
          continue;
        }
        for (const next of contactsAt[net]!) {
          if (met[next] === 1) continue;
          met[next] = 1;
          members.push(next);
        }
      }
    return [{ contacts: members, nets: [...nets] }];
  });
}

interface WayOptions {
  /** Contacts that are closed now and known to be; or all that are not known to be open. */
  readonly contacts: 'closed' | 'possible' | 'now';
  readonly loads: 'all' | 'none';
  /** By contact: 0 where a way must not lead over it. */
  readonly within?: Uint8Array | null;
  /** An element that is left out. */
  readonly without?: number;
  readonly goal: (supplyNode: SupplyNode) => boolean;
  readonly goalNets?: readonly number[];
  /** Only conductors of this group end a way: between two of another there is a voltage of its own. */
  readonly group?: string;
}

interface Way {
  readonly end: number;
  /** Contacts on the way, the one nearest to the goal first. */
  readonly contacts: readonly number[];
  readonly through: readonly number[];
}

/** Looks over a network in one state, knowing some mechanisms' states for certain. */
export class Look {
  private readonly network: Network;

  constructor(
    private readonly map: SearchMap,
    private readonly state: MechanicalState,
    private readonly known: Uint8Array,
  ) {
    this.network = map.network;
  }

  /** The conductor that holds a net; one of several supplies that is off holds nothing. */
  private held(net: number): SupplyNode | null {
    const supplyNode = this.network.supplyNodeAt[net] ?? null;
    return supplyNode && (this.network.supplies.length < 2 || isLiveSupplyNode(supplyNode, this.state))
      ? supplyNode
      : null;
  }

  private isClosed({ mechanism, closedIn }: MovingContact): boolean {
    return closedIn[this.state[mechanism]!] ?? false;
  }

  private passes(contact: MovingContact, mode: WayOptions['contacts']): boolean {
    return this.isClosed(contact) || (mode === 'possible' && this.known[contact.mechanism] === 0);
  }

  /**
   * Shortest way from some nets to a goal, breadth first; a conductor's net is passed through only where
   * another group is asked about.
   */
  way(
    from: readonly number[],
    { contacts, loads, within = null, without = -1, goal, goalNets = NONE, group }: WayOptions,
  ): Way | null {
    const { network, map } = this;
    const { queue } = map;
    map.begin();
    for (const net of from) map.reach(net, -1, -1);
    const starts = map.reached;
    for (let order = 0; order < map.reached; order += 1) {
      const net = queue[order]!;
      const supplyNode = this.held(net);
      const isStart = order < starts;
      if ((supplyNode && goal(supplyNode)) || (!isStart && goalNets.includes(net))) return this.trace(net);
      const ends = supplyNode !== null && (group === undefined || supplyNode.group === group);
      if (ends && !(isStart && loads === 'none')) continue;
      for (const c of map.contactsAt[net]!) {
        if (within?.[c] === 0) continue;
        const contact = network.contacts[c]!;
        if (this.passes(contact, contacts)) map.reach(contact.a === net ? contact.b : contact.a, net, c);
      }
      if (loads === 'none') continue;
      for (const l of map.loadsAt[net]!) {
        const load = network.loads[l]!;
        if (load.element !== without) map.reach(load.a === net ? load.b : load.a, net, -1);
      }
    }
    return null;
  }

  private trace(end: number): Way {
    const { cameFrom, cameBy } = this.map;
    const contacts: number[] = [];
    for (let net = end; net >= 0; net = cameFrom[net]!) {
      const contact = cameBy[net]!;
      if (contact >= 0) contacts.push(contact);
    }
    return { end, contacts, through: contacts.map((c) => this.network.contacts[c]?.mechanism ?? 0) };
  }

  /** The conductor that closed contacts join to a net, and by which mechanisms. */
  supplyNode(net: number): { supplyNode: SupplyNode; through: readonly number[] } | null {
    const own = this.held(net);
    if (own) return { supplyNode: own, through: [] };
    const way = this.way([net], { contacts: 'closed', loads: 'none', goal: () => true });
    return way && { supplyNode: this.network.supplyNodeAt[way.end]!, through: way.through };
  }

  /** Which of some nets closed contacts join to a net, and by which mechanisms. */
  joined(net: number, goals: readonly number[]): { net: number; through: readonly number[] } | null {
    if (goals.includes(net)) return { net, through: [] };
    const way = this.way([net], { contacts: 'closed', loads: 'none', goal: () => false, goalNets: goals });
    return way && { net: way.end, through: way.through };
  }

  /**
   * What must be looked at next to be sure that no conductor of a supply is joined to a net that none is
   * joined to now.
   */
  loose(net: number): MechanismIndex | undefined {
    const may = this.way([net], { contacts: 'possible', loads: 'none', goal: () => true });
    return may ? this.blocker(may.contacts) : undefined;
  }

  /** Those of some mechanisms whose state is not known yet, each once; null where all are. */
  unknown(mechanisms: Iterable<number>): MechanismIndex[] | null {
    const found: MechanismIndex[] = [];
    for (const m of mechanisms)
      if (this.known[m] === 0 && !found.includes(m as MechanismIndex)) found.push(m as MechanismIndex);
    return found.length > 0 ? found : null;
  }

  /** The contact on a way, nearest to its goal, that is open now and not yet known to be. */
  blocker(contacts: readonly number[]): MechanismIndex | undefined {
    for (const c of contacts) {
      const contact = this.network.contacts[c]!;
      if (!this.isClosed(contact) && this.known[contact.mechanism] === 0) return contact.mechanism;
    }
    return undefined;
  }

  /**
   * No current can flow through what lies between `from` and `back` when one side reaches nothing, or when
   * both reach one potential alone. Null where neither is so in this state; otherwise the verdict 0, or
   * what to look at next.
   */
  dead(from: readonly number[], back: readonly number[], element: number): Judgement | null {
    const all = [...from, ...back];
    const reached = this.reached(all, element);
    if (reached.size <= 1) {
      const [only = this.network.earthPotential] = reached;
      return this.block(all, element, (supplyNode) => supplyNode.potential !== only, []);
    }
    if (
      back.length > 0 &&
      !this.way(from, { contacts: 'now', loads: 'all', without: element, goal: () => true, goalNets: back })
    ) {
      return this.block(from, element, () => true, back);
    }
    return null;
  }

  private block(
    from: readonly number[],
    element: number,
    goal: (supplyNode: SupplyNode) => boolean,
    goalNets: readonly number[],
  ): Judgement {
    const may = this.way(from, { contacts: 'possible', loads: 'all', without: element, goal, goalNets });
    if (!may) return { verdict: 0 };
    const next = this.blocker(may.contacts);
    return next === undefined ? { verdict: SOLVE } : { look: [next] };
  }

  /** Potentials that some nets reach in this state, through closed contacts and loads. */
  private reached(from: readonly number[], element: number): Set<number> {
    const met = new Set<number>();
    this.way(from, {
      contacts: 'now',
      loads: 'all',
      without: element,
      goal: (supplyNode) => {
        met.add(supplyNode.potential);
        return false;
      },
    });
    return met;
  }

  /**
   * Every mechanism on which the solution around some nets rests, as far as conductors hold their
   * potentials.
   */
  region(from: readonly number[]): Set<number> {
    const { network } = this;
    const support = new Set<number>();
    const seen = new Set<number>(from);
    const queue = [...from];
    for (const net of queue) {
      if (this.held(net)) continue;
      const supplied = this.supplyNode(net);
      if (supplied) for (const m of supplied.through) support.add(m);
      const on = (to: number) => {
        if (seen.has(to)) return;
        seen.add(to);
        queue.push(to);
      };
      // A net that contacts hold on a conductor is held: what else lies there does not matter.
      for (const c of supplied ? [] : (this.map.contactsAt[net] ?? [])) {
        const contact = network.contacts[c]!;
        support.add(contact.mechanism);
        if (this.isClosed(contact)) on(contact.a === net ? contact.b : contact.a);
      }
      if (supplied) continue;
      for (const l of this.map.loadsAt[net] ?? []) {
        const { a, b, mechanism } = network.loads[l]!;
        if (mechanism >= 0) support.add(mechanism);
        on(a === net ? b : a);
      }
    }
    return support;
  }
}
