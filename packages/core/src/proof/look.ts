import {
  isLiveTie,
  type MechanicalState,
  type MechanismIndex,
  type MovingContact,
  type Network,
  type Tie,
} from '../circuit/index.js';

/** A leaf at which only the whole solution decides. */
export const SOLVE = 8;

/** What is known at a leaf under construction: a verdict, or the mechanism that must be looked at next. */
export type Judgement = { readonly verdict: number } | { readonly look: MechanismIndex };

const NONE: readonly number[] = [];

/** A network with what lies at each spot, and the working store of breadth-first searches over it. */
export class SearchMap {
  readonly contactsAt: readonly (readonly number[])[];
  readonly loadsAt: readonly (readonly number[])[];
  /** Which round a spot was reached in, from where, by which contact. */
  round = 0;
  readonly seen: Int32Array;
  readonly cameFrom: Int32Array;
  readonly cameBy: Int32Array;
  readonly queue: Int32Array;

  constructor(readonly network: Network) {
    const { spots } = network;
    this.contactsAt = lyingAt(spots, network.contacts);
    this.loadsAt = lyingAt(spots, network.loads);
    this.seen = new Int32Array(spots);
    this.cameFrom = new Int32Array(spots);
    this.cameBy = new Int32Array(spots);
    this.queue = new Int32Array(spots);
  }
}

function lyingAt(spots: number, ways: readonly { readonly a: number; readonly b: number }[]): number[][] {
  const list: number[][] = Array.from({ length: spots }, () => []);
  ways.forEach(({ a, b }, k) => {
    list[a]!.push(k);
    list[b]!.push(k);
  });
  return list;
}

interface WayOptions {
  /** Contacts that are closed now and known to be; or all that are not known to be open. */
  readonly contacts: 'closed' | 'possible' | 'now';
  readonly loads: 'all' | 'none';
  /** An element that is left out. */
  readonly without?: number;
  readonly goal: (tie: Tie) => boolean;
  readonly goalSpots?: readonly number[];
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

  /** The conductor that holds a spot; one of several supplies that is off holds nothing. */
  private held(spot: number): Tie | null {
    const tie = this.network.tieAt[spot] ?? null;
    return tie && (this.network.supplies.length < 2 || isLiveTie(tie, this.state)) ? tie : null;
  }

  private isClosed({ mechanism, closedIn }: MovingContact): boolean {
    return closedIn[this.state[mechanism]!] ?? false;
  }

  private passes(contact: MovingContact, mode: WayOptions['contacts']): boolean {
    return this.isClosed(contact) || (mode === 'possible' && this.known[contact.mechanism] === 0);
  }

  /** Shortest way from some spots to a goal, breadth first; a conductor's spot is never passed through. */
  way(
    from: readonly number[],
    { contacts, loads, without = -1, goal, goalSpots = NONE }: WayOptions,
  ): Way | null {
    const { network, map } = this;
    const { cameFrom, cameBy, queue, seen } = map;
    map.round += 1;
    const { round } = map;
    let count = 0;
    const reach = (to: number, spot: number, contact: number): void => {
      if (seen[to] === round) return;
      seen[to] = round;
      cameFrom[to] = spot;
      cameBy[to] = contact;
      queue[count] = to;
      count += 1;
    };
    for (const spot of from) reach(spot, -1, -1);
    const starts = count;
    for (let order = 0; order < count; order += 1) {
      const spot = queue[order]!;
      const tie = this.held(spot);
      const isStart = order < starts;
      if ((tie && goal(tie)) || (!isStart && goalSpots.includes(spot))) return this.trace(spot);
      if (tie && !(isStart && loads === 'none')) continue;
      for (const c of this.map.contactsAt[spot]!) {
        const contact = network.contacts[c]!;
        if (this.passes(contact, contacts)) reach(contact.a === spot ? contact.b : contact.a, spot, c);
      }
      if (loads === 'none') continue;
      for (const l of this.map.loadsAt[spot]!) {
        const load = network.loads[l]!;
        if (load.element !== without) reach(load.a === spot ? load.b : load.a, spot, -1);
      }
    }
    return null;
  }

  private trace(end: number): Way {
    const { cameFrom, cameBy } = this.map;
    const contacts: number[] = [];
    for (let spot = end; spot >= 0; spot = cameFrom[spot]!) {
      const contact = cameBy[spot]!;
      if (contact >= 0) contacts.push(contact);
    }
    return { end, contacts, through: contacts.map((c) => this.network.contacts[c]?.mechanism ?? 0) };
  }

  /** The conductor that closed contacts join to a spot, and by which mechanisms. */
  tie(spot: number): { tie: Tie; through: readonly number[] } | null {
    const own = this.held(spot);
    if (own) return { tie: own, through: [] };
    const way = this.way([spot], { contacts: 'closed', loads: 'none', goal: () => true });
    return way && { tie: this.network.tieAt[way.end]!, through: way.through };
  }

  /** Which of some spots closed contacts join to a spot, and by which mechanisms. */
  joined(spot: number, goals: readonly number[]): { spot: number; through: readonly number[] } | null {
    if (goals.includes(spot)) return { spot, through: [] };
    const way = this.way([spot], { contacts: 'closed', loads: 'none', goal: () => false, goalSpots: goals });
    return way && { spot: way.end, through: way.through };
  }

  /**
   * What must be looked at next to be sure that no conductor of a supply is joined to a spot that none is
   * joined to now.
   */
  loose(spot: number): MechanismIndex | undefined {
    const may = this.way([spot], { contacts: 'possible', loads: 'none', goal: () => true });
    return may ? this.blocker(may.contacts) : undefined;
  }

  /** First of some mechanisms whose state is not known yet. */
  unknown(mechanisms: Iterable<number>): MechanismIndex | undefined {
    for (const m of mechanisms) if (this.known[m] === 0) return m as MechanismIndex;
    return undefined;
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
      return this.block(all, element, (tie) => tie.potential !== only, []);
    }
    if (
      back.length > 0 &&
      !this.way(from, { contacts: 'now', loads: 'all', without: element, goal: () => true, goalSpots: back })
    ) {
      return this.block(from, element, () => true, back);
    }
    return null;
  }

  private block(
    from: readonly number[],
    element: number,
    goal: (tie: Tie) => boolean,
    goalSpots: readonly number[],
  ): Judgement {
    const may = this.way(from, { contacts: 'possible', loads: 'all', without: element, goal, goalSpots });
    if (!may) return { verdict: 0 };
    const next = this.blocker(may.contacts);
    return next === undefined ? { verdict: SOLVE } : { look: next };
  }

  /** Potentials that some spots reach in this state, through closed contacts and loads. */
  private reached(from: readonly number[], element: number): Set<number> {
    const met = new Set<number>();
    this.way(from, {
      contacts: 'now',
      loads: 'all',
      without: element,
      goal: (tie) => {
        met.add(tie.potential);
        return false;
      },
    });
    return met;
  }

  /**
   * Every mechanism on which the solution around some spots rests, as far as conductors hold their
   * potentials.
   */
  region(from: readonly number[]): Set<number> {
    const { network } = this;
    const support = new Set<number>();
    const seen = new Set<number>(from);
    const queue = [...from];
    for (const spot of queue) {
      if (this.held(spot)) continue;
      const tied = this.tie(spot);
      if (tied) for (const m of tied.through) support.add(m);
      const on = (to: number) => {
        if (seen.has(to)) return;
        seen.add(to);
        queue.push(to);
      };
      // A spot that contacts hold on a conductor is held: what else lies there does not matter.
      for (const c of tied ? [] : (this.map.contactsAt[spot] ?? [])) {
        const contact = network.contacts[c]!;
        support.add(contact.mechanism);
        if (this.isClosed(contact)) on(contact.a === spot ? contact.b : contact.a);
      }
      if (tied) continue;
      for (const l of this.map.loadsAt[spot] ?? []) {
        const { a, b, mechanism } = network.loads[l]!;
        if (mechanism >= 0) support.add(mechanism);
        on(a === spot ? b : a);
      }
    }
    return support;
  }
}
