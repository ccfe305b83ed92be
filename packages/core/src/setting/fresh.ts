import {
  anatomy,
  isMotor,
  isThreePhaseSupply,
  kindOf,
  type CoilRating,
  type Device,
  type DeviceType,
  type Field,
  type Fields,
  type Surroundings,
} from '../catalogue/index.js';

/** Devices as they come from the shelf: built so that they fit what is on the board already. */

interface Board {
  readonly devices: readonly Device[];
}

/**
 * What the coils and lamps of a board are made for: those that are there, else what its first supply gives.
 */
function controlVoltage({ devices }: Board): CoilRating {
  const bodies = devices.map(anatomy);
  const known = bodies.flatMap(({ coils }) => coils)[0];
  if (known) return { voltage: known.voltage, kind: known.kind };
  const transformer = bodies.flatMap((body) => body.transformer ?? [])[0];
  if (transformer) return { voltage: transformer.secondaryVoltage, kind: 'ac' };
  const sources = bodies.flatMap((body) => body.sources);
  const dc = sources.find(({ frequency }) => frequency === 0);
  if (dc) return { voltage: dc.volts, kind: 'dc' };
  return { voltage: sources[0] ? Math.round(sources[0].volts / 10) * 10 : 230, kind: 'ac' };
}

/** Volts between the lines of a board, and its frequency. */
function linesOf({ devices }: Board): { volts: number; frequency: number } {
  const supply = devices.find(isThreePhaseSupply);
  const source = supply && anatomy(supply).sources[0];
  return source
    ? { volts: Math.round(source.volts * Math.sqrt(3) * 1e6) / 1e6, frequency: source.frequency }
    : { volts: 400, frequency: 50 };
}

/** What a board is built for. */
function surroundings(board: Board): Surroundings {
  const motor = board.devices.find(isMotor);
  const amps = motor ? anatomy(motor).motor?.plate.current : undefined;
  return {
    control: controlVoltage(board),
    lines: linesOf(board),
    motor: motor && amps !== undefined ? { tag: motor.tag, amps } : null,
  };
}

/** What a field is where nobody says it; undefined where it may be left out or follows from others. */
function standard({ shape, default: given, leftOut }: Field): unknown {
  if (given !== undefined) return given;
  if (leftOut !== undefined) return undefined;
  if (shape.kind === 'group') return standards(shape.fields);
  return undefined;
}

const standards = (fields: Fields, given: object = {}): object =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([key, field]) => {
      const own = (given as Readonly<Record<string, unknown>>)[key];
      const isGroup = field.shape.kind === 'group' && typeof own === 'object' && own !== null;
      const inner = isGroup ? standards((field.shape as { fields: Fields }).fields, own) : own;
      const value = inner ?? standard(field);
      return value === undefined ? [] : [[key, value]];
    }),
  );

/** A device of a kind for a board, complete. */
export function freshDevice(type: DeviceType, tag: string, board: Board): Device {
  const kind = kindOf({ type });
  const options = standards(kind.options, kind.fresh?.(surroundings(board))) as Device['options'];
  const settings = standards(kind.settings) as Device['settings'];
  return completed({ tag, type, options, settings } as Device);
}

/** A device with what follows from its other values filled in. */
export function completed(device: Device): Device {
  const patch = kindOf(device).complete?.(device.options, device.settings);
  return {
    ...device,
    options: { ...device.options, ...patch?.options },
    settings: { ...device.settings, ...patch?.settings },
  } as Device;
}
