import { iecTag, kindOf, usTag, type AnyDevice, type Device, type DeviceType } from '../catalogue/index.js';
import { terminalsOf, type Wire } from '../bench/index.js';
import { isExpectation, type Step } from '../simulation/index.js';
import { planBoard, type Zone } from '../layout/index.js';
import type { Behaviour, Exercise } from '../marking/index.js';
import { namesDevice, namesTerminal, renameDevice } from './rename.js';

/** Edits of an exercise's board as values: what is given stays as it is, and what comes out fits together. */

export type Habit = 'iec' | 'us';

/** The next free designation of a kind of device: its letters and the lowest number that no device has. */
export function nextTag(devices: readonly Pick<Device, 'tag'>[], type: DeviceType, habit: Habit): string {
  const letters = kindOf({ type }).letters[habit];
  const taken = new Set(devices.map(({ tag }) => tag));
  const tag = habit === 'us' ? usTag : iecTag;
  let n = 1;
  while (taken.has(tag(letters, n))) n += 1;
  return tag(letters, n);
}

/** A board with other devices. */
const withDevices = (exercise: Exercise, devices: readonly Device[]): Exercise => ({
  ...exercise,
  bench: { ...exercise.bench, devices },
});

/** Puts a device on the board, at a place of its rail or at the end of it. */
export function addDevice(exercise: Exercise, device: Device, place?: Place): Exercise {
  const { devices } = exercise.bench;
  if (devices.some(({ tag }) => tag === device.tag)) return exercise;
  const added = withDevices(exercise, [...devices, device]);
  // Where places are given already, a new device must have one too.
  const isPlaced = devices.some(({ at }) => at !== undefined);
  return place ? moveDevices(added, [device.tag], place) : isPlaced ? arranged(added) : added;
}

/** Takes devices away with their leads, and whatever of the exercise names them. */
export function removeDevices(exercise: Exercise, tags: readonly string[]): Exercise {
  const devices = exercise.bench.devices
    .filter(({ tag }) => !tags.includes(tag))
    .map((one) => unbound(one, tags));
  return withoutNamed(withDevices(exercise, devices), (value) => tags.some((tag) => namesDevice(value, tag)));
}

/**
 * An exercise without what names something that is gone: leads, interlocks, steps and expectations, faults,
 * tests.
 */
function withoutNamed(exercise: Exercise, gone: (value: unknown) => boolean): Exercise {
  const { bench, reference, laid, observe, behaviours, faults, sets, practice, deadTest, survive } = exercise;
  const stays = ({ from, to }: Wire): boolean => !gone(from) && !gone(to);
  const table = Array.isArray(practice?.deadTest) ? practice.deadTest.filter((row) => !gone(row)) : null;
  return {
    ...exercise,
    bench: {
      ...bench,
      wires: bench.wires.filter(stays),
      interlocks: bench.interlocks.filter((one) => !gone(one.between)),
    },
    reference: reference.filter(stays),
    ...(laid ? { laid: noneWhereEmpty(laid.filter(stays)) } : {}),
    observe: observe.filter((what) => !gone(what)),
    behaviours: behaviours.flatMap((one) => stillExpecting(one, gone)),
    faults: faults.filter(({ fault }) => !gone(fault)),
    ...(survive ? { survive: noneWhereEmpty(survive.filter(({ fault }) => !gone(fault))) } : {}),
    ...(practice
      ? { practice: { ...practice, ...(table ? { deadTest: table.length > 0 ? table : true } : {}) } }
      : {}),
    ...(deadTest ? { deadTest: noneWhereEmpty(deadTest.filter((row) => !gone(row))) } : {}),
    ...(sets ? { sets: sets.filter((set) => !gone(set.faults)) } : {}),
  };
}

const noneWhereEmpty = <T>(list: readonly T[]): readonly T[] | undefined =>
  list.length > 0 ? list : undefined;

/** A limit switch whose motor is gone is worked by hand. */
function unbound(device: Device, tags: readonly string[]): Device {
  if (device.type !== 'limit-switch' || !device.options.travel) return device;
  if (!tags.includes(device.options.travel.motor)) return device;
  return { ...device, options: { ...device.options, travel: undefined } };
}

/** A behaviour without what names a device that is gone; none where nothing is left that is expected. */
function stillExpecting(behaviour: Behaviour, gone: (value: unknown) => boolean): Behaviour[] {
  const steps = behaviour.steps.flatMap((step): Step[] => {
    if (!isExpectation(step)) return gone(step) ? [] : [step];
    const expect = Object.fromEntries(Object.entries(step.expect).filter(([what]) => !gone(what)));
    return Object.keys(expect).length > 0 ? [{ expect }] : [];
  });
  return steps.some(isExpectation) ? [{ ...behaviour, steps }] : [];
}

/**
 * A device built otherwise: leads on terminals that it has no longer are taken off, and what names these is
 * left out.
 */
export function replaceDevice(exercise: Exercise, device: Device): Exercise {
  const { devices } = exercise.bench;
  const before = devices.find(({ tag }) => tag === device.tag);
  if (!before) return exercise;
  const terminals = new Set(terminalsOf({ devices: [device] }));
  const gone = terminalsOf({ devices: [before] }).filter((ref) => !terminals.has(ref));
  const replaced = withDevices(
    exercise,
    devices.map((one) => (one.tag === device.tag ? device : one)),
  );
  return gone.length === 0 ? replaced : withoutNamed(replaced, (value) => namesTerminal(value, gone));
}

/** Gives a device another designation, everywhere; null where another device has it. */
export function retag(exercise: Exercise, from: string, to: string): Exercise | null {
  if (from === to) return exercise;
  if (exercise.bench.devices.some(({ tag }) => tag === to)) return null;
  return renameDevice(exercise, from, to);
}

/** Devices once more, each behind its original, without leads; with the designations that they get. */
export function copyDevices(
  exercise: Exercise,
  tags: readonly string[],
  habit: Habit,
): { readonly exercise: Exercise; readonly tags: readonly string[] } {
  const made: string[] = [];
  let { devices } = exercise.bench;
  for (const original of devices.filter(({ tag }) => tags.includes(tag))) {
    const tag = nextTag(devices, original.type, habit);
    const copy = { ...original, tag, at: undefined } as AnyDevice;
    const behind = devices.findIndex((one) => one.tag === original.tag) + 1;
    devices = devices.toSpliced(behind, 0, copy as Device);
    made.push(tag);
  }
  const isPlaced = exercise.bench.devices.some(({ at }) => at !== undefined);
  const copied = withDevices(exercise, devices);
  return { exercise: isPlaced ? arranged(copied) : copied, tags: made };
}

/** Designations anew by one habit, counted in the order of the board. */
export function renumber(exercise: Exercise, habit: Habit): Exercise {
  let next = exercise;
  const order = railsOf(exercise.bench.devices).flatMap(({ tags }) => tags);
  // First to names that nothing has, so that an exchange of two names needs no order.
  order.forEach((tag, k) => (next = renameDevice(next, tag, `\u0002${k}`)));
  const taken: { tag: string }[] = [];
  order.forEach((_, k) => {
    const device = next.bench.devices.find(({ tag }) => tag === `\u0002${k}`)!;
    const tag = nextTag(taken, device.type, habit);
    taken.push({ tag });
    next = renameDevice(next, device.tag, tag);
  });
  return next;
}

// ── places ──────────────────────────────────────────────────────────────────────────────────────

/** A rail of the panel, the door, or what stands out at the machine, with its devices in order. */
export interface Rail {
  readonly zone: Zone;
  readonly tags: readonly string[];
}

/** A place on a rail; a rail behind the last one of the panel begins a new one. */
export interface Place {
  readonly zone: Zone;
  /** Of the panel's rails from top to bottom; 0 elsewhere. */
  readonly rail: number;
  /** Before which of its devices. */
  readonly index: number;
}

/** Where the devices of a board stand now. */
export function railsOf(devices: readonly Device[]): Rail[] {
  const plan = planBoard({ devices });
  const inRow = (zone: Zone, row: number) =>
    plan.devices
      .filter((place) => place.zone === zone && place.row === row)
      .toSorted((a, b) => a.x - b.x)
      .map(({ device }) => device.tag);
  const rows = plan.rows.map((_, row) => row);
  const panel = rows.map((row) => inRow('panel', row)).filter((tags) => tags.length > 0);
  return [
    ...panel.map((tags): Rail => ({ zone: 'panel', tags })),
    { zone: 'door', tags: rows.flatMap((row) => inRow('door', row)) },
    { zone: 'field', tags: rows.flatMap((row) => inRow('field', row)) },
  ];
}

/** Where a device belongs by its kind. */
export const zoneOf = (device: Device): Zone => planBoard({ devices: [device] }).devices[0]?.zone ?? 'panel';

/**
 * The place nearest to a point of the board, for a device of a zone; below the last rail of the panel
 * stands a new one.
 */
export function placeAt(
  devices: readonly Device[],
  zone: Zone,
  { x, y }: { readonly x: number; readonly y: number },
): Place {
  const plan = planBoard({ devices });
  const own = plan.devices.filter((place) => place.zone === zone);
  const middle = (place: (typeof own)[number]) => ({
    x: place.x + place.width / 2,
    y: place.y + place.height / 2,
  });
  if (zone === 'panel') {
    const rows = [...new Set(own.map(({ row }) => row))].sort((a, b) => a - b);
    const rail = rows.findIndex((row) => y < plan.rows[row]!.bottom + NEAR);
    if (rail < 0) return { zone, rail: rows.length, index: 0 };
    const index = own.filter((place) => place.row === rows[rail] && middle(place).x < x).length;
    return { zone, rail, index };
  }
  const order = own.toSorted((a, b) => a.row - b.row || a.x - b.x);
  // In reading order: what lies on a row above, or to the left on the same row, comes before.
  const index = order.filter((place) => {
    const { top, bottom } = plan.rows[place.row]!;
    return bottom < y || (top - NEAR <= y && middle(place).x < x);
  }).length;
  return { zone, rail: 0, index };
}

/** How far below a rail a device may be let go to stand on it, board millimetres. */
const NEAR = 30;

/**
 * Room between places, board millimetres; only their order counts, and devices of one rail have one height.
 */
const STEP = 100;
const BELOW = 100 * STEP;

/** Devices with the places of some rails written down. */
function placedOn(devices: readonly Device[], rails: readonly Rail[]): Device[] {
  const at = new Map<string, readonly [number, number]>();
  rails.forEach(({ zone, tags }, rail) =>
    tags.forEach((tag, k) =>
      // The door is filled from its top: each of its devices stands below the one before it.
      at.set(tag, zone === 'panel' ? [k * STEP, rail * STEP] : [0, BELOW + rail * BELOW + k * STEP]),
    ),
  );
  return devices.map((device) => ({ ...device, at: at.get(device.tag) ?? [0, 0] }));
}

const arranged = (exercise: Exercise): Exercise => {
  // A device without a place would put every other one back to where its kind stands.
  const { devices } = exercise.bench;
  const placed = devices.filter(({ at }) => at !== undefined);
  const rails = railsOf(placed);
  const rest = railsOf(devices.filter(({ at }) => at === undefined));
  const panel = rails.filter(({ zone }) => zone === 'panel');
  const more = rest.filter(({ zone }) => zone === 'panel').flatMap(({ tags }) => tags);
  const last = panel.at(-1);
  const own = (zone: Zone) =>
    [...rails, ...rest].filter((rail) => rail.zone === zone).flatMap(({ tags }) => tags);
  return withDevices(
    exercise,
    placedOn(devices, [
      ...panel.slice(0, -1),
      { zone: 'panel', tags: [...(last?.tags ?? []), ...more] },
      { zone: 'door', tags: own('door') },
      { zone: 'field', tags: own('field') },
    ]),
  );
};

/**
 * Moves devices, in the order of the board, to a place; one that does not belong into the place's zone
 * stays where it is.
 */
export function moveDevices(
  exercise: Exercise,
  tags: readonly string[],
  { zone, rail, index }: Place,
): Exercise {
  const { devices } = exercise.bench;
  const rails = railsOf(devices);
  const zoneOf = new Map(rails.flatMap((one) => one.tags.map((tag) => [tag, one.zone] as const)));
  const moved = rails
    .flatMap((one) => one.tags)
    .filter((tag) => tags.includes(tag) && zoneOf.get(tag) === zone);
  if (moved.length === 0) return exercise;
  const panel = rails.filter((one) => one.zone === 'panel').length;
  const goal = zone === 'panel' ? Math.min(rail, panel) : rails.findIndex((one) => one.zone === zone);
  const opened: Rail[] =
    zone === 'panel' && goal === panel ? rails.toSpliced(panel, 0, { zone, tags: [] }) : rails;
  const next = opened.map((one, k): Rail => {
    const before = one.tags.slice(0, k === goal ? index : undefined).filter((tag) => !moved.includes(tag));
    if (k !== goal) return { ...one, tags: before };
    const behind = one.tags.slice(index).filter((tag) => !moved.includes(tag));
    return { ...one, tags: [...before, ...moved, ...behind] };
  });
  const kept = next.filter((one) => one.zone !== 'panel' || one.tags.length > 0);
  return withDevices(exercise, placedOn(devices, kept));
}

/** Moves devices by one place along their rail (−1, 1), or to the next rail (up −1, down 1). */
export function nudgeDevices(
  exercise: Exercise,
  tags: readonly string[],
  [along, across]: readonly [number, number],
): Exercise {
  const rails = railsOf(exercise.bench.devices);
  const first = tags[0];
  const rail = rails.findIndex((one) => first !== undefined && one.tags.includes(first));
  const from = rails[rail];
  if (!from || first === undefined) return exercise;
  const index = from.tags.indexOf(first);
  if (across !== 0) {
    const goal = rail + across;
    if (from.zone !== 'panel' || goal < 0) return exercise;
    return moveDevices(exercise, tags, { zone: 'panel', rail: goal, index });
  }
  const goal = along > 0 ? index + tags.length + along : index + along;
  if (goal < 0) return exercise;
  return moveDevices(exercise, tags, { zone: from.zone, rail, index: Math.min(goal, from.tags.length) });
}

/** Stands devices side by side on the rail of the first of them. */
export function alignDevices(exercise: Exercise, tags: readonly string[]): Exercise {
  const rails = railsOf(exercise.bench.devices);
  const rail = rails.findIndex((one) => tags[0] !== undefined && one.tags.includes(tags[0]));
  const goal = rails[rail];
  if (!goal) return exercise;
  const index = goal.tags.findIndex((tag) => tags.includes(tag));
  return moveDevices(exercise, tags, { zone: goal.zone, rail, index });
}

/** Devices put back to where their kinds stand by themselves. */
export const unplaced = (exercise: Exercise): Exercise =>
  withDevices(
    exercise,
    exercise.bench.devices.map((device): Device => ({ ...device, at: undefined })),
  );
