import { UnionFind, type Pass, type TerminalRef } from '@contactum/core';
import { namedNets } from './nets.js';

/** Passes in a row in which both readings of a pair must be otherwise: noise does that once in ages. */
export const IN_A_ROW = 4;

/** A joint that came or went, by one terminal of each net. */
export interface Change {
  readonly kind: 'joined' | 'parted';
  readonly between: readonly [TerminalRef, TerminalRef];
}

/** Tells what changes on a board after it was scanned, pass by pass. */
export class Watch {
  private readonly count: number;
  private known: UnionFind;
  /** By pair, lower number first: for how many passes it was otherwise than known. */
  private readonly otherwise: Uint8Array;
  private longest = 0;

  constructor(
    private readonly names: readonly TerminalRef[],
    joined: readonly (readonly TerminalRef[])[],
  ) {
    this.count = names.length;
    this.known = new UnionFind(this.count);
    this.otherwise = new Uint8Array(this.count ** 2);
    const place = new Map(names.map((name, k) => [name, k]));
    for (const [first, ...others] of joined)
      for (const other of others) this.known.union(place.get(first ?? other) ?? 0, place.get(other) ?? 0);
  }

  private *pairs(): Generator<readonly [number, number, number]> {
    for (let a = 0; a < this.count; a += 1)
      for (let b = a + 1; b < this.count; b += 1) yield [a, b, a * this.count + b];
  }

  /** What is joined now, as far as it is sure. */
  get joined(): readonly (readonly TerminalRef[])[] {
    return namedNets(this.names, this.known);
  }

  /** Something may be changing: a pair was otherwise than known more than once in a row. */
  get isUnsure(): boolean {
    return this.longest > 1;
  }

  /** What has changed for sure with one more pass. */
  take(pass: Pass): Change[] {
    // Nets that a sure change concerns.
    const touched = new Set<number>();
    this.longest = 0;
    for (const [a, b, place] of this.pairs()) {
      const [there, back] = [pass[a]?.[b] ?? false, pass[b]?.[a] ?? false];
      const isOther = there === back && there !== (this.known.find(a) === this.known.find(b));
      const times = isOther ? (this.otherwise[place] ?? 0) + 1 : 0;
      this.otherwise[place] = times;
      this.longest = Math.max(this.longest, times);
      if (times >= IN_A_ROW) touched.add(this.known.find(a)).add(this.known.find(b));
    }
    return touched.size > 0 ? this.changes(touched) : [];
  }

  private changes(touched: ReadonlySet<number>): Change[] {
    const { known } = this;
    const after = new UnionFind(this.count);
    for (const [a, b, place] of this.pairs()) {
      const times = this.otherwise[place] ?? 0;
      const wasJoined = known.find(a) === known.find(b);
      // What goes with a sure change and has lagged by a wrong reading goes too.
      const stays = times === 0 || !touched.has(known.find(a));
      if (wasJoined ? stays : times >= IN_A_ROW) after.union(a, b);
    }
    // Of three nets that become one, two joints are told.
    const told = { joined: new UnionFind(known.parent), parted: new UnionFind(after.parent) };
    const found: Change[] = [];
    for (const [a, b] of this.pairs()) {
      const [was, is] = [known.find(a) === known.find(b), after.find(a) === after.find(b)];
      const kind = is ? 'joined' : 'parted';
      if (was === is || told[kind].find(a) === told[kind].find(b)) continue;
      told[kind].union(a, b);
      const [one, other] = [this.names[a], this.names[b]];
      if (one !== undefined && other !== undefined) found.push({ kind, between: [one, other] });
    }
    this.known = after;
    this.otherwise.fill(0);
    this.longest = 0;
    return found;
  }
}
