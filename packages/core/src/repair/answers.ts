import type { MechanicalState } from '../circuit/index.js';
import type { Board, Failing } from './board.js';
import type { Case } from './case.js';
import { put, take, type Answer, type Candidate } from './wiring.js';

/** Per unit by which the voltage of a load in a right wiring may differ from its rating. */
const NEAR_RATING = 0.2;

/** What can be done to a wiring against something that it fails to do. */
export class Answers {
  private readonly board: Board;

  constructor(
    private readonly given: Case,
    /** Only what leads towards the reference. */
    private readonly towards: boolean,
  ) {
    this.board = given.board;
  }

  to(node: Candidate, failing: Failing): Answer[] {
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
        return this.removals(
          node,
          this.given.feeding(node.wires, failing.state, failing.ends, failing.shared),
        );
      case 'earth': {
        const { nets } = node;
        return this.additions(node, [nets[failing.from]!], new Set(board.bonded.map((pin) => nets[pin]!)));
      }
      case 'way':
        return this.removals(node, failing.wires);
      case 'dead':
        return [
          ...this.feed(node, failing),
          ...(failing.shared
            ? this.removals(node, this.given.feeding(node.wires, failing.state, failing.ends, true))
            : []),
        ];
    }
  }

  /**
   * A load has no voltage, or the wrong one. Wires that are taken away never feed anything, so what is open
   * must be joined to something.
   */
  feed(
    node: Candidate,
    {
      state,
      ends,
      wants,
      isMotor = false,
    }: Pick<Extract<Failing, { readonly kind: 'dead' | 'live' }>, 'state' | 'ends' | 'wants' | 'isMotor'>,
  ): Answer[] {
    return isMotor
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
      return puts === 0 ? [] : this.removals(node, this.given.feeding(node.wires, state, ends));
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
    const supplied = roots.filter((root) => held[root]! >= 0).length;
    if (supplied < wants) {
      // One wire supplies one group of ends more.
      const groups = open.map((root) => roots.filter((other) => other === root).length).sort((x, y) => y - x);
      let [needed, reached] = [0, supplied];
      while (reached < wants && needed < groups.length) reached += groups[needed++]!;
      if (reached < wants || needed > puts) return [];
      // Two open groups joined to each other need as many wires in all: one of them is supplied for both.
      const admits = (to: number, nets: number) =>
        held[to]! >= 0 || (needed < puts && nets > 1) || (needed > 1 && open.includes(to));
      // Where every end must be supplied it is enough to begin with one.
      return (wants === ends.length ? open.slice(0, 1) : open).flatMap((root) =>
        this.join(node, nodes, root, admits),
      );
    }
    const removals =
      open.length === 0 && wants === ends.length && puts === 0
        ? []
        : this.removals(node, this.given.feeding(node.wires, state, ends));
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
   * Wires from a node to those that are admitted, by their root and how many nets they are. To go on from
   * an open node of one net is the same as to go there at once, so none need begin with it.
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
      node.names.forEach((name, k) => this.given.isLoose(name) && parting.add(nets[node.wires[k]!.a]!));
    // So does one at which a wire ended that was taken away: only from there can that wire go on, and not
    // from everywhere else.
    if (node.free > 0) for (const { a, b } of node.takenWires) parting.add(nets[a]!).add(nets[b]!);
    const size = (members: ReadonlySet<number>): number =>
      members.size + (parting.size > 0 && [...members].some((net) => parting.has(net)) ? 1 : 0);
    const to = new Set<number>();
    for (const [other, members] of byNode)
      if (other !== root && admits(other, size(members))) for (const net of members) to.add(net);
    return this.additions(node, [...(byNode.get(root) ?? [])], to);
  }

  /** Taking away one of the wires on a way. */
  removals(node: Candidate, way: readonly number[]): Answer[] {
    if (node.left === 0) return [];
    return node.partOf(way).flatMap((k): Answer[] => {
      const name = node.names[k]!;
      return this.mayGo(name) ? [take(k, name)] : [];
    });
  }

  /** A wire from one of some potentials to one of others. */
  private additions(node: Candidate, from: readonly number[], to: ReadonlySet<number>): Answer[] {
    if (node.left === 0 && node.free === 0) return [];
    const { nets } = node;
    const kinds = this.given.circuitsOf(nets);
    const next: Answer[] = [];
    const alike = this.towards ? this.given.alike(nets) : null;
    // With no edit left only the moved end of a wire that was taken away can be put in.
    const moved = node.left > 0 ? null : new Set(node.takenWires.flatMap(({ a, b }) => [nets[a]!, nets[b]!]));
    for (const a of from) {
      for (const b of to) {
        if (moved !== null && !moved.has(a) && !moved.has(b)) continue;
        // Nobody mends a motor's lead through a push button: power is joined to power, control to control,
        // earth to earth.
        if (a !== b && (kinds[a]! & kinds[b]!) !== 0 && (alike?.(a, b) ?? true))
          next.push(put(a, b, this.board.pins));
      }
    }
    return next;
  }

  /** What stays is the instructor's, and what was just put in. */
  mayGo(name: number): boolean {
    return this.given.isLoose(name) && !(this.towards && this.given.isWanted(name));
  }
}
