import type { Test } from './observation.js';
import type { Column, Table } from './table.js';

/** The test that splits what is left best, and into how many of each. */
export interface Next {
  readonly test: Test;
  /** Candidates of each outcome, the most first. */
  readonly splits: readonly number[];
}

/**
 * What a test costs beside another that tells as much: looking comes before measuring live, and that before
 * isolating.
 */
function effort({ dead = false, steps, meter }: Test): number {
  return (dead ? 2 : meter ? 1 : 0) * 100 + steps.length;
}

/** Bits that are still wanting when a set has fallen into parts of these sizes. */
function wanting(sizes: ArrayLike<number>, all: number): number {
  let bits = 0;
  for (let k = 0; k < sizes.length; k += 1) {
    const size = sizes[k]!;
    if (size > 1) bits += size * Math.log2(size);
  }
  return bits / all;
}

const EVEN = 1e-9;

/** How candidates of a table fall apart under its tests. */
export class Search {
  private readonly columns: readonly Column[];
  private readonly counts: Int32Array;

  constructor(private readonly table: Table) {
    this.columns = [...table.columns].sort((a, b) => effort(a.test) - effort(b.test));
    this.counts = new Int32Array(
      1 + table.columns.reduce((most, { classes }) => Math.max(most, ...classes), 0),
    );
  }

  /** Candidates that no test of the table tells apart, by their places in the table. */
  groups(among: readonly number[]): number[][] {
    const byKey = new Map<string, number[]>();
    for (const k of among) {
      const key = this.columns.map(({ classes }) => classes[k]!).join();
      const group = byKey.get(key);
      if (group) group.push(k);
      else byKey.set(key, [k]);
    }
    return [...byKey.values()];
  }

  /** The best next test among some candidates; null where nothing tells them apart. */
  next(among: readonly number[]): Next | null {
    const column = this.best(among);
    if (!column) return null;
    const splits = [...this.parts(column, among).values()].map((part) => part.length);
    return { test: column.test, splits: splits.sort((a, b) => b - a) };
  }

  private best(among: readonly number[]): Column | null {
    if (among.length < 2) return null;
    const { counts } = this;
    let best: Column | null = null;
    let least = Math.log2(among.length) - EVEN;
    for (const column of this.columns) {
      const { classes } = column;
      counts.fill(0);
      for (const k of among) counts[classes[k]!]! += 1;
      const bits = wanting(counts, among.length);
      if (bits >= least - EVEN) continue;
      least = bits;
      best = column;
    }
    return best;
  }

  private parts({ classes }: Column, among: readonly number[]): Map<number, number[]> {
    const parts = new Map<number, number[]>();
    for (const k of among) {
      const part = parts.get(classes[k]!);
      if (part) part.push(k);
      else parts.set(classes[k]!, [k]);
    }
    return parts;
  }

  /** Tests that a search by the best next one makes until nothing tells what is left apart, by candidate. */
  readings(): Int32Array {
    const needed = new Int32Array(this.table.candidates.length);
    const look = (among: readonly number[], made: number) => {
      const column = this.best(among);
      if (!column) {
        for (const k of among) needed[k] = made;
        return;
      }
      for (const part of this.parts(column, among).values()) look(part, made + 1);
    };
    look(
      this.table.candidates.map((_, k) => k),
      0,
    );
    return needed;
  }

  /** Bits by which a test would narrow some candidates, where the table has that test; null otherwise. */
  worth(test: Test, among: readonly number[]): number | null {
    const key = JSON.stringify(test);
    const column = this.columns.find((one) => JSON.stringify(one.test) === key);
    if (!column || among.length === 0) return null;
    const parts = [...this.parts(column, among).values()].map((part) => part.length);
    return Math.log2(among.length) - wanting(parts, among.length);
  }
}
