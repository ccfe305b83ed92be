import { looksOf, type Device, type Mounting } from '../catalogue/index.js';
import type { Footprint } from './footprint.js';
import { BOARD_EDGE, DEVICE_GAP, HINGE } from './measures.js';

export type Zone = Mounting['zone'];

interface Item {
  readonly device: Device;
  readonly footprint: Footprint;
}

interface PlacedItem extends Item {
  readonly zone: Zone;
  readonly x: number;
}

export interface ArrangedRow {
  readonly items: readonly PlacedItem[];
}

const zoneOf = (device: Device): Zone => looksOf(device).mounting.zone;

const railOf = (device: Device): number => {
  const { mounting } = looksOf(device);
  return mounting.zone === 'panel' ? mounting.rail : LAST_RAIL;
};
const LAST_RAIL = 4;

/** A rail takes this much before another is begun. */
const RAIL_WIDTH = 660;
/** Most that a door takes side by side. */
const DOOR_COLUMNS = 3;
/** A small board's door has as many rows as this before a second column is begun. */
const DOOR_ROWS = 3;
const SAME_RAIL = 60;

/** Devices in rows: by their own places where all have one (`at`), else by what they are. */
export function arrange(items: readonly Item[]): ArrangedRow[] {
  const of = (zone: Zone) => items.filter(({ device }) => zoneOf(device) === zone);
  const isPlaced = items.length > 0 && items.every(({ device }) => device.at !== undefined);
  const panel = isPlaced ? byPlace(of('panel')) : byKind(of('panel'));
  const field = isPlaced ? byPlace(of('field')).flat() : of('field');
  const rows = [...panel, ...(field.length > 0 ? wrapped(field) : [])];
  const doorRows = Math.max(rows.length, Math.min(of('door').length, DOOR_ROWS));
  const door = doorGrid(inDoorOrder(of('door'), isPlaced), doorRows);
  while (rows.length < door.length) rows.push([]);
  const laid = rows.map((row) => sideBySide(row, BOARD_EDGE));
  const edge = Math.max(0, ...laid.flat().map(({ x, footprint }) => x + footprint.width));
  let left = edge > 0 ? edge + HINGE : BOARD_EDGE;
  const columns = Math.max(0, ...door.map((row) => row.length));
  const onDoor: PlacedItem[][] = rows.map(() => []);
  for (let column = 0; column < columns; column += 1) {
    const own = door.map((row) => row[column]);
    const width = Math.max(0, ...own.map((item) => item?.footprint.width ?? 0));
    own.forEach((item, row) => {
      if (item) onDoor[row]!.push({ ...item, zone: 'door', x: left + width - item.footprint.width });
    });
    left += width + DEVICE_GAP;
  }
  return rows.flatMap((_, row) => {
    const own = [...laid[row]!, ...onDoor[row]!];
    return own.length > 0 ? [{ items: own }] : [];
  });
}

function sideBySide(row: readonly Item[], from: number): PlacedItem[] {
  let x = from;
  return row.map((item) => {
    const place = { ...item, zone: zoneOf(item.device), x };
    x += item.footprint.width + DEVICE_GAP;
    return place;
  });
}

const widthOf = (row: readonly Item[]): number =>
  row.reduce((sum, { footprint }) => sum + footprint.width + DEVICE_GAP, -DEVICE_GAP);

function wrapped(items: readonly Item[]): Item[][] {
  const rows: Item[][] = [];
  for (const item of items) {
    const last = rows.at(-1);
    if (last && widthOf([...last, item]) <= RAIL_WIDTH) last.push(item);
    else rows.push([item]);
  }
  return rows;
}

/** Rails by what devices are; contactors that find no room on theirs stand behind the overload relays. */
function byKind(items: readonly Item[]): Item[][] {
  const rails = Array.from({ length: LAST_RAIL + 1 }, (_, rail) =>
    wrapped(items.filter(({ device }) => railOf(device) === rail)),
  );
  const [contactors, overloads] = [rails[2]!, rails[3]!];
  const left = contactors.at(-1);
  const under = overloads.at(-1);
  if (left && under && contactors.length > 1 && widthOf([...under, ...left]) <= RAIL_WIDTH) {
    under.push(...left);
    contactors.pop();
  }
  return rails.flat();
}

/** Rails by the places that devices were given: those of about one height stand on one. */
function byPlace(items: readonly Item[]): Item[][] {
  const rows: Item[][] = [];
  const at = ({ device }: Item, axis: 0 | 1): number => device.at?.[axis] ?? 0;
  for (const item of items.toSorted((a, b) => at(a, 1) - at(b, 1))) {
    const last = rows.at(-1);
    if (last && at(item, 1) - at(last[0]!, 1) < SAME_RAIL) last.push(item);
    else rows.push([item]);
  }
  return rows.map((row) => row.toSorted((a, b) => at(a, 0) - at(b, 0)));
}

const orderOf = ({ device }: Item): number => {
  const { mounting } = looksOf(device);
  return mounting.zone === 'door' ? mounting.order : 0;
};

function inDoorOrder(items: readonly Item[], isPlaced: boolean): Item[] {
  if (isPlaced) return byPlace(items).flat();
  return items.toSorted((a, b) => orderOf(a) - orderOf(b));
}

/** Rows of the door, as many as the panel has while that is enough. */
function doorGrid(items: readonly Item[], rows: number): Item[][] {
  const columns = Math.min(DOOR_COLUMNS, Math.ceil(items.length / rows));
  const grid: Item[][] = [];
  // One to a row begins below the supply, where the hand finds it.
  const spare = columns === 1 && items.length < rows ? 1 : 0;
  for (let k = 0; k < spare; k += 1) grid.push([]);
  for (let k = 0; k < items.length; k += columns) grid.push(items.slice(k, k + columns));
  return grid;
}
