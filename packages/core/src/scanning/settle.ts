import { UnionFind } from '../circuit/index.js';
import { groupsOf } from './sets.js';

/** One pass over a board: `rows[k][j]` is true where terminal j was found joined while k was driven. */
export type Pass = readonly (readonly boolean[])[];

/** What passes over a board say of it. Terminals are numbered as in a pass. */
export interface Settled {
  /** Lists of two and more that are joined. */
  readonly joined: readonly (readonly number[])[];
  /** Places where the passes do not agree well enough. */
  readonly doubtful: readonly Doubt[];
}

export interface Doubt {
  /** One terminal of each of the two nets. */
  readonly between: readonly [number, number];
  /** Part of the readings in which they were joined, 0 to 1. */
  readonly share: number;
  /**
   * `flickers`: joined in one pass and not in the next, as a loose ferrule does; `one way`: joined when one
   * of them is driven and not when the other is, which no lead does: it is the box.
   */
  readonly kind: 'flickers' | 'one way';
}

export interface SettlingOptions {
  /** Part of single readings that are wrong, 0 to 0.4; 0.05 by default. */
  readonly noise?: number;
  /** How likely a wrong decision on a pair may be; 1e-9 by default. */
  readonly risk?: number;
}

/** Fewer passes do not tell a joint that flickers from one that is there. */
const LEAST_PASSES = 12;
/** So many passes are looked at before a pair that flickers is given up. */
const WATCHED_PASSES = 30;
/** Part of the passes in which a joint that flickers is otherwise than in most of them. */
const FLICKERS = 0.1;
/** Boards among which chance alone makes one pair look like a flickering one. */
const BOARDS = 20;

/**
 * Decides by readings with noise which terminals are joined: Wald's sequential test for each pair, on both of
 * its readings in each pass. A pair is decided when one of the two is more likely by `1 / risk`. Noise comes by
 * single readings, a loose lead by passes: where both readings of a pair are otherwise together more often than
 * the noise that is measured lets one expect, the pair flickers.
 * Source: A. Wald, Sequential tests of statistical hypotheses, Annals of Mathematical Statistics 16 (1945).
 */
export class Settling {
  passes = 0;
  /** By pair in both directions: how often it was joined. */
  private readonly hits: Uint16Array;
  /** By pair, lower number first: passes in which both readings, and in which neither, were joined. */
  private readonly both: Uint16Array;
  private readonly neither: Uint16Array;
  private oneOnly = 0;
  private readonly step: number;
  private readonly enough: number;

  constructor(
    private readonly count: number,
    { noise = 0.05, risk = 1e-9 }: SettlingOptions = {},
  ) {
    this.hits = new Uint16Array(count * count);
    this.both = new Uint16Array(count * count);
    this.neither = new Uint16Array(count * count);
    const odds = Math.min(0.4, Math.max(noise, 1e-3));
    this.step = Math.log((1 - odds) / odds);
    this.enough = Math.log(1 / risk);
  }

  take(pass: Pass): void {
    if (pass.length !== this.count || pass.some((row) => row.length !== this.count))
      throw new RangeError(`a pass over ${this.count} terminals has as many rows and columns`);
    this.passes += 1;
    pass.forEach((row, k) =>
      row.forEach((isJoined, j) => {
        if (isJoined) this.hits[k * this.count + j]! += 1;
        if (j <= k) return;
        const isBack = pass[j]![k]!;
        if (isJoined !== isBack) this.oneOnly += 1;
        else if (isJoined) this.both[k * this.count + j]! += 1;
        else this.neither[k * this.count + j]! += 1;
      }),
    );
  }

  private get pairs(): number {
    return (this.count * (this.count - 1)) / 2;
  }

  /** Chance that noise turns both readings of a pair at once, as it is measured. */
  private get bothWrong(): number {
    const differ = this.oneOnly / (this.pairs * this.passes);
    const noise = (1 - Math.sqrt(Math.max(0, 1 - 2 * differ))) / 2;
    return Math.max(noise * noise, 1e-6);
  }

  /** Both readings of a pair are otherwise than in most passes more often than noise makes them. */
  private flickers(a: number, b: number, chance: number): boolean {
    const place = a * this.count + b;
    const otherwise = Math.min(this.both[place]!, this.neither[place]!);
    if (otherwise === 0) return false;
    let tail = 1;
    for (let k = 0; k < otherwise; k += 1) tail *= ((this.passes - k) / (k + 1)) * chance;
    const isOdd = tail * this.pairs * BOARDS < 1;
    return isOdd && (this.passes < WATCHED_PASSES || otherwise >= FLICKERS * this.passes);
  }

  private hitsOf(a: number, b: number): number {
    return this.hits[a * this.count + b]! + this.hits[b * this.count + a]!;
  }

  /** Above 0 where a pair is more likely joined; its size says how sure that is. */
  private evidence(a: number, b: number): number {
    return (2 * this.hitsOf(a, b) - 2 * this.passes) * this.step;
  }

  private isDecided(a: number, b: number): boolean {
    return Math.abs(this.evidence(a, b)) >= this.enough;
  }

  /** Every pair is decided, and none flickers. */
  get isSettled(): boolean {
    if (this.passes < LEAST_PASSES) return false;
    const chance = this.bothWrong;
    for (let a = 0; a < this.count; a += 1)
      for (let b = a + 1; b < this.count; b += 1)
        if (!this.isDecided(a, b) || this.flickers(a, b, chance)) return false;
    return true;
  }

  /** What is known now; pairs that are not decided are doubtful, named once for two nets. */
  get result(): Settled {
    const sets = new UnionFind(this.count);
    const chance = this.bothWrong;
    for (let a = 0; a < this.count; a += 1)
      for (let b = a + 1; b < this.count; b += 1)
        if (this.isDecided(a, b) && this.evidence(a, b) > 0 && !this.flickers(a, b, chance)) sets.union(a, b);
    return {
      joined: groupsOf(this.count, sets).filter((group) => group.length > 1),
      doubtful: this.doubtful(sets),
    };
  }

  private doubtful(sets: UnionFind): Doubt[] {
    const found = new Map<string, Doubt>();
    const chance = this.bothWrong;
    for (let a = 0; a < this.count; a += 1)
      for (let b = a + 1; b < this.count; b += 1) {
        const isSure = this.isDecided(a, b) && !this.flickers(a, b, chance);
        const inOne = sets.find(a) === sets.find(b);
        // What a third terminal joins needs no decision of its own, but one against it is odd.
        if (inOne ? !isSure || this.evidence(a, b) > 0 : isSure) continue;
        const key = [sets.find(a), sets.find(b)].sort((x, y) => x - y).join(' ');
        if (!found.has(key)) found.set(key, { between: [a, b], ...this.kindOf(a, b) });
      }
    return [...found.values()];
  }

  private kindOf(a: number, b: number): Pick<Doubt, 'share' | 'kind'> {
    const there = this.hits[a * this.count + b]! / this.passes;
    const back = this.hits[b * this.count + a]! / this.passes;
    return {
      share: (there + back) / 2,
      kind: Math.abs(there - back) > 0.6 ? 'one way' : 'flickers',
    };
  }
}
