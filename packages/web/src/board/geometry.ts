import { anatomy, type Anatomy, type Bench, type ContactSpec, type Device } from '@contactum/core';
import { pictureOf } from './pictures/index.js';

/** Where everything of a board is drawn, in board millimetres. No drawing happens here. */

const COLUMN = 44;
const DEVICE_HEIGHT = 106;
const EDGE = 15;

export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface TerminalPlace extends Point {
  readonly ref: string;
  readonly name: string;
  /** A lead leaves upwards or downwards. */
  readonly side: 'top' | 'bottom';
}

/** What stands between the terminals of one column. */
export interface ColumnPlace {
  readonly kind: 'contact' | 'coil' | 'heater' | 'lamp' | 'resistor';
  readonly x: number;
  /** Top end of the symbol's line: differs from x where a common terminal serves two contacts. */
  readonly topX: number;
  readonly contact?: ContactSpec;
}

export interface DevicePlace {
  readonly device: Device;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Left edge and width of the cell with designation and handle. */
  readonly headX: number;
  readonly head: number;
  readonly terminals: readonly TerminalPlace[];
  readonly columns: readonly ColumnPlace[];
}

export interface BoardPlan {
  readonly width: number;
  readonly height: number;
  readonly devices: readonly DevicePlace[];
  readonly terminal: ReadonlyMap<string, TerminalPlace>;
}

/** Width of the cell with designation and handle; the same for all, so that poles stand under poles. */
const HEAD = 80;
/** Room to the right of the last column for its terminal names. */
const TAIL = 10;
interface Builder {
  terminals: { name: string; dx: number; side: 'top' | 'bottom' }[];
  columns: { kind: ColumnPlace['kind']; dx: number; topDx: number; contact?: ContactSpec }[];
  dx: number;
}

/** Contacts in columns, left to right; a terminal that several contacts share stands once, above the middle of them. */
function placeContacts(build: Builder, contacts: readonly ContactSpec[]): void {
  const byCommon = new Map<string, ContactSpec[]>();
  for (const contact of contacts) byCommon.set(contact.a, [...(byCommon.get(contact.a) ?? []), contact]);
  for (const [common, group] of byCommon) {
    const middle = build.dx + ((group.length - 1) * COLUMN) / 2;
    build.terminals.push({ name: common, dx: middle, side: 'top' });
    for (const contact of group) {
      build.terminals.push({ name: contact.b, dx: build.dx, side: 'bottom' });
      build.columns.push({ kind: 'contact', dx: build.dx, topDx: middle, contact });
      build.dx += COLUMN;
    }
  }
}

function placePair(build: Builder, kind: ColumnPlace['kind'], a: string, b: string): void {
  build.terminals.push({ name: a, dx: build.dx, side: 'top' }, { name: b, dx: build.dx, side: 'bottom' });
  build.columns.push({ kind, dx: build.dx, topDx: build.dx });
  build.dx += COLUMN;
}

function placeRow(build: Builder, names: readonly string[], side: 'top' | 'bottom'): void {
  for (const name of names) {
    build.terminals.push({ name, dx: build.dx, side });
    build.dx += COLUMN;
  }
}

/** Terminals in columns: windings of a transformer, heaters, contacts, then what else a device has. */
function placeColumns(build: Builder, body: Anatomy): void {
  if (body.transformer) {
    const { primary, secondary } = body.transformer;
    primary.forEach((name, k) => {
      const dx = build.dx + k * COLUMN;
      build.terminals.push({ name, dx, side: 'top' }, { name: secondary[k] ?? '', dx, side: 'bottom' });
    });
    build.dx += primary.length * COLUMN;
  }
  for (const [a, b] of body.links) placePair(build, 'heater', a, b);
  placeContacts(build, body.contacts);
  if (body.coil) placePair(build, 'coil', body.coil.a, body.coil.b);
  if (body.lamp) placePair(build, 'lamp', body.lamp.a, body.lamp.b);
  if (body.impedance) placePair(build, 'resistor', body.impedance.a, body.impedance.b);
}

/** Size of a device and the places of its terminals. */
function placeDevice(device: Device, x: number, y: number): DevicePlace {
  const body = anatomy(device);
  const { hand, terminals, height = DEVICE_HEIGHT } = pictureOf(device);
  const right = hand === 'right';
  const build: Builder = { terminals: [], columns: [], dx: (right ? 0 : HEAD) + COLUMN / 2 };
  if (terminals === 'columns') placeColumns(build, body);
  else
    placeRow(
      build,
      body.terminals.map(({ name }) => name),
      terminals === 'top row' ? 'top' : 'bottom',
    );
  const end = build.dx - COLUMN / 2 + TAIL;
  return {
    device,
    x,
    y,
    width: end + (right ? HEAD : 0),
    height,
    headX: right ? x + end : x,
    head: HEAD,
    terminals: build.terminals.map(({ name, dx, side }) => ({
      ref: `${device.tag}:${name}`,
      name,
      side,
      x: x + dx,
      y: y + (side === 'top' ? EDGE : height - EDGE),
    })),
    columns: build.columns.map(({ kind, dx, topDx, contact }) => ({
      kind,
      x: x + dx,
      topX: x + topDx,
      ...(contact ? { contact } : {}),
    })),
  };
}

const MARGIN = 12;
const LEAST_WIDTH = 980;
const LEAST_HEIGHT = 590;

/** Plans a board: devices where their document puts them, those without a place in rows below. */
export function planBoard(bench: Pick<Bench, 'devices'>): BoardPlan {
  const devices: DevicePlace[] = bench.devices
    .filter(({ at }) => at !== undefined)
    .map((device) => placeDevice(device, device.at?.[0] ?? 0, device.at?.[1] ?? 0));
  let x = 16;
  let y = Math.max(0, ...devices.map((place) => place.y + place.height)) + 16;
  let rowHeight = 0;
  for (const device of bench.devices.filter(({ at }) => at === undefined)) {
    let place = placeDevice(device, x, y);
    if (x + place.width > LEAST_WIDTH && x > 16) {
      x = 16;
      y += rowHeight + 20;
      rowHeight = 0;
      place = placeDevice(device, x, y);
    }
    devices.push(place);
    x += place.width + 24;
    rowHeight = Math.max(rowHeight, place.height);
  }
  const right = Math.max(0, ...devices.map((place) => place.x + place.width));
  const bottom = Math.max(0, ...devices.map((place) => place.y + place.height));
  return {
    width: Math.max(LEAST_WIDTH, right + MARGIN),
    height: Math.max(LEAST_HEIGHT, bottom + MARGIN),
    devices,
    terminal: new Map(
      devices.flatMap(({ terminals }) => terminals.map((terminal) => [terminal.ref, terminal] as const)),
    ),
  };
}

/** Board millimetres right of which controls stand. */
const CONTROLS_FROM = 560;

/** A hanging lead from one terminal to another (or to the pointer), as an SVG path. Leads of one terminal fan out by their order. */
export function leadPath(
  from: Point & { side?: 'top' | 'bottom' },
  to: Point & { side?: 'top' | 'bottom' },
  order = 0,
): string {
  const distance = Math.hypot(to.x - from.x, to.y - from.y);
  const reach = Math.min(26 + distance * 0.28, 130) + (order % 4) * 7;
  const out = (point: { side?: 'top' | 'bottom' }) =>
    point.side === 'top' ? -1 : point.side === 'bottom' ? 1 : 0;
  // Two terminals on the same side of two devices: the lead arcs over; opposite sides: it hangs between.
  const lean = Math.max(-1, Math.min(1, (to.x - from.x) / 220)) * (8 + (order % 3) * 5);
  // A long lead down the board swings out, clear of the devices that it passes: to the right beside the
  // power circuit, to the left beside the controls, whose buttons stand on their right.
  const down = Math.abs(to.y - from.y);
  const aside = Math.min(from.x, to.x) > CONTROLS_FROM ? -1 : 1;
  const swing =
    down > 100 && Math.abs(to.x - from.x) < 190 ? aside * (Math.min(down * 0.5, 118) + (order % 4) * 7) : 0;
  const c1 = { x: from.x + lean + swing, y: from.y + out(from) * reach * 0.6 };
  const c2 = { x: to.x - lean + swing, y: to.y + out(to) * reach * 0.6 };
  const n = (value: number) => value.toFixed(1);
  return `M${n(from.x)} ${n(from.y)}C${n(c1.x)} ${n(c1.y)} ${n(c2.x)} ${n(c2.y)} ${n(to.x)} ${n(to.y)}`;
}

/** The terminal nearest to a point within reach; null where none is. */
export function terminalNear(plan: BoardPlan, point: Point, reach: number): TerminalPlace | null {
  let best: TerminalPlace | null = null;
  let bestDistance = reach;
  for (const terminal of plan.terminal.values()) {
    const distance = Math.hypot(terminal.x - point.x, terminal.y - point.y);
    if (distance <= bestDistance) {
      best = terminal;
      bestDistance = distance;
    }
  }
  return best;
}

/** The next terminal from one in a direction of the arrow keys: the nearest inside a right-angled cone. */
export function terminalTowards(plan: BoardPlan, ref: string, dx: number, dy: number): string {
  const here = plan.terminal.get(ref);
  if (!here) return plan.terminal.keys().next().value ?? ref;
  let best = ref;
  let bestCost = Number.POSITIVE_INFINITY;
  for (const other of plan.terminal.values()) {
    if (other.ref === ref) continue;
    const along = (other.x - here.x) * dx + (other.y - here.y) * dy;
    const across = Math.abs((other.x - here.x) * dy) + Math.abs((other.y - here.y) * dx);
    if (along <= 0.5 || across > along * 1.5) continue;
    const cost = along + across * 2;
    if (cost < bestCost) {
      best = other.ref;
      bestCost = cost;
    }
  }
  return best;
}
