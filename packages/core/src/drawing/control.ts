import type { TerminalRef } from '../bench/index.js';
import { Canvas, MEASURES, SYMBOL, type Place } from './canvas.js';
import type { DrawingForm } from './drawing.js';
import type { Netlist } from './nets.js';
import { isLoad, type Part } from './parts.js';
import type { Rails } from './rails.js';
import { reduce, type Block, type Branch, type Edge } from './series-parallel.js';

/** How far a rail reaches before its first path. */
const RAIL_LEAD = { iec: 48, us: 30 } as const;
/** A supply's terminal at the end of a rail. */
const RAIL_END = { iec: { along: 22, across: 34 }, us: { along: 34, across: 22 } } as const;

/** Rows by which a bar at an open end stays clear of the rail or bar that it does not belong to. */
const OPEN_INSET = 0.15;

/** Where the paths of the control circuit stand, across the sheet. */
export interface ControlSheet {
  readonly canvas: Canvas;
  readonly paths: readonly number[];
}

/** Draws the control circuit: paths between rails, branches side by side, contacts before loads. */
export function drawControl(
  parts: readonly Part[],
  supplies: readonly Part[],
  netlist: Netlist,
  rails: Rails,
  form: DrawingForm,
): ControlSheet {
  const canvas = new Canvas(form, netlist.netOf);
  const painter = new ControlPainter(canvas);
  let net = netlist.nets.length;
  const fresh = () => {
    net += 1;
    return net;
  };
  let column = 0;
  for (const component of componentsOf(edgesOf([...parts, ...supplies], netlist, rails, fresh))) {
    const { top, bottom } = rails.of(component);
    const isAtRail = ({ block, u }: Edge) =>
      block.kind === 'part' && block.part.symbol === 'supply' && (u === top || u === bottom);
    const ends = component.filter(
      (edge, k) => isAtRail(edge) && component.findIndex((one) => isAtRail(one) && one.u === edge.u) === k,
    );
    const branches = reduce(
      component.filter((edge) => !ends.includes(edge)),
      top,
      bottom,
      fresh,
    );
    column += painter.component(branches, ends, { top, bottom }, column) + (painter.needsGap ? 1 : 0);
  }
  return { canvas, paths: painter.paths };
}

/** Parts as edges between nets; a net that is a third supply is tapped, each time by an end of its own. */
function edgesOf(parts: readonly Part[], { netOf }: Netlist, rails: Rails, fresh: () => number): Edge[] {
  const edges = parts.map((part): Edge => {
    const [a, b] = part.ends;
    const u = netOf.get(a!)!;
    return { u, v: b === undefined ? fresh() : netOf.get(b)!, block: { kind: 'part', part, flipped: false } };
  });
  const tapped = rails.tapped(componentsOf(edges));
  return edges.map(({ u, v, block }) => ({
    u: tapped.has(u) ? fresh() : u,
    v: tapped.has(v) ? fresh() : v,
    block,
  }));
}

/** Edges that hang together, in order of their first. */
function componentsOf(edges: readonly Edge[]): Edge[][] {
  const group = new Map<number, Edge[]>();
  for (const edge of edges) {
    const joined = [...new Set([edge.u, edge.v].flatMap((net) => (group.has(net) ? [group.get(net)!] : [])))];
    const whole = [...joined.flat(), edge];
    for (const { u, v } of whole) {
      group.set(u, whole);
      group.set(v, whole);
    }
  }
  return [...new Set(group.values())];
}

/** Which ends of a block are joined to the net above and below it. */
interface Ends {
  readonly top: boolean;
  readonly bottom: boolean;
}

class ControlPainter {
  readonly paths: number[] = [];
  needsGap = false;
  private readonly row: number;
  private readonly pitch: number;

  constructor(private readonly canvas: Canvas) {
    ({ row: this.row, column: this.pitch } = MEASURES[canvas.form]);
  }

  private place(row: number, column: number): Place {
    return { along: row * this.row, across: column * this.pitch };
  }

  /** Draws what stands between two rails from a column on; how many columns it took. */
  component(
    branches: readonly Branch[],
    ends: readonly Edge[],
    { top, bottom }: { readonly top: number; readonly bottom: number | null },
    first: number,
  ): number {
    const rows = Math.max(1, ...branches.map(({ block }) => heightOf(block)));
    const joined = { top: [] as number[], bottom: [] as number[] };
    let column = first;
    for (const branch of branches) {
      if (branch.open !== 'top') joined.top.push(column);
      if (branch.open !== 'bottom') joined.bottom.push(column);
      this.branch(branch, column, 0, rows, { top, bottom: bottom ?? -1 }, { top: true, bottom: true });
      column += widthOf(branch.block);
    }
    this.rail(top, 0, joined.top, first, ends);
    if (bottom !== null) this.rail(bottom, rows, joined.bottom, first, ends);
    this.needsGap = true;
    return Math.max(column - first, 1);
  }

  private rail(
    net: number,
    row: number,
    joined: readonly number[],
    first: number,
    ends: readonly Edge[],
  ): void {
    const end = ends.find(({ u }) => u === net);
    if (joined.length === 0 && !end) return;
    const from = this.place(row, first);
    const start = { ...from, across: from.across - RAIL_LEAD[this.canvas.form] };
    this.canvas.line(net, start, this.place(row, Math.max(first, ...joined)));
    if (end?.block.kind !== 'part') return;
    const { part } = end.block;
    const size = RAIL_END[this.canvas.form];
    const box = { along: start.along - size.along / 2, across: start.across - size.across };
    this.canvas.symbol(part, box, size, [[part.ends[0]!, start]]);
  }

  /** Draws a branch; `ends` says whether the nets above and below its block are there at all. */
  private branch(
    { block, open }: Branch,
    column: number,
    from: number,
    to: number,
    nets: Between,
    ends: Ends,
  ): void {
    const top = open !== 'top' && ends.top;
    const bottom = open !== 'bottom' && ends.bottom;
    const height = heightOf(block);
    const [r0, r1] =
      open === 'bottom'
        ? [from, Math.min(from + height, to)]
        : open === 'top'
          ? [Math.max(to - height, from), to]
          : [from, to];
    const inset = (isJoined: boolean, end: 'top' | 'bottom') =>
      !isJoined && hasBar(block, end) ? OPEN_INSET : 0;
    this.block(block, column, r0 + inset(top, 'top'), r1 - inset(bottom, 'bottom'), { top, bottom }, nets);
  }

  private block(block: Block, column: number, from: number, to: number, ends: Ends, nets: Between): void {
    switch (block.kind) {
      case 'part':
        this.part(block, column, from, to, ends);
        return;
      case 'wire':
        this.canvas.line(nets.top, this.place(from, column), this.place(to, column));
        return;
      case 'series':
        this.series(block.of, column, from, to, ends, nets);
        return;
      case 'parallel':
        this.parallel(block.of, column, from, to, ends, nets);
    }
  }

  private series(
    of: readonly Block[],
    column: number,
    from: number,
    to: number,
    ends: Ends,
    nets: Between,
  ): void {
    const heights = of.map(heightOf);
    const slack = to - from - heights.reduce((sum, height) => sum + height, 0);
    const load = of.findIndex(holdsLoad);
    // What is short by the inset of an open end loses it there.
    const short = slack < 0 ? (ends.top ? of.length - 1 : 0) : -1;
    const stretched = short >= 0 ? short : load >= 0 ? load : ends.bottom ? of.length - 1 : -1;
    let row = ends.top || stretched >= 0 ? from : from + slack;
    of.forEach((block, k) => {
      const next = row + heights[k]! + (k === stretched ? slack : 0);
      const isFirst = k === 0;
      const isLast = k === of.length - 1;
      const inner = {
        top: isFirst ? nets.top : this.netAbove(block),
        bottom: isLast ? nets.bottom : this.netAbove(of[k + 1]!),
      };
      this.block(
        block,
        column,
        row,
        next,
        { top: isFirst ? ends.top : true, bottom: isLast ? ends.bottom : true },
        inner,
      );
      row = next;
    });
  }

  private parallel(
    of: readonly Branch[],
    column: number,
    from: number,
    to: number,
    ends: Ends,
    nets: Between,
  ): void {
    let next = column;
    const joined = { top: [] as number[], bottom: [] as number[] };
    const inner = {
      top: this.netOfBranches(of, 'top') ?? nets.top,
      bottom: this.netOfBranches(of, 'bottom') ?? nets.bottom,
    };
    // An end that leads nowhere is drawn only where branches meet in it.
    const meets = (end: 'top' | 'bottom') => ends[end] || of.filter(({ open }) => open !== end).length > 1;
    for (const branch of of) {
      if (branch.open !== 'top') joined.top.push(next);
      if (branch.open !== 'bottom') joined.bottom.push(next);
      this.branch(branch, next, from, to, inner, { top: meets('top'), bottom: meets('bottom') });
      next += widthOf(branch.block);
    }
    const bar = (net: number, row: number, columns: readonly number[], isEnd: boolean) => {
      if (columns.length > 1 || (isEnd && columns.some((one) => one > column)))
        this.canvas.line(
          net,
          this.place(row, isEnd ? column : Math.min(...columns)),
          this.place(row, Math.max(...columns)),
        );
    };
    bar(inner.top, from, joined.top, ends.top);
    bar(inner.bottom, to, joined.bottom, ends.bottom);
  }

  private part(
    { part, flipped }: Extract<Block, { kind: 'part' }>,
    column: number,
    from: number,
    to: number,
    ends: Ends,
  ): void {
    const { canvas } = this;
    const room = Math.min(1, to - from);
    const row = isLoad(part) || !ends.top ? to - room : from;
    const { along, across } = this.place(row, column);
    const upper = along + (room * this.row - SYMBOL.along) / 2;
    const [a, b] = flipped ? part.ends.toReversed() : part.ends;
    const isSingle = part.ends.length === 1;
    const size = isSingle ? { along: 16, across: 16 } : SYMBOL;
    const begin = isSingle && flipped ? upper + SYMBOL.along - size.along : upper;
    const top: Place = { along: begin, across };
    const low: Place = { along: begin + size.along, across };
    const upperEnd = isSingle && flipped ? undefined : a;
    const lowerEnd = isSingle ? (flipped ? a : undefined) : b;
    canvas.symbol(part, { along: begin, across: across - size.across / 2 }, size, [
      ...(upperEnd ? [[upperEnd, top] as const] : []),
      ...(lowerEnd ? [[lowerEnd, low] as const] : []),
    ]);
    if (upperEnd && ends.top) canvas.line(this.net(upperEnd), this.place(from, column), top);
    if (lowerEnd && ends.bottom) canvas.line(this.net(lowerEnd), low, this.place(to, column));
    const at = canvas.at({ along: 0, across })[canvas.form === 'iec' ? 0 : 1];
    if (!this.paths.includes(at)) this.paths.push(at);
  }

  private net(ref: TerminalRef): number {
    return this.canvas.netOf.get(ref)!;
  }

  /** The net at the upper end of a block. */
  private netAbove(block: Block): number {
    return this.endNet(block, 'top')!;
  }

  private endNet(block: Block, end: 'top' | 'bottom'): number | undefined {
    switch (block.kind) {
      case 'wire':
        return undefined;
      case 'part': {
        const ends = block.flipped ? block.part.ends.toReversed() : block.part.ends;
        const ref = end === 'top' ? ends[0] : ends[1];
        return ref === undefined ? undefined : this.net(ref);
      }
      case 'series':
        return this.endNet(end === 'top' ? block.of[0]! : block.of.at(-1)!, end);
      case 'parallel':
        return this.netOfBranches(block.of, end);
    }
  }

  private netOfBranches(of: readonly Branch[], end: 'top' | 'bottom'): number | undefined {
    for (const { block, open } of of) {
      const net = open === end ? undefined : this.endNet(block, end);
      if (net !== undefined) return net;
    }
    return undefined;
  }
}

/** The nets above and below a block. */
interface Between {
  readonly top: number;
  readonly bottom: number;
}

function widthOf(block: Block): number {
  switch (block.kind) {
    case 'part':
    case 'wire':
      return 1;
    case 'series':
      return Math.max(...block.of.map(widthOf));
    case 'parallel':
      return block.of.reduce((sum, branch) => sum + widthOf(branch.block), 0);
  }
}

function heightOf(block: Block): number {
  switch (block.kind) {
    case 'part':
      return 1;
    case 'wire':
      return 0;
    case 'series':
      return block.of.reduce((sum, one) => sum + heightOf(one), 0);
    case 'parallel':
      return Math.max(1, ...block.of.map((branch) => heightOf(branch.block)));
  }
}

/** True where branches are joined at an end of a block. */
function hasBar(block: Block, end: 'top' | 'bottom'): boolean {
  if (block.kind === 'series') return hasBar(end === 'top' ? block.of[0]! : block.of.at(-1)!, end);
  return block.kind === 'parallel' && block.of.filter(({ open }) => open !== end).length > 1;
}

function holdsLoad(block: Block): boolean {
  switch (block.kind) {
    case 'part':
      return isLoad(block.part);
    case 'wire':
      return false;
    case 'series':
      return block.of.some(holdsLoad);
    case 'parallel':
      return block.of.some((branch) => holdsLoad(branch.block));
  }
}
