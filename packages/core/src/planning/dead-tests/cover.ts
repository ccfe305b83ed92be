/** Sets of small whole numbers as bits. */
export class Bits {
  readonly words: Uint32Array;

  constructor(readonly size: number) {
    this.words = new Uint32Array(Math.ceil(size / 32));
  }

  set(k: number): void {
    this.words[k >> 5]! |= 1 << (k & 31);
  }

  has(k: number): boolean {
    return ((this.words[k >> 5]! >>> (k & 31)) & 1) === 1;
  }

  /** How many of these are in another set too. */
  common(other: Bits): number {
    let n = 0;
    for (let k = 0; k < this.words.length; k += 1) n += ones(this.words[k]! & other.words[k]!);
    return n;
  }

  get count(): number {
    return this.common(this);
  }

  remove(other: Bits): void {
    for (let k = 0; k < this.words.length; k += 1) this.words[k]! &= ~other.words[k]!;
  }

  members(): number[] {
    return Array.from({ length: this.size }, (_, k) => k).filter((k) => this.has(k));
  }
}

function ones(word: number): number {
  let w = word - ((word >>> 1) & 0x55555555);
  w = (w & 0x33333333) + ((w >>> 2) & 0x33333333);
  return Math.imul((w + (w >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** A choice of sets that have every element between them, and what no choice can be smaller than. */
export interface Cover {
  readonly chosen: readonly number[];
  readonly bound: number;
}

/** Rounds in which the weights of the bound are improved. */
const ROUNDS = 400;
/** Pairs of chosen sets that are tried to be replaced by one. */
const EXCHANGES = 3;

/**
 * Few sets that cover everything that any of them covers: the one that adds most, again and again (the greedy rule; Johnson 1974,
 * from memory), then without those that the others make needless, then with two exchanged for one where one is enough. `cost` breaks ties. The bound is
 * that of the linear relaxation: weights on the elements of which no set holds more than one.
 */
export function cover(sets: readonly Bits[], cost: (k: number) => number): Cover {
  const size = sets[0]?.size ?? 0;
  const all = new Bits(size);
  for (const one of sets) for (let k = 0; k < all.words.length; k += 1) all.words[k]! |= one.words[k]!;
  let chosen = greedy(sets, all, cost);
  chosen = needed(sets, chosen, all);
  for (let round = 0; round < EXCHANGES; round += 1) {
    const fewer = exchanged(sets, chosen, all);
    if (fewer.length === chosen.length) break;
    chosen = fewer;
  }
  return { chosen, bound: Math.min(chosen.length, lowerBound(sets, all)) };
}

function greedy(sets: readonly Bits[], all: Bits, cost: (k: number) => number): number[] {
  const left = copy(all);
  const chosen: number[] = [];
  while (left.words.some((word) => word !== 0)) {
    let best = -1;
    let most = 0;
    sets.forEach((one, k) => {
      const gain = one.common(left);
      if (gain > most || (gain === most && gain > 0 && cost(k) < cost(best))) [best, most] = [k, gain];
    });
    chosen.push(best);
    left.remove(sets[best]!);
  }
  return chosen;
}

function copy(bits: Bits): Bits {
  const other = new Bits(bits.size);
  other.words.set(bits.words);
  return other;
}

/** What some sets leave of all. */
function leftBy(sets: readonly Bits[], chosen: readonly number[], all: Bits): Bits {
  const left = copy(all);
  for (const k of chosen) left.remove(sets[k]!);
  return left;
}

/** Without those that the others make needless; those that were chosen last go first. */
function needed(sets: readonly Bits[], chosen: readonly number[], all: Bits): number[] {
  let kept = [...chosen];
  for (const one of [...chosen].reverse()) {
    const others = kept.filter((k) => k !== one);
    if (leftBy(sets, others, all).words.every((word) => word === 0)) kept = others;
  }
  return kept;
}

/** One set in place of two, where one does. */
function exchanged(sets: readonly Bits[], chosen: readonly number[], all: Bits): number[] {
  for (let a = 0; a < chosen.length; a += 1)
    for (let b = a + 1; b < chosen.length; b += 1) {
      const others = chosen.filter((_, k) => k !== a && k !== b);
      const left = leftBy(sets, others, all);
      const wanted = left.count;
      const one = sets.findIndex((set) => set.common(left) === wanted);
      if (one >= 0) return needed(sets, [...others, one], all);
    }
  return [...chosen];
}

/** Weights of the elements so that no set has more than one of it; what they make in all no cover can be smaller than. */
function lowerBound(sets: readonly Bits[], all: Bits): number {
  const elements = essential(sets, all);
  const columns = distinct(sets.map((set) => elements.filter((e) => set.has(e))));
  const index = new Map(elements.map((e, k) => [e, k]));
  const rows = columns.map((column) => column.map((e) => index.get(e)!));
  // Multiplicative weights on the sets; an element is worth what the lightest way of paying for it is.
  const price = new Float64Array(rows.length).fill(1);
  const weight = new Float64Array(elements.length);
  let best = 0;
  const holders = elements.map((_, e) => rows.flatMap((row, r) => (row.includes(e) ? [r] : [])));
  for (let round = 1; round <= ROUNDS; round += 1) {
    let cheapest = 0;
    let least = Number.POSITIVE_INFINITY;
    holders.forEach((list, e) => {
      const sum = list.reduce((total, r) => total + price[r]!, 0);
      if (sum < least) [cheapest, least] = [e, sum];
    });
    weight[cheapest]! += 1;
    for (const r of holders[cheapest]!) price[r]! *= 1.08;
    const fullest = rows.reduce(
      (most, row) =>
        Math.max(
          most,
          row.reduce((sum, e) => sum + weight[e]!, 0),
        ),
      0,
    );
    best = Math.max(best, round / fullest);
  }
  return Math.ceil(best - 1e-9);
}

/** Elements that are the hardest to cover: no other is covered by part of their sets only. */
function essential(sets: readonly Bits[], all: Bits): number[] {
  const byHolders = new Map<string, { element: number; holders: readonly number[] }>();
  for (const element of all.members()) {
    const holders = sets.flatMap((set, k) => (set.has(element) ? [k] : []));
    const key = holders.join();
    if (!byHolders.has(key)) byHolders.set(key, { element, holders });
  }
  const list = [...byHolders.values()].sort((a, b) => a.holders.length - b.holders.length);
  const kept: { element: number; holders: ReadonlySet<number> }[] = [];
  for (const { element, holders } of list) {
    const own = new Set(holders);
    if (!kept.some((one) => one.holders.size <= own.size && [...one.holders].every((k) => own.has(k))))
      kept.push({ element, holders: own });
  }
  return kept.map(({ element }) => element);
}

function distinct(lists: readonly (readonly number[])[]): (readonly number[])[] {
  return [...new Map(lists.filter((one) => one.length > 0).map((one) => [one.join(), one])).values()];
}
