import type { DeviceType } from '../catalogue/index.js';
import type { Interlock } from '../bench/index.js';

/** A device as a document has it: what is left out is completed when it is read. */
export interface DeviceEntry {
  readonly tag: string;
  readonly type: DeviceType;
  readonly duty?: string;
  readonly at?: readonly [number, number];
  readonly options?: Readonly<Record<string, unknown>>;
  readonly settings?: Readonly<Record<string, unknown>>;
}

/** A board that several exercises are wired on. */
export interface Board {
  readonly title: string;
  readonly devices: readonly DeviceEntry[];
  readonly interlocks?: readonly Interlock[];
}

/** What an exercise or a form alters on a board. */
export interface Change {
  readonly title?: string;
  readonly interlocks?: readonly Interlock[];
  /** Taken away. */
  readonly without?: readonly string[];
  /** By designation: what is other on a device that is there; options and settings are altered one by one. */
  readonly alter?: Readonly<Record<string, Partial<DeviceEntry>>>;
  /** Put in before the device that is named, or at the end. */
  readonly add?: readonly { readonly before?: string; readonly device: DeviceEntry }[];
}

/** A board with a change; throws where the change names a device that is not there. */
export function changed(board: Board, change: Change): Board {
  const { title = board.title, without = [], alter = {}, add = [] } = change;
  const tags = new Set(board.devices.map(({ tag }) => tag));
  const missing = [...without, ...Object.keys(alter), ...add.flatMap(({ before }) => before ?? [])].find(
    (tag) => !tags.has(tag),
  );
  if (missing !== undefined) throw new Error(`"${board.title}" has no ${missing} to change`);
  const devices = board.devices
    .filter(({ tag }) => !without.includes(tag))
    .map((device) => altered(device, alter[device.tag]));
  for (const { before, device } of add) {
    const place = before === undefined ? devices.length : devices.findIndex(({ tag }) => tag === before);
    devices.splice(place, 0, device);
  }
  const interlocks = change.interlocks ?? board.interlocks;
  return { title, devices, ...(interlocks ? { interlocks } : {}) };
}

/** A device with what is other on it. One of another type brings all its own options. */
function altered(device: DeviceEntry, other: Partial<DeviceEntry> | undefined): DeviceEntry {
  if (!other) return device;
  if (other.type !== undefined && other.type !== device.type) return { ...device, ...other };
  return {
    ...device,
    ...other,
    ...(other.options ? { options: { ...device.options, ...other.options } } : {}),
    ...(other.settings ? { settings: { ...device.settings, ...other.settings } } : {}),
  };
}
