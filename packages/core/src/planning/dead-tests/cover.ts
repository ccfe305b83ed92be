import { Bits } from './bits.js';

/** Things by sets of numbers that they have. */
class BitsMap<T> {
  private readonly buckets = new Map<number, { readonly key: Bits; value: T }[]>();

  private entryOf(key: Bits): { readonly key: Bits; value: T } | undefined {
    return this.buckets.get(key.hash)?.find((one) => one.key.equals(key));
  }

  get(key: Bits): T | undefined {
    return this.entryOf(key)?.value;
  }

  set(key: Bits, value: T): void {
    const known = this.entryOf(key);
    if (known) {
      known.value = value;
      return;
    }
    const bucket = this.buckets.get(key.hash);
    if (bucket) bucket.push({ key, value });
    else this.buckets.set(key.hash, [{ key, value }]);
  }

  values(): T[] {
    return [...this.buckets.values()].flat().map(({ value }) => value);
  }
}

/** A choice of sets that have every element between them, and what no choice can be smaller than. */
export interface Cover {
  readonly chosen: readonly number[];
  readonly bound: number;
}

/**
 * A set that may be chosen, and which of the elements that are still to be covered it has, by their places.
 */
interface Column {
  readonly set: number;
  readonly rows: Bits;
}

/**
 * Rounds in which the weights of the bound are improved, and by how much a price grows in one; what grows
 * slowly ends nearer.
 */
const ROUNDS = 1_200;
const GROWTHS = [1.15, 1.05, 1.02];

/**
 * Few sets that cover everything that any of them covers. What must be chosen is chosen and what decides
 * nothing is left out, by the rules of set covering (Garfinkel and Nemhauser 1972, from memory): an element
 * that only one set has, an element that comes with another one, a set that has no more than another. Of
 * what is left the greedy choice (Johnson 1974, from memory) is improved by exchanges. `cost` breaks ties.
 * The bound is that of the linear relaxation: weights on the elements of which no set holds more than one.
 */
export function cover(sets: readonly Bits[], cost: (k: number) => number): Cover {
  const columns = distinct(sets, cost);
  const elements = essential(columns.map((k) => sets[k]!));
  const rows = columns.map(() => new Bits(elements.length));
  elements.forEach((holders, k) => {
    for (const column of holders.members()) rows[column]!.set(k);
  });
  const whole = columns
    .map((set, k): Column => ({ set, rows: rows[k]! }))
    .filter((column) => !column.rows.isEmpty);
  const chosen: number[] = [];
  const left = reduced(whole, chosen, cost);
  const rest = smallest(left, cost);
  const bound = chosen.length + Math.min(rest.length, lowerBound(left));
  return { chosen: [...chosen, ...rest], bound };
}

/** Of sets that are the same the cheapest. */
function distinct(sets: readonly Bits[], cost: (k: number) => number): number[] {
  const best = new BitsMap<number>();
  sets.forEach((key, k) => {
    const known = best.get(key);
    if (known === undefined || cost(k) < cost(known)) best.set(key, k);
  });
  return best.values();
}

/**
 * Elements that are the hardest to cover, each as the sets that have it: no other one is covered by some of
 * their sets only.
 */
function essential(sets: readonly Bits[]): Bits[] {
  const size = sets[0]?.size ?? 0;
  const holders = Array.from({ length: size }, () => new Bits(sets.length));
  sets.forEach((set, k) => {
    for (const e of set.members()) holders[e]!.set(k);
  });
  const unlike = new BitsMap<number>();
  holders.forEach((key, e) => {
    if (!key.isEmpty && unlike.get(key) === undefined) unlike.set(key, e);
  });
  const inOrder = unlike
    .values()
    .map((e) => ({ e, sets: holders[e]!, n: holders[e]!.count }))
    .sort((a, b) => a.n - b.n);
  const { hardest } = hardestOf(inOrder, sets.length);
  return hardest.map((one) => one.sets);
}

/** Of some places in a list of lists, the one whose list is the shortest. */
const shortest = (lists: readonly (readonly unknown[])[], places: readonly number[]): number =>
  places.reduce((least, k) => (lists[k]!.length < lists[least]!.length ? k : least));

/** An element and the sets that have it. */
interface Row {
  readonly e: number;
  readonly sets: Bits;
}

/**
 * Of elements, those with the fewest sets first, the ones that do not come with another one; and those that
 * do.
 */
function hardestOf(inOrder: readonly Row[], size: number): { hardest: Row[]; easy: Row[] } {
  const hardest: Row[] = [];
  const easy: Row[] = [];
  // One that a row comes with is found by a set that both have: each hard one is kept with one of its sets.
  const by = Array.from({ length: size }, (): Row[] => []);
  for (const one of inOrder) {
    const members = one.sets.members();
    if (members.some((set) => by[set]!.some(({ sets }) => sets.isWithin(one.sets)))) {
      easy.push(one);
      continue;
    }
    hardest.push(one);
    by[shortest(by, members)]!.push(one);
  }
  return { hardest, easy };
}

/** Takes what must be taken, and leaves out what decides nothing, until neither changes anything. */
function reduced(columns: readonly Column[], chosen: number[], cost: (k: number) => number): Column[] {
  let left = columns;
  for (;;) {
    const kept = undominated(left, cost);
    const holders = holdersOf(kept);
    const only = holders.find((list) => list.length === 1)?.[0];
    if (only) {
      chosen.push(only.set);
      left = kept
        .filter((one) => one !== only)
        .map(({ set, rows }) => ({ set, rows: rows.without(only.rows) }));
      continue;
    }
    const easy = easyRows(kept, holders);
    if (easy.isEmpty) return kept;
    left = kept.map(({ set, rows }) => ({ set, rows: rows.without(easy) }));
  }
}

/** Of two sets of which one has no more than the other, that one goes; of two alike the dearer. */
function undominated(columns: readonly Column[], cost: (k: number) => number): Column[] {
  const unlike = new BitsMap<Column>();
  for (const column of columns) {
    if (column.rows.isEmpty) continue;
    const known = unlike.get(column.rows);
    if (!known || cost(column.set) < cost(known.set)) unlike.set(column.rows, column);
  }
  const inOrder = unlike
    .values()
    .map((column) => ({ column, n: column.rows.count }))
    .sort((a, b) => b.n - a.n || cost(a.column.set) - cost(b.column.set));
  const kept: Column[] = [];
  // A set that has all of another's has its rarest element too: only those that have that are asked.
  const having = Array.from({ length: columns[0]?.rows.size ?? 0 }, (): Column[] => []);
  for (const { column } of inOrder) {
    const members = column.rows.members();
    if (having[shortest(having, members)]!.some(({ rows }) => column.rows.isWithin(rows))) continue;
    kept.push(column);
    for (const e of members) having[e]!.push(column);
  }
  return kept;
}

/** Elements whose sets are all sets of a harder one: they come with that. */
function easyRows(columns: readonly Column[], holders: readonly (readonly Column[])[]): Bits {
  const place = new Map(columns.map((column, k) => [column, k]));
  const rows = holders
    .map((list, e) => ({
      e,
      n: list.length,
      sets: Bits.of(
        columns.length,
        list.map((one) => place.get(one)!),
      ),
    }))
    .filter(({ n }) => n > 0)
    .sort((a, b) => a.n - b.n);
  return Bits.of(
    holders.length,
    hardestOf(rows, columns.length).easy.map(({ e }) => e),
  );
}

/** By element: the sets that have it. */
function holdersOf(columns: readonly Column[]): Column[][] {
  const holders = Array.from({ length: columns[0]?.rows.size ?? 0 }, (): Column[] => []);
  for (const column of columns) for (const e of column.rows.members()) holders[e]!.push(column);
  return holders;
}

/** Everything that some sets have. */
function unionOf(columns: readonly Column[]): Bits {
  const all = new Bits(columns[0]?.rows.size ?? 0);
  for (const { rows } of columns) rows.words.forEach((word, k) => (all.words[k]! |= word));
  return all;
}

function greedy(columns: readonly Column[], cost: (k: number) => number): number[] {
  let open = unionOf(columns);
  const chosen: number[] = [];
  while (!open.isEmpty) {
    let best = columns[0]!;
    let most = 0;
    for (const one of columns) {
      const gain = one.rows.common(open);
      if (gain > most || (gain === most && gain > 0 && cost(one.set) < cost(best.set)))
        [best, most] = [one, gain];
    }
    chosen.push(best.set);
    open = open.without(best.rows);
  }
  return chosen;
}

/** Passes in which chosen sets are exchanged for fewer. */
const PASSES = 12;

/**
 * The smallest choice that is found: greedy first; then without what the others make needless, and one set
 * in place of two while one is enough.
 */
function smallest(columns: readonly Column[], cost: (k: number) => number): number[] {
  const rowsOf = new Map(columns.map(({ set, rows }) => [set, rows]));
  const all = unionOf(columns);
  let best = greedy(columns, cost);
  const without = (gone: readonly number[]) => best.filter((set) => !gone.includes(set));
  const leftBy = (chosen: readonly number[]) =>
    chosen.reduce((left, set) => left.without(rowsOf.get(set)!), all);
  const holders = holdersOf(columns);
  /** A set that has all of these: among those that have the one of them that the fewest have. */
  const havingAll = (left: Bits): Column | undefined => {
    if (left.isEmpty) return columns[0];
    return holders[shortest(holders, left.members())]!.find(({ rows }) => left.isWithin(rows));
  };
  const exchange = (): number[] | null => {
    for (let a = 0; a < best.length; a += 1)
      for (let b = a + 1; b < best.length; b += 1) {
        const rest = without([best[a]!, best[b]!]);
        const left = leftBy(rest);
        const one = havingAll(left);
        if (one) return [...rest, one.set];
      }
    return null;
  };
  for (let pass = 0; pass < PASSES; pass += 1) {
    const extra = best.find((set) => leftBy(without([set])).isEmpty);
    const next = extra === undefined ? exchange() : without([extra]);
    if (!next) break;
    best = next;
  }
  return best;
}

/**
 * Weights of the elements so that no set has more than one of it; what they make in all no cover can be
 * smaller than.
 */
function lowerBound(columns: readonly Column[]): number {
  const rows = columns.map((column) => column.rows.members());
  const holders = Array.from({ length: columns[0]?.rows.size ?? 0 }, (): number[] => []);
  rows.forEach((list, r) => {
    for (const e of list) holders[e]!.push(r);
  });
  const open = [...holders.keys()].filter((e) => holders[e]!.length > 0);
  return open.length === 0 ? 0 : Math.max(...GROWTHS.map((growth) => weighed(rows, holders, open, growth)));
}

/**
 * Multiplicative weights on the sets: the element that is paid for most cheaply gets a share more, and its
 * sets become dearer.
 */
function weighed(
  rows: readonly (readonly number[])[],
  holders: readonly (readonly number[])[],
  open: readonly number[],
  growth: number,
): number {
  const price = new Float64Array(rows.length).fill(1);
  const held = new Float64Array(rows.length);
  const sum = Float64Array.from(holders, (list) => list.length);
  let best = 0;
  let fullest = 0;
  for (let round = 1; round <= ROUNDS; round += 1) {
    const cheapest = open.reduce((least, e) => (sum[e]! < sum[least]! ? e : least));
    for (const r of holders[cheapest]!) {
      const more = price[r]! * (growth - 1);
      price[r]! += more;
      for (const e of rows[r]!) sum[e]! += more;
      fullest = Math.max(fullest, (held[r]! += 1));
    }
    best = Math.max(best, round / fullest);
  }
  return Math.ceil(best - 1e-9);
}
