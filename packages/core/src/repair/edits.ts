import { conductorsByTerminal, splitRef, wireOf, type TerminalRef, type Wire } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import type { PinWire } from './board.js';
import type { Case } from './case.js';
import type { RepairEdit } from './task.js';
import type { Candidate } from './wiring.js';

/** Conductors that a terminal takes where nobody says more. */
const ORDINARY = 2;

/** True where each wire that was put in joins what belongs together without it. */
export function joinsAlike(given: Case, { wires, names, added }: Candidate): boolean {
  return added.every(({ a, b }, n) => {
    const nets = given.board.nets(wires.filter((_, k) => names[k] !== -1 - n));
    const circuits = given.circuitsOf(nets);
    return (circuits[nets[a]!]! & circuits[nets[b]!]!) !== 0;
  });
}

/** Which of two repairs is shown first: the one nearer to the reference, then the one that disturbs less. */
export function weightOf(given: Case, wires: readonly PinWire[], edits: readonly RepairEdit[]): number {
  // Moving a wire disturbs less than taking one away and putting another in.
  const cost = edits.reduce((sum, edit) => sum + ('remove' in edit ? 1 : 'move' in edit ? 2 : 3), 0);
  return strangeness(given, wires) * 10 + cost;
}

/** Pairs of pins that are joined in a wiring or in the reference and not in both. */
function strangeness({ board, wanted }: Case, wires: readonly PinWire[]): number {
  const nets = board.nets(wires);
  let count = 0;
  for (let a = 0; a < nets.length; a += 1)
    for (let b = 0; b < a; b += 1) if ((nets[a] === nets[b]) !== (wanted[a] === wanted[b])) count += 1;
  return count;
}

/** The edits of a wiring, at terminals that take another conductor. */
export function editsOf(given: Case, node: Candidate): RepairEdit[] {
  const { wires, names, taken, moves, added } = node;
  const { bench } = given.task;
  const kept = names.flatMap((name) => (name >= 0 ? [bench.wires[name]!] : []));
  const terminals = new Terminals(given, kept, given.board.nets(wires.filter((_, k) => names[k]! >= 0)));
  const replaced = taken.map((wire, k): RepairEdit => {
    const own = wireOf(bench.wires[wire]!);
    const moved = moves[k]!;
    return moved < 0 ? { remove: own } : movedEdit(given, node, own, moved, terminals);
  });
  const put = added.flatMap(({ a, b }, n): RepairEdit[] => {
    if (moves.includes(n)) return [];
    const from = terminals.take(a);
    const to = terminals.take(b, from);
    return [{ add: { from, to, ...styleOf(given, from, to) } }];
  });
  return [...replaced, ...put];
}

/**
 * A wire of which one end stays where it is: it meets the added wire there, at the wire's own end or
 * through others.
 */
function movedEdit(
  { board }: Case,
  { wires, names, added }: Candidate,
  own: Wire,
  moved: number,
  terminals: Terminals,
): RepairEdit {
  const { a, b } = added[moved]!;
  const others = board.nets(wires.filter((_, at) => names[at] !== -1 - moved));
  const meets = (ref: TerminalRef, end: number): boolean => others[board.pin(ref)] === others[end];
  const keepsFrom = meets(own.from, a) || meets(own.from, b);
  const stays = keepsFrom ? own.from : own.to;
  const other = terminals.take(meets(stays, a) ? b : a, stays);
  terminals.fill(stays);
  return { move: own, to: keepsFrom ? { ...own, to: other } : { ...own, from: other } };
}

/** Terminals as they fill with conductors. */
class Terminals {
  private readonly count: Map<TerminalRef, number>;

  constructor(
    private readonly given: Case,
    kept: readonly Wire[],
    private readonly nets: Int32Array,
  ) {
    this.count = conductorsByTerminal(kept);
  }

  /** The emptiest terminal of a pin's net, which is then one conductor fuller. */
  take(pin: number, not?: TerminalRef): TerminalRef {
    const { nets, count } = this;
    const { circuit, pinOf } = this.given.board;
    const net = nets[pin]!;
    const candidates = circuit.terminals.filter((ref, k) => ref !== not && nets[pinOf[k]!] === net);
    const [best] = candidates.sort(
      (x, y) => this.isFull(x) - this.isFull(y) || (count.get(x) ?? 0) - (count.get(y) ?? 0),
    );
    this.fill(best!);
    return best!;
  }

  fill(ref: TerminalRef): void {
    this.count.set(ref, (this.count.get(ref) ?? 0) + 1);
  }

  private isFull(ref: TerminalRef): number {
    const { tag, terminal } = splitRef(ref);
    const device = this.given.task.bench.devices.find((one) => one.tag === tag);
    const spec = device && anatomy(device).terminals.find(({ name }) => name === terminal);
    return (spec?.conductors ?? ORDINARY) > (this.count.get(ref) ?? 0) ? 0 : 1;
  }
}

/** Colour and area of a new wire: as a wire that ends on one of its terminals, or in the reference. */
function styleOf({ task }: Case, from: TerminalRef, to: TerminalRef): Pick<Wire, 'colour' | 'area'> {
  const like = [...task.reference.wires, ...task.bench.wires].find((wire) =>
    [wire.from, wire.to].some((ref) => ref === from || ref === to),
  );
  return {
    ...(like?.colour === undefined ? {} : { colour: like.colour }),
    ...(like?.area === undefined ? {} : { area: like.area }),
  };
}
