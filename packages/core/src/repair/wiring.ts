import type { PinWire, Board } from './board.js';

/** What can be done to a wiring on the way: its kth wire taken away, or a wire put in. */
export type Answer =
  { readonly take: number; readonly key: number } | { readonly put: PinWire; readonly key: number };

/** Answers to put a wire in have keys from here. */
const PUT = 1_000;

export const isPut = ({ key }: Answer): boolean => key >= PUT;

/** The kth wire of a candidate, which is the wire `name` of the board, taken away. */
export const take = (k: number, name: number): Answer => ({ take: k, key: name });

/** A wire between two nets of a candidate put in. */
export const put = (a: number, b: number, pins: number): Answer => ({
  put: { a, b },
  key: PUT + Math.min(a, b) * pins + Math.max(a, b),
});

/**
 * A wiring on the way, and how it was reached: some wires of the board taken away and others put in. A wire
 * that is put in keeping the place of one end of a wire that was taken away is that wire moved, and the two
 * are one edit.
 */
export class Candidate {
  readonly wires: readonly PinWire[];
  /** Which wire of the board each is; −1 − n for the nth that was put in. */
  readonly names: readonly number[];
  /** By wire taken away: the added wire that it became, or −1. */
  readonly moves: readonly number[];
  /** Edits that are left. */
  readonly left: number;
  private ownNets: Int32Array | undefined;
  private kept: Int32Array | undefined;

  constructor(
    private readonly board: Board,
    private readonly own: readonly PinWire[],
    /** Wires of the board that were taken away. */
    readonly taken: readonly number[],
    readonly added: readonly PinWire[],
    private readonly budget: number,
  ) {
    const names: number[] = [];
    const wires: PinWire[] = [];
    for (let k = 0; k < own.length; k += 1) {
      if (taken.includes(k)) continue;
      names.push(k);
      wires.push(own[k]!);
    }
    for (let n = 0; n < added.length; n += 1) {
      names.push(-1 - n);
      wires.push(added[n]!);
    }
    this.names = names;
    this.wires = wires;
    this.moves = this.matching();
    this.left = budget - taken.length - added.length + this.moves.filter((n) => n >= 0).length;
  }

  /** Net of each pin under the wires alone. */
  get nets(): Int32Array {
    this.kept ??= this.board.nets(this.wires);
    return this.kept;
  }

  /** Wires taken away that may still be put elsewhere without another edit. */
  get free(): number {
    return this.moves.filter((n) => n < 0).length;
  }

  /** Wires of the board that were taken away. */
  get takenWires(): PinWire[] {
    return this.taken.map((name) => this.own[name]!);
  }

  /**
   * What an answer leads to. Where a wire is taken away between two places that nothing else joins, a wire
   * that was put in at the one may be meant at the other: each way is a candidate.
   */
  after(answer: Answer): Candidate[] {
    if ('put' in answer)
      return [new Candidate(this.board, this.own, this.taken, [...this.added, answer.put], this.budget)];
    return this.meanings(this.names[answer.take]!, this.added).map((added) =>
      this.with([...this.taken, this.names[answer.take]!], added),
    );
  }

  /** The wirings in which the kth wire became one more that is put in. */
  moved(k: number, wire: PinWire): { readonly wires: PinWire[]; readonly candidate: () => Candidate }[] {
    const name = this.names[k]!;
    const kept = this.wires.slice(0, this.wires.length - this.added.length).toSpliced(k, 1);
    return this.meanings(name, [...this.added, wire]).map((added) => ({
      wires: [...kept, ...added],
      candidate: () => this.with([...this.taken, name], added),
    }));
  }

  private with(taken: readonly number[], added: readonly PinWire[]): Candidate {
    return new Candidate(
      this.board,
      this.own,
      [...taken].sort((x, y) => x - y),
      added,
      this.budget,
    );
  }

  /**
   * Where wires that were put in may be meant when a wire of the board is taken away from between two
   * places.
   */
  private meanings(name: number, wires: readonly PinWire[]): (readonly PinWire[])[] {
    const { a, b } = this.own[name]!;
    const nets = this.boardNets();
    const touches = wires.some((wire) => nets[wire.a] === nets[a] || nets[wire.b] === nets[a]);
    if (!touches) return [wires];
    const without = this.board.nets(this.own.filter((_, k) => k !== name && !this.taken.includes(k)));
    if (without[a] === without[b]) return [wires];
    const places = (end: number): number[] => (nets[end] === nets[a] ? [a, b] : [end]);
    let variants: (readonly PinWire[])[] = [wires];
    for (let n = 0; n < wires.length; n += 1) {
      const wire = wires[n]!;
      variants = variants.flatMap((added) =>
        places(wire.a).flatMap((from) =>
          places(wire.b).flatMap((to) => (from === to ? [] : [added.with(n, { a: from, b: to })])),
        ),
      );
    }
    return variants;
  }

  /**
   * Wires of the board that are part of a way: those on it, and those that share a net with an end of an
   * added wire on it.
   */
  partOf(way: readonly number[]): number[] {
    const found = new Set(way);
    for (const k of way) {
      const name = this.names[k]!;
      if (name >= 0) continue;
      const nets = this.boardNets();
      const { a, b } = this.added[-1 - name]!;
      this.names.forEach((other, at) => {
        if (other < 0) return;
        const net = nets[this.own[other]!.a];
        if (net === nets[a] || net === nets[b]) found.add(at);
      });
    }
    return [...found];
  }

  /** A wiring and what can still be done to it; the order in which it was reached does not matter. */
  get key(): string {
    return `${signature(this.nets)}|${this.left}|${this.taken.join()}`;
  }

  /** Nets under the wires of the board that are left. */
  private boardNets(): Int32Array {
    this.ownNets ??= this.board.nets(this.wires.slice(0, this.wires.length - this.added.length));
    return this.ownNets;
  }

  /** Which added wire each wire taken away became, as many as can be. */
  private matching(): number[] {
    const { taken, added } = this;
    if (taken.length === 0 || added.length === 0) return taken.map(() => -1);
    const board = this.wires.length - added.length;
    const fits = added.map((wire, n) => {
      const nets = this.board.nets(this.wires.toSpliced(board + n, 1));
      return taken.map((name) => {
        const { a, b } = this.own[name]!;
        return (
          nets[a] === nets[wire.a] ||
          nets[a] === nets[wire.b] ||
          nets[b] === nets[wire.a] ||
          nets[b] === nets[wire.b]
        );
      });
    });
    return firstFullest(
      taken.map((_, k) => fits.flatMap((row, n) => (row[k] ? [n] : []))),
      added.length,
    );
  }
}

/**
 * Gives as many places as can be one of the things that fit them, each to one place at most, −1 to the others;
 * of all such ways the first, place by place and thing by thing (augmenting paths, Kuhn 1955).
 */
export function firstFullest(fitting: readonly (readonly number[])[], things: number): number[] {
  const chosen: number[] = [];
  const fullest = (): number => {
    const placeOf = new Int32Array(things).fill(-1);
    chosen.forEach((n, place) => {
      if (n >= 0) placeOf[n] = place;
    });
    const assign = (place: number, seen: Set<number>): boolean =>
      fitting[place]!.some((n) => {
        const other = placeOf[n]!;
        if (seen.has(n) || (other >= 0 && other < chosen.length)) return false;
        seen.add(n);
        if (other >= 0 && !assign(other, seen)) return false;
        placeOf[n] = place;
        return true;
      });
    let count = chosen.filter((n) => n >= 0).length;
    for (let place = chosen.length; place < fitting.length; place += 1)
      if (assign(place, new Set())) count += 1;
    return count;
  };
  const most = fullest();
  for (const options of fitting) {
    const left = options.filter((n) => !chosen.includes(n));
    chosen.push(-1);
    const place = chosen.length - 1;
    chosen[place] =
      left.find((n) => {
        chosen[place] = n;
        return fullest() === most;
      }) ?? -1;
  }
  return chosen;
}

/** The same for all wirings that are one circuit. */
export function signature(nets: Int32Array): string {
  const first = new Int32Array(nets.length).fill(-1);
  let text = '';
  for (let pin = 0; pin < nets.length; pin += 1) {
    const net = nets[pin]!;
    if (first[net]! < 0) first[net] = pin;
    text += String.fromCharCode(33 + first[net]!);
  }
  return text;
}
