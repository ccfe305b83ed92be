import type { Bench, DrawingDocument } from '@contactum/core';

/**
 * Reads a drawing back by its geometry alone, in the plainest way: what it says electrically, and what is
 * wrong with it as a drawing. It shares no code with what draws.
 */

type At = readonly [number, number];
interface Segment {
  readonly a: At;
  readonly b: At;
}

const EPS = 1e-6;
const near = (p: number, q: number) => Math.abs(p - q) < EPS;
const between = (v: number, p: number, q: number) => v >= Math.min(p, q) - EPS && v <= Math.max(p, q) + EPS;
const on = ([x, y]: At, { a, b }: Segment) =>
  near(a[0], b[0]) ? near(x, a[0]) && between(y, a[1], b[1]) : near(y, a[1]) && between(x, a[0], b[0]);

class Sets {
  private readonly parent = new Map<string, string>();
  find(key: string): string {
    const up = this.parent.get(key);
    if (up === undefined) {
      this.parent.set(key, key);
      return key;
    }
    return up === key ? key : this.find(up);
  }
  join(a: string, b: string): void {
    this.parent.set(this.find(a), this.find(b));
  }
}

const segmentsOf = (sheet: DrawingDocument['sheets'][number]): Segment[] =>
  sheet.lines.flatMap(({ points }) => points.slice(1).map((b, k) => ({ a: points[k]!, b })));

/** Groups of terminals that the drawing joins, and every terminal that it shows. */
function readDrawing(drawing: DrawingDocument): { sets: Sets; shown: Set<string> } {
  const sets = new Sets();
  const shown = new Set<string>();
  drawing.sheets.forEach((sheet, s) => {
    const segments = segmentsOf(sheet);
    const name = (k: number) => `line ${s} ${k}`;
    segments.forEach((one, k) =>
      segments.forEach((other, m) => {
        if (k !== m && [other.a, other.b].some((end) => on(end, one))) sets.join(name(k), name(m));
      }),
    );
    for (const dot of sheet.dots) {
      const through = segments.flatMap((one, k) => (on(dot, one) ? [name(k)] : []));
      for (const other of through) sets.join(through[0]!, other);
    }
    const terminals: { ref: string; at: At }[] = [];
    for (const { device, terminals: own } of sheet.symbols)
      for (const [terminal, at] of Object.entries(own)) {
        const ref = `${device}:${terminal}`;
        shown.add(ref);
        terminals.push({ ref, at });
        segments.forEach((one, k) => {
          if (on(at, one)) sets.join(ref, name(k));
        });
      }
    for (const { name: link, at } of sheet.links) {
      const lines = segments.flatMap((one, k) => (on(at, one) ? [name(k)] : []));
      const touching = terminals.filter((one) => near(one.at[0], at[0]) && near(one.at[1], at[1]));
      for (const key of [...lines, ...touching.map(({ ref }) => ref)]) sets.join(`link ${link}`, key);
      if (lines.length + touching.length === 0) throw new Error(`link ${link} lies on nothing`);
    }
  });
  return { sets, shown };
}

/** Where a drawing says other than the wires of a bench. */
export function falsehoods(bench: Bench, drawing: DrawingDocument): string[] {
  const { sets, shown } = readDrawing(drawing);
  const wires = new Sets();
  for (const { from, to } of bench.wires) wires.join(from, to);
  for (const { tag, type, options } of bench.devices)
    if (type === 'busbar') for (let k = 2; k <= options.count; k += 1) wires.join(`${tag}:1`, `${tag}:${k}`);
  const wired = [...new Set(bench.wires.flatMap(({ from, to }) => [from, to]))];
  const missing = wired.filter((ref) => !shown.has(ref)).map((ref) => `${ref} is not shown`);
  // Whoever is joined in one way must be joined in the other: compare the groups.
  const all = [...new Set([...wired, ...shown])];
  const groups = (of: Sets) => {
    const byRoot = new Map<string, string[]>();
    for (const ref of all) byRoot.set(of.find(ref), [...(byRoot.get(of.find(ref)) ?? []), ref]);
    return new Set([...byRoot.values()].map((group) => group.toSorted().join(' ')));
  };
  const [drawn, real] = [groups(sets), groups(wires)];
  return [
    ...missing,
    ...[...real].filter((group) => !drawn.has(group)).map((group) => `not drawn as joined: ${group}`),
    ...[...drawn].filter((group) => !real.has(group)).map((group) => `drawn as joined: ${group}`),
  ];
}

/** What is wrong with a drawing as a drawing. */
export function blemishes(drawing: DrawingDocument): string[] {
  const found: string[] = [];
  for (const sheet of drawing.sheets) {
    const segments = segmentsOf(sheet);
    const text = ({ a, b }: Segment) => `${sheet.circuit} ${a.join(',')} to ${b.join(',')}`;
    segments.forEach((one, k) => {
      if (!near(one.a[0], one.b[0]) && !near(one.a[1], one.b[1])) found.push(`askew: ${text(one)}`);
      for (const other of segments.slice(k + 1))
        if (lieOnOneAnother(one, other)) found.push(`lies on another: ${text(one)}`);
      for (const { device, part, box, terminals } of sheet.symbols) {
        const [x, y, w, h] = box;
        const lo = [
          Math.max(Math.min(one.a[0], one.b[0]), x),
          Math.max(Math.min(one.a[1], one.b[1]), y),
        ] as const;
        const hi = [
          Math.min(Math.max(one.a[0], one.b[0]), x + w),
          Math.min(Math.max(one.a[1], one.b[1]), y + h),
        ] as const;
        if (lo[0] > hi[0] + EPS || lo[1] > hi[1] + EPS) continue;
        const isPoint = near(lo[0], hi[0]) && near(lo[1], hi[1]);
        if (!isPoint || !Object.values(terminals).some((at) => near(at[0], lo[0]) && near(at[1], lo[1])))
          found.push(`passes ${device} ${part}: ${text(one)}`);
      }
    });
    sheet.symbols.forEach(({ device, part, box: [x, y, w, h] }, k) => {
      for (const {
        device: d2,
        part: p2,
        box: [x2, y2, w2, h2],
      } of sheet.symbols.slice(k + 1))
        if (x < x2 + w2 - EPS && x2 < x + w - EPS && y < y2 + h2 - EPS && y2 < y + h - EPS)
          found.push(`${device} ${part} lies on ${d2} ${p2}`);
      const [width, height] = sheet.size;
      if (x < 0 || y < 0 || x + w > width || y + h > height) found.push(`${device} ${part} is off its sheet`);
    });
  }
  return found;
}

function lieOnOneAnother(one: Segment, other: Segment): boolean {
  for (const [axis, cross] of [
    [0, 1],
    [1, 0],
  ] as const)
    if (
      near(one.a[axis], one.b[axis]) &&
      near(other.a[axis], other.b[axis]) &&
      near(one.a[axis], other.a[axis])
    ) {
      const from = Math.max(Math.min(one.a[cross], one.b[cross]), Math.min(other.a[cross], other.b[cross]));
      const to = Math.min(Math.max(one.a[cross], one.b[cross]), Math.max(other.a[cross], other.b[cross]));
      if (to > from + EPS) return true;
    }
  return false;
}

/** Crossings without a dot on one sheet. */
export function crossingsOf(sheet: DrawingDocument['sheets'][number]): number {
  const segments = segmentsOf(sheet);
  let count = 0;
  segments.forEach((one, k) => {
    for (const other of segments.slice(k + 1)) {
      const [v, h] = near(one.a[0], one.b[0]) ? [one, other] : [other, one];
      if (!near(v.a[0], v.b[0]) || !near(h.a[1], h.b[1])) continue;
      const at: At = [v.a[0], h.a[1]];
      const isInside =
        at[0] > Math.min(h.a[0], h.b[0]) + EPS &&
        at[0] < Math.max(h.a[0], h.b[0]) - EPS &&
        at[1] > Math.min(v.a[1], v.b[1]) + EPS &&
        at[1] < Math.max(v.a[1], v.b[1]) - EPS;
      if (isInside && !sheet.dots.some((dot) => near(dot[0], at[0]) && near(dot[1], at[1]))) count += 1;
    }
  });
  return count;
}
