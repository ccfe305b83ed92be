import {
  isController,
  isLimitSwitch,
  looksOf,
  anatomy,
  isSupply,
  type Anatomy,
  type ContactSpec,
  type Device,
} from '../catalogue/index.js';

/** A device's face in board millimetres, from its own upper left corner. */
export interface Footprint {
  readonly width: number;
  readonly height: number;
  readonly headX: number;
  readonly head: number;
  readonly terminals: readonly {
    readonly name: string;
    readonly x: number;
    readonly side: 'top' | 'bottom';
  }[];
  readonly columns: readonly ColumnPlace[];
}

/** From terminal to terminal; wider about what many leads meet in. */
const PITCH = 33;
const RAIL_PITCH = 46;
/** Cell with designation and handle; the same for all of one zone, so that poles stand under poles. */
const HEAD = 72;
const CONTROL_HEAD = 62;
const TAIL = 4;
/** How far outside its face a terminal stands: a lead leaves it without touching the face. */
export const TERMINAL_OUT = 3;

interface Build {
  readonly terminals: { name: string; x: number; side: 'top' | 'bottom' }[];
  readonly columns: ColumnPlace[];
  x: number;
}

/** Size of a device and the places of its terminals. */
export function footprintOf(device: Device): Footprint {
  const body = anatomy(device);
  const { mounting, height } = looksOf(device);
  // On the door, and of switches at the machine, the handle is on the right: the terminals face the panel.
  const isRight = mounting.zone === 'door' || isLimitSwitch(device);
  const head = isRight ? CONTROL_HEAD : HEAD;
  const build: Build = { terminals: [], columns: [], x: (isRight ? TAIL : HEAD) + PITCH / 2 };
  if (isController(device)) placeRows(build, body);
  else if (body.motor || isSupply(device) || body.terminals[0]?.role === 'joint') placeEnds(build, body);
  else placeColumns(build, body);
  const end = build.x - PITCH / 2 + TAIL;
  return {
    width: end + (isRight ? head : 0),
    height,
    headX: isRight ? end : 0,
    head,
    terminals: build.terminals,
    columns: build.columns,
  };
}

/**
 * Supplies open downwards, joints upwards; a motor's terminal box has its starts above and its finishes
 * below, PE beside them.
 */
function placeEnds(build: Build, { terminals, motor, sources }: Anatomy): void {
  const put = (name: string, side: 'top' | 'bottom') => {
    build.terminals.push({ name, x: build.x, side });
    build.x += PITCH;
  };
  if (sources.length > 0)
    for (const { name, role } of terminals) {
      if (role !== 'feed') build.x += RAIL_PITCH - PITCH;
      put(name, 'bottom');
    }
  else if (motor && terminals.length > 4) {
    const start = build.x;
    for (const { name } of terminals.slice(0, 3)) put(name, 'top');
    put('PE', 'top');
    // The finishes W2, U2, V2 under U1, V1, W1, as on a terminal board whose links make the delta (IEC
    // 60034-8, from memory).
    ['W2', 'U2', 'V2'].forEach((name, k) => {
      build.terminals.push({ name, x: start + k * PITCH, side: 'bottom' });
    });
  } else for (const { name } of terminals) put(name, 'top');
}

/** A controller has its supply and inputs above, its outputs with their commons below. */
function placeRows(build: Build, { terminals }: Anatomy): void {
  const start = build.x;
  const above = terminals.filter(({ role }) => role === 'coil');
  const below = terminals.filter(({ role }) => role !== 'coil');
  above.forEach(({ name }, k) => build.terminals.push({ name, x: start + k * PITCH, side: 'top' }));
  below.forEach(({ name }, k) => build.terminals.push({ name, x: start + k * PITCH, side: 'bottom' }));
  // The names of the last ones stand beside their terminals.
  build.x = start + (Math.max(above.length, below.length) + 0.5) * PITCH;
}

/** Terminals in columns: windings of a transformer, heaters, contacts, then what else a device has. */
function placeColumns(build: Build, body: Anatomy): void {
  if (body.transformer) {
    const { primary, secondary } = body.transformer;
    primary.forEach((name, k) => {
      build.terminals.push(
        { name, x: build.x, side: 'top' },
        { name: secondary[k]!, x: build.x, side: 'bottom' },
      );
      build.x += PITCH * 1.3;
    });
    build.x -= PITCH * 0.3;
  }
  for (const [a, b] of body.heaters) placePair(build, 'heater', a, b);
  placeContacts(build, body.contacts);
  for (const { a, b } of [...body.coils, ...body.sensors]) placePair(build, 'coil', a, b);
  for (const { a, b } of body.lamps) placePair(build, 'lamp', a, b);
  for (const { a, b } of body.impedances) placePair(build, 'resistor', a, b);
}

function placePair(build: Build, kind: ColumnPlace['kind'], a: string, b: string): void {
  build.terminals.push({ name: a, x: build.x, side: 'top' }, { name: b, x: build.x, side: 'bottom' });
  build.columns.push({ kind, x: build.x, topX: build.x });
  build.x += PITCH;
}

/**
 * Contacts in columns, left to right; a terminal that several contacts share stands once, above the middle
 * of them.
 */
function placeContacts(build: Build, contacts: readonly ContactSpec[]): void {
  const byCommon = new Map<string, ContactSpec[]>();
  for (const contact of contacts) byCommon.set(contact.a, [...(byCommon.get(contact.a) ?? []), contact]);
  for (const [common, group] of byCommon) {
    const middle = build.x + ((group.length - 1) * PITCH) / 2;
    build.terminals.push({ name: common, x: middle, side: 'top' });
    for (const contact of group) {
      build.terminals.push({ name: contact.b, x: build.x, side: 'bottom' });
      build.columns.push({ kind: 'contact', x: build.x, topX: middle, contact });
      build.x += PITCH;
    }
  }
}

/** What stands between the terminals of one column. */
export interface ColumnPlace {
  readonly kind: 'contact' | 'coil' | 'heater' | 'lamp' | 'resistor';
  readonly x: number;
  /** Top end of the symbol's line: differs from x where a common terminal serves two contacts. */
  readonly topX: number;
  readonly contact?: ContactSpec;
}
