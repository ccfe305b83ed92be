import type { Bench, TerminalRef } from '../bench/index.js';
import { anatomy, isSupply } from '../catalogue/index.js';
import { Canvas, SYMBOL, type Place } from './canvas.js';
import type { DrawingForm } from './drawing.js';
import type { Netlist } from './nets.js';
import type { PowerPart } from './parts.js';
import { tracksOf, type Run } from './tracks.js';

/** Drawing units: from pole to pole, between devices, from track to track, and about a channel. */
const POLE = 44;
const GAP = 62;
const TRACK = 14;
const CHANNEL_EDGE = 18;
/** Two lines of different nets are at least this far apart. */
const CLEAR = 9;
/** Room for a designation before a device, and for terminal numbers behind it. */
const ROOM = { before: 44, behind: 20 } as const;

/** Parts of one device that stand side by side in a row. */
interface Group {
  readonly parts: readonly PowerPart[];
  readonly width: number;
  left: number;
}

/** A place at which a net meets a channel. */
interface Pin {
  readonly net: number;
  readonly across: number;
  readonly side: 'up' | 'down';
}

/**
 * Draws the power circuit: rows of devices in the order in which they are fed, nets in the channels
 * between.
 */
export function drawPower(
  bench: Bench,
  parts: readonly PowerPart[],
  netlist: Netlist,
  form: DrawingForm,
): Canvas {
  const canvas = new Canvas(form, netlist.netOf);
  const layout = new PowerLayout(netlist);
  const rows = layout.place(rowsOf(bench, parts, netlist));
  const channels = layout.channels(rows);
  paint(canvas, rows, channels, netlist);
  return canvas;
}

const refsOf = (part: PowerPart): TerminalRef[] =>
  part.columns.flatMap(({ top, bottom }) => [top, bottom].filter((ref) => ref !== undefined));

/** Devices by how many others lie between them and the supply. */
function rowsOf(bench: Bench, parts: readonly PowerPart[], { netOf, wired }: Netlist): Group[][] {
  const byDevice = new Map<string, PowerPart[]>();
  for (const part of parts) byDevice.set(part.device.tag, [...(byDevice.get(part.device.tag) ?? []), part]);
  const feeding = new Map<string, number[]>();
  const passive = passiveNets(bench, netOf);
  for (const [tag, own] of byDevice)
    feeding.set(
      tag,
      own
        .flatMap(refsOf)
        .flatMap((ref) => (wired.has(ref) && !passive.has(netOf.get(ref)!) ? [netOf.get(ref)!] : [])),
    );
  const row = new Map<string, number>();
  const supplies = [...byDevice.keys()].filter((tag) => isSupply(byDevice.get(tag)![0]!.device));
  for (const tag of supplies) row.set(tag, 0);
  let reached = new Set(supplies.flatMap((tag) => feeding.get(tag)!));
  for (let depth = 1; row.size < byDevice.size; depth += 1) {
    const next = [...byDevice.keys()].filter(
      (tag) => !row.has(tag) && feeding.get(tag)!.some((net) => reached.has(net)),
    );
    const group = next.length > 0 ? next : [...byDevice.keys()].filter((tag) => !row.has(tag)).slice(0, 1);
    for (const tag of group) row.set(tag, depth);
    reached = new Set([...reached, ...group.flatMap((tag) => feeding.get(tag)!)]);
  }
  const count = Math.max(0, ...row.values()) + 1;
  return Array.from({ length: count }, (_, k) =>
    [...byDevice].filter(([tag]) => row.get(tag) === k).flatMap(([, own]) => groupsOf(own)),
  );
}

/** Nets of neutrals, earths and DC minus: they lead back, not on. */
function passiveNets(bench: Bench, netOf: ReadonlyMap<TerminalRef, number>): ReadonlySet<number> {
  return new Set(
    bench.devices.filter(isSupply).flatMap((device) =>
      anatomy(device)
        .terminals.filter(({ role }) => role !== 'feed')
        .map(({ name }) => netOf.get(`${device.tag}:${name}`)!),
    ),
  );
}

const groupsOf = (parts: readonly PowerPart[]): Group[] => [
  { parts, width: (parts.flatMap(({ columns }) => columns).length - 1) * POLE, left: 0 },
];

class PowerLayout {
  constructor(private readonly netlist: Netlist) {}

  private net(ref: TerminalRef | undefined): number | undefined {
    return ref !== undefined && this.netlist.wired.has(ref) ? this.netlist.netOf.get(ref) : undefined;
  }

  /** Pins of a row towards the channel below it or above it. */
  private pins(row: readonly Group[], end: 'top' | 'bottom'): Pin[] {
    return row.flatMap(({ parts, left }) =>
      parts
        .flatMap(({ columns }) => columns)
        .flatMap((column, k) => {
          const net = this.net(column[end]);
          return net === undefined
            ? []
            : [{ net, across: left + k * POLE, side: end === 'top' ? ('down' as const) : ('up' as const) }];
        }),
    );
  }

  /** Puts every row's devices below what feeds them. */
  place(rows: Group[][]): readonly (readonly Group[])[] {
    const above: Pin[] = [];
    rows.forEach((row, k) => {
      const facing = k === 0 ? [] : this.pins(rows[k - 1]!, 'bottom');
      const wishes = row.map((group, n) => ({ group, n, wish: this.wish(group, above, facing) }));
      let edge = ROOM.before;
      for (const { group, wish } of wishes.toSorted((a, b) => a.wish - b.wish || a.n - b.n)) {
        group.left = this.free(group, Math.max(edge, wish), facing);
        edge = group.left + group.width + GAP;
      }
      above.push(...this.pins(row, 'bottom'), ...this.pins(row, 'top'));
    });
    return rows;
  }

  /** Where a group would stand straight below what it is joined to: the commonest offset. */
  private wish(group: Group, above: readonly Pin[], facing: readonly Pin[]): number {
    const columns = group.parts.flatMap(({ columns: own }) => own);
    for (const pins of [facing, above]) {
      const votes = new Map<number, number>();
      columns.forEach(({ top, bottom }, k) => {
        for (const ref of [top, bottom])
          for (const { net, across } of pins)
            if (net === this.net(ref)) {
              const left = across - k * POLE;
              votes.set(left, (votes.get(left) ?? 0) + 1);
            }
      });
      const [best] = [...votes].toSorted((a, b) => b[1] - a[1] || a[0] - b[0]);
      if (best) return best[0];
    }
    return 0;
  }

  /** The first place from a wished one on where no terminal faces one of another net. */
  private free(group: Group, from: number, facing: readonly Pin[]): number {
    for (let left = from; ; left += POLE / 4) {
      const own = this.pins([{ ...group, left }], 'top');
      const clashes = own.some(({ net, across }) =>
        facing.some((pin) => pin.net !== net && Math.abs(pin.across - across) < CLEAR),
      );
      if (!clashes) return left;
    }
  }

  /** Pins of every channel, one below each row, with the nets that pass rows on their way. */
  channels(rows: readonly (readonly Group[])[]): Pin[][] {
    const channels = rows.map((row, k) => [
      ...this.pins(row, 'bottom'),
      ...this.pins(rows[k + 1] ?? [], 'top'),
    ]);
    // A row's own pins above it are in the channel before; the first row has none.
    const reach = new Map<number, { first: number; last: number }>();
    channels.forEach((pins, k) => {
      for (const { net } of pins) {
        const known = reach.get(net);
        reach.set(net, { first: known?.first ?? k, last: k });
      }
    });
    for (let k = 1; k < rows.length; k += 1)
      for (const [net, { first, last }] of reach)
        if (first < k && last >= k) this.pass(net, rows[k]!, channels[k - 1]!, channels[k]!);
    return channels;
  }

  /** Leads a net past a row, as near as may be to where it comes from or goes to. */
  private pass(net: number, row: readonly Group[], above: Pin[], below: Pin[]): void {
    const wishes = [...above, ...below].filter((pin) => pin.net === net).map(({ across }) => across);
    const isFree = (across: number) =>
      row.every(({ left, width }) => across < left - ROOM.before || across > left + width + ROOM.behind) &&
      [...above, ...below].every((pin) => pin.net === net || Math.abs(pin.across - across) >= CLEAR);
    const middle = wishes[0] ?? 0;
    let best = wishes.find(isFree);
    for (let step = 0; best === undefined; step += 1)
      best = [middle + step * (CLEAR + 2), middle - step * (CLEAR + 2)].find(
        (across) => across >= 0 && isFree(across),
      );
    above.push({ net, across: best, side: 'down' });
    below.push({ net, across: best, side: 'up' });
  }
}

/** Lengths of the rows' boxes along the current. */
const depthOf = (row: readonly Group[]): number =>
  Math.max(...row.flatMap(({ parts }) => parts.map(depth)), SYMBOL.along);
const depth = ({ symbol }: PowerPart): number =>
  symbol.startsWith('motor') ? 76 : symbol === 'transformer' ? 56 : symbol === 'supply' ? 22 : SYMBOL.along;

function paint(
  canvas: Canvas,
  rows: readonly (readonly Group[])[],
  channels: readonly (readonly Pin[])[],
  netlist: Netlist,
): void {
  let along = 0;
  rows.forEach((row, k) => {
    const deep = depthOf(row);
    const end = along + deep;
    for (const group of row) paintGroup(canvas, group, along, end, netlist);
    const pins = channels[k]!;
    for (const { net, across } of channels[k - 1] ?? [])
      if (
        pins.some((pin) => pin.net === net && pin.across === across && pin.side === 'up') &&
        !isTerminal(row, across)
      )
        canvas.line(net, { along, across }, { along: end, across });
    along = end + paintChannel(canvas, pins, end);
  });
}

const isTerminal = (row: readonly Group[], across: number): boolean =>
  row.some(({ left, width }) => across >= left && across <= left + width);

/** The nets of a channel; how deep it is. */
function paintChannel(canvas: Canvas, pins: readonly Pin[], along: number): number {
  const byNet = new Map<number, Pin[]>();
  for (const pin of pins) byNet.set(pin.net, [...(byNet.get(pin.net) ?? []), pin]);
  const bars = [...byNet].flatMap(([net, own]) => {
    const places = own.map(({ across }) => across);
    const run: Run = {
      from: Math.min(...places),
      to: Math.max(...places),
      up: own.filter(({ side }) => side === 'up').map(({ across }) => across),
      down: own.filter(({ side }) => side === 'down').map(({ across }) => across),
    };
    return [{ net, own, run }];
  });
  const wide = bars.filter(({ run }) => run.from < run.to);
  const tracks = tracksOf(
    wide.map(({ run }) => run),
    CLEAR,
  );
  const deep = 2 * CHANNEL_EDGE + Math.max(0, Math.max(0, ...tracks.map((track) => track + 1)) - 1) * TRACK;
  wide.forEach(({ net, own, run }, k) => {
    const at = along + CHANNEL_EDGE + tracks[k]! * TRACK;
    canvas.line(net, { along: at, across: run.from }, { along: at, across: run.to });
    for (const { across, side } of own)
      canvas.line(net, { along: side === 'up' ? along : along + deep, across }, { along: at, across });
  });
  for (const { net, own, run } of bars)
    if (run.from === run.to && own.length > 1)
      canvas.line(net, { along, across: run.from }, { along: along + deep, across: run.from });
  return deep;
}

function paintGroup(
  canvas: Canvas,
  { parts, left }: Group,
  from: number,
  to: number,
  { wired, netOf }: Netlist,
): void {
  let column = 0;
  for (const part of parts) {
    const across = left + column * POLE;
    const count = part.columns.length;
    const isWide = count > 1;
    const long = depth(part);
    // Stands at the upper edge of its row; what is joined below it is led there.
    const box: Place = {
      along: part.symbol === 'supply' ? to - long : from,
      across: across - (isWide ? 20 : 12),
    };
    const size = { along: long, across: isWide ? (count - 1) * POLE + 40 : 24 };
    const terminals = part.columns.flatMap(({ top, bottom }, k) => {
      const at = across + k * POLE;
      return [
        ...(top ? [[top, { along: box.along, across: at }] as const] : []),
        ...(bottom ? [[bottom, { along: box.along + long, across: at }] as const] : []),
      ];
    });
    canvas.symbol(part, box, size, terminals);
    part.columns.forEach(({ bottom }, k) => {
      const end = box.along + long;
      if (bottom && wired.has(bottom) && end < to)
        canvas.line(
          netOf.get(bottom)!,
          { along: end, across: across + k * POLE },
          { along: to, across: across + k * POLE },
        );
    });
    column += count;
  }
}
