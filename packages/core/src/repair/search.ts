import { endsOf, type Wire } from '../bench/index.js';
import type { PropertyId } from '../proof/index.js';
import type { PinWire, Failing } from './board.js';
import { Answers } from './answers.js';
import { Case } from './case.js';
import { editsOf, joinsAlike, weightOf } from './edits.js';
import type { RepairEdit, RepairOptions, RepairTask } from './task.js';
import { towardsReference } from './towards.js';
import { Verdicts } from './verdicts.js';
import { Candidate, isPut, take, type Answer } from './wiring.js';

/** Failings that are compared for the fewest answers. */
const COMPARED = 40;
const COMPARED_LAST = 2;

/** What bounds a search, and who watches it. */
export type Limits = Readonly<Required<Omit<RepairOptions, 'most'>>>;

/** The search for sets of edits of one size that make a wiring pass. */
export class Search {
  tried = 0;
  stopped = false;
  more = false;
  private readonly given: Case;
  private readonly verdicts: Verdicts;
  private answers: Answers;
  private seen = new Set<string>();
  private visits = 0;
  private edits = 0;
  /** Wirings tried when the first repair was found. */
  private foundAt = 0;
  /** A repair of as many edits is known already. */
  private isKnown = false;
  private found = new Map<string, { edits: RepairEdit[]; weight: number }>();
  /** What a wiring fails to do at each moment that it is judged at: what refused a wiring last comes first. */
  private readonly moments: ((wires: readonly PinWire[]) => readonly Failing[])[];

  constructor(
    task: RepairTask,
    private readonly limits: Limits,
  ) {
    this.given = new Case(task);
    this.verdicts = new Verdicts(this.given);
    this.answers = new Answers(this.given, true);
    const { board, checkpoints, transitions, wakings } = this.given;
    this.moments = [
      ...checkpoints.map((one) => (wires: readonly PinWire[]) => board.failing(wires, one)),
      ...transitions.map((one) => (wires: readonly PinWire[]) => board.staying(wires, one)),
      ...wakings.map((one) => (wires: readonly PinWire[]) => board.sleeping(wires, one)),
    ];
  }

  private readonly isAsked = (property: PropertyId): boolean => !this.excused.has(property);

  /** Properties that need not hold. */
  get excused(): ReadonlySet<string> {
    return this.given.excused;
  }

  /** All repairs of exactly this many edits, where fewer do not do; one of them may be known beforehand. */
  look(cost: number, known: readonly RepairEdit[] | null = null): RepairEdit[][] {
    this.found = new Map();
    this.more = false;
    this.isKnown = known !== null;
    this.foundAt = this.tried;
    this.edits = cost;
    // What leads towards the reference is tried first: it finds most repairs at once.
    for (const towards of [true, false]) {
      this.seen = new Set();
      this.answers = new Answers(this.given, towards);
      this.visit(new Candidate(this.given.board, this.given.own, [], [], cost));
    }
    return [...this.found.values()].sort((a, b) => a.weight - b.weight).map(({ edits }) => edits);
  }

  /** True where the search tried and proved a whole wiring that joins exactly what these wires join. */
  passed(wires: readonly Wire[]): boolean {
    // A long lead drops volts, which potentials do not tell.
    if (wires.some(({ length }) => length !== undefined)) return false;
    const { board } = this.given;
    return this.verdicts.passed(
      board.nets(wires.map(({ from, to }) => ({ a: board.pin(from), b: board.pin(to) }))),
    );
  }

  /** Edits after which exactly that is joined which the reference joins. */
  towardsReference(): RepairEdit[] {
    return editsOf(this.given, towardsReference(this.given));
  }

  private visit(node: Candidate): void {
    if (this.stopped || this.more) return;
    const { key } = node;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    this.tried += 1;
    this.visits += 1;
    if (this.found.size === 0 && !this.isKnown) this.foundAt = this.tried;
    if (this.tried - this.foundAt > this.limits.listing) {
      this.more = true;
      return;
    }
    if ((this.visits & 63) === 0) this.limits.watch({ edits: this.edits, tried: this.tried });
    if (this.tried > this.limits.effort || ((this.visits & 15) === 0 && this.limits.stop())) {
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
        failing.flatMap((one) => this.answers.to(node, one)).map((answer) => [answer.key, answer]),
      );
      if (set.size === 0) return [];
      sets.push(set);
      if (sets.length === (most === 1 ? COMPARED_LAST : COMPARED)) break;
    }
    const [first, ...others] = sets;
    if (!first)
      return this.verdicts.cures(node, this.answers)?.flatMap((answer) => node.after(answer)) ?? null;
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
      if (!this.answers.mayGo(name)) continue;
      const net = nets[wires[k]!.a];
      if (net === a || net === b) yield k;
    }
  }

  /** True where a checkpoint refuses a wiring. */
  private refuses(wires: readonly PinWire[]): boolean {
    this.tried += 1;
    const { board } = this.given;
    // One failing is enough, and most are seen at the moment that refused the wiring before.
    return (
      this.missed(wires).next().done !== true ||
      board.unearthed(wires) !== null ||
      board.unprotected(wires, this.isAsked).next().done !== true
    );
  }

  /**
   * The failing with the fewest answers leads. Each failing must be answered, so of those answers only the
   * ones remain after which what is left can still answer all the others. A wire may also be put in as the
   * moved end of one that is still there: that one is then taken away first.
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
    const { board } = this.given;
    const earth = board.unearthed(wires);
    if (earth) yield [earth];
    for (const failing of board.unprotected(wires, this.isAsked)) yield [failing];
    yield* this.missed(wires);
  }

  /** What a wiring fails to do at the moments that it is judged at. */
  private *missed(wires: readonly PinWire[]): Generator<readonly Failing[]> {
    const { moments } = this;
    for (let k = 0; k < moments.length; k += 1) {
      const failing = moments[k]!(wires);
      if (failing.length === 0) continue;
      if (k > 0) moments.unshift(...moments.splice(k, 1));
      yield failing;
    }
  }

  private keep(node: Candidate): void {
    const edits = joinsAlike(this.given, node) ? editsOf(this.given, node) : null;
    if (!edits) return;
    const key = editsKey(edits);
    if (this.found.has(key)) return;
    if (this.found.size >= this.limits.list) {
      this.more = true;
      return;
    }
    this.found.set(key, { edits, weight: weightOf(this.given, node.wires, edits) });
  }
}

/** Same key, same edits, in whatever order and whichever end of a lead is named first. */
export const editsKey = (edits: readonly RepairEdit[]): string =>
  edits
    .map((edit) =>
      'add' in edit
        ? `+${endsOf(edit.add)}`
        : 'move' in edit
          ? `${endsOf(edit.move)}=${endsOf(edit.to)}`
          : `-${endsOf(edit.remove)}`,
    )
    .sort()
    .join();

/**
 * True where some failings can be answered by so many things done: failings that share no answer need one
 * each. Where only moved ends can be put in, they go to some nets.
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
