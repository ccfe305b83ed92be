import { UnionFind, type Pass, type TerminalRef } from '@contactum/core';

/** Passes in a row in which both readings of a pair must be otherwise: noise does that once in ages. */
const IN_A_ROW = 4;

/** A joint that came or went, by one terminal of each net. */
export interface Change {
  readonly kind: 'joined' | 'parted';
  readonly between: readonly [TerminalRef, TerminalRef];
}

/** Tells what changes on a board after it was scanned, pass by pass. */
export class Watch {
  private readonly count: number;
  /** By pair, lower number first: what is known, and for how many passes it was otherwise. */
  private readonly isJoined: Uint8Array;
  private readonly otherwise: Uint8Array;

  constructor(
    private readonly names: readonly TerminalRef[],
    joined: readonly (readonly TerminalRef[])[],
  ) {
    this.count = names.length;
    this.isJoined = new Uint8Array(this.count ** 2);
    this.otherwise = new Uint8Array(this.count ** 2);
    const place = new Map(names.map((name, k) => [name, k]));
    const sets = new UnionFind(this.count);
    for (const [first, ...others] of joined)
      for (const other of others) sets.union(place.get(first ?? other) ?? 0, place.get(other) ?? 0);
    this.know(sets);
  }

  private *pairs(): Generator<readonly [number, number, number]> {
    for (let a = 0; a < this.count; a += 1)
      for (let b = a + 1; b < this.count; b += 1) yield [a, b, a * this.count + b];
  }

  private know(sets: UnionFind): void {
    for (const [a, b, place] of this.pairs()) this.isJoined[place] = sets.find(a) === sets.find(b) ? 1 : 0;
    this.otherwise.fill(0);
  }

  /** The nets as they are known. */
  private get sets(): UnionFind {
    const sets = new UnionFind(this.count);
    for (const [a, b, place] of this.pairs()) if (this.isJoined[place]) sets.union(a, b);
    return sets;
  }

  /** What has changed for sure with one more pass. */
  take(pass: Pass): Change[] {
    let isSure = false;
    for (const [a, b, place] of this.pairs()) {
      const [there, back] = [pass[a]?.[b] ?? false, pass[b]?.[a] ?? false];
      const isOther = there === back && there !== (this.isJoined[place] === 1);
      const times = isOther ? (this.otherwise[place] ?? 0) + 1 : 0;
      this.otherwise[place] = times;
      isSure ||= times >= IN_A_ROW;
    }
    return isSure ? this.changes() : [];
  }

  private changes(): Change[] {
    const known = this.sets;
    const after = new UnionFind(this.count);
    // What goes with a sure change and has lagged by a wrong reading goes too.
    for (const [a, b, place] of this.pairs()) {
      const times = this.otherwise[place] ?? 0;
      if (this.isJoined[place] ? times === 0 : times >= IN_A_ROW) after.union(a, b);
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
    this.know(after);
    return found;
  }
}
