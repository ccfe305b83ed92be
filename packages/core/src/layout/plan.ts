import { BOARD_EDGE } from './measures.js';
import type { ColumnPlace } from './footprint.js';
import type { Bench } from '../bench/index.js';
import type { Device } from '../catalogue/index.js';
import { footprintOf, TERMINAL_OUT, type Footprint } from './footprint.js';
import { arrange, type Zone } from './rows.js';

/** Where everything of a board is drawn, in board millimetres. */

export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface TerminalPoint extends Point {
  readonly ref: string;
  readonly name: string;
  /** A lead leaves upwards or downwards. */
  readonly side: 'top' | 'bottom';
}

export interface DevicePlace {
  readonly device: Device;
  readonly zone: Zone;
  /** Of the rows from top to bottom. */
  readonly row: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Left edge and width of the cell with designation and handle. */
  readonly headX: number;
  readonly head: number;
  readonly terminals: readonly TerminalPoint[];
  readonly columns: readonly ColumnPlace[];
}

export interface Box extends Point {
  readonly width: number;
  readonly height: number;
}

/** A row of devices, and the duct above it; one more duct lies below the last row. */
export interface Row {
  /** Left edges and widths of what stands in it, from left to right. */
  readonly taken: readonly (readonly [left: number, right: number])[];
  /** Upper and lower edge. */
  readonly top: number;
  readonly bottom: number;
}

export interface BoardPlan {
  readonly width: number;
  readonly height: number;
  readonly devices: readonly DevicePlace[];
  readonly terminal: ReadonlyMap<string, TerminalPoint>;
  readonly rows: readonly Row[];
  /** Upper edge, depth and number of tracks of every duct: above each row, and below the last. */
  readonly ducts: readonly Duct[];
  /** Panel, door, and where the motors stand; what is there. */
  readonly areas: readonly (Box & { readonly zone: Zone })[];
}

export interface Duct {
  readonly top: number;
  readonly depth: number;
  readonly tracks: number;
}

export const LEAD_PITCH = 5.5;
export const DUCT_EDGE = 15;
/** Tracks that a duct has from the first, by the terminals that open into it. */
const tracksFor = (terminals: number): number => Math.min(11, Math.max(2, Math.round(0.3 * terminals)));

/** Plans a board; `tracks` are those that its ducts must have at the least. */
export function planBoard(bench: Pick<Bench, 'devices'>, tracks: readonly number[] = []): BoardPlan {
  const rows = arrange(bench.devices.map((device) => ({ device, footprint: footprintOf(device) })));
  const opening = rows.map(({ items }) => ({
    top: count(items, 'top'),
    bottom: count(items, 'bottom'),
    height: Math.max(...items.map(({ footprint }) => footprint.height)),
  }));
  const ducts: Duct[] = [];
  const bands: { top: number; bottom: number }[] = [];
  let y = BOARD_EDGE / 3;
  for (let k = 0; k <= rows.length; k += 1) {
    const wanted = tracksFor((opening[k - 1]?.bottom ?? 0) + (opening[k]?.top ?? 0));
    const isOuter = k === 0 || k === rows.length;
    const own = Math.max(isOuter && wanted <= 2 ? 1 : wanted, tracks[k] ?? 0);
    const depth = 2 * DUCT_EDGE + (own - 1) * LEAD_PITCH;
    ducts.push({ top: y, depth, tracks: own });
    y += depth;
    const band = opening[k];
    if (band) {
      bands.push({ top: y, bottom: y + band.height });
      y += band.height;
    }
  }
  const devices = rows.flatMap(({ items }, row) =>
    items.map(({ device, footprint, x, zone }) => {
      const { top, bottom } = bands[row]!;
      return placed(device, footprint, { x, y: top + (bottom - top - footprint.height) / 2 }, zone, row);
    }),
  );
  const right = Math.max(0, ...devices.map((place) => place.x + place.width));
  return {
    width: right + BOARD_EDGE,
    height: y + BOARD_EDGE / 3,
    devices,
    terminal: new Map(
      devices.flatMap(({ terminals }) => terminals.map((terminal) => [terminal.ref, terminal] as const)),
    ),
    rows: rows.map(({ items }, k) => ({
      ...bands[k]!,
      taken: items
        .map(({ x, footprint }): readonly [number, number] => [x, x + footprint.width])
        .toSorted((a, b) => a[0] - b[0]),
    })),
    ducts,
    areas: areasOf(devices, ducts, bands),
  };
}

const count = (items: readonly { readonly footprint: Footprint }[], side: 'top' | 'bottom'): number =>
  items.reduce(
    (sum, { footprint }) => sum + footprint.terminals.filter((one) => one.side === side).length,
    0,
  );

function placed(device: Device, footprint: Footprint, { x, y }: Point, zone: Zone, row: number): DevicePlace {
  const { width, height, headX, head, terminals, columns } = footprint;
  return {
    device,
    zone,
    row,
    x,
    y,
    width,
    height,
    headX: x + headX,
    head,
    terminals: terminals.map(({ name, x: dx, side }) => ({
      ref: `${device.tag}:${name}`,
      name,
      side,
      x: x + dx,
      y: side === 'top' ? y - TERMINAL_OUT : y + height + TERMINAL_OUT,
    })),
    columns: columns.map(({ x: dx, topX, ...column }) => ({ ...column, x: x + dx, topX: x + topX })),
  };
}

/** About what stands in a zone, with the ducts that serve it. */
function areasOf(
  devices: readonly DevicePlace[],
  ducts: readonly Duct[],
  bands: readonly { readonly top: number; readonly bottom: number }[],
): BoardPlan['areas'] {
  return (['panel', 'door', 'field'] as const).flatMap((zone) => {
    const own = devices.filter((place) => place.zone === zone);
    if (own.length === 0) return [];
    const rows = own.map(({ row }) => row);
    const [first, last] = [Math.min(...rows), Math.max(...rows)];
    const left = Math.min(...own.map(({ x }) => x));
    const right = Math.max(...own.map(({ x, width }) => x + width));
    const above = ducts[first]!;
    const below = ducts[last + 1]!;
    const top = first === 0 ? above.top : bands[first]!.top - DUCT_EDGE * 0.7;
    const bottom =
      last === bands.length - 1 ? below.top + below.depth : bands[last]!.bottom + DUCT_EDGE * 0.7;
    return [{ zone, x: left - 14, y: top, width: right - left + 28, height: bottom - top }];
  });
}
