import {
  anatomy,
  isSupply,
  kindOf,
  type Device,
  type DeviceType,
  type Field,
  type Fields,
} from '../catalogue/index.js';

/** Devices as they come from the shelf: built so that they fit what is on the board already. */

interface Board {
  readonly devices: readonly Device[];
}

/**
 * What the coils and lamps of a board are made for: those that are there, else what its first supply gives.
 */
function controlVoltage({ devices }: Board): { voltage: number; kind: 'ac' | 'dc' } {
  const known = devices.flatMap((device) => anatomy(device).coil ?? [])[0];
  if (known) return { voltage: known.voltage, kind: known.kind };
  const transformer = devices.find(({ type }) => type === 'transformer');
  if (transformer?.type === 'transformer')
    return { voltage: transformer.options.secondaryVoltage, kind: 'ac' };
  const dc = devices.find(({ type }) => type === 'supply-dc');
  if (dc?.type === 'supply-dc') return { voltage: dc.options.voltage, kind: 'dc' };
  const source = devices.filter(isSupply).flatMap((device) => anatomy(device).sources)[0];
  return { voltage: source ? Math.round(source.volts / 10) * 10 : 230, kind: 'ac' };
}

/** Volts between the lines of a board, and its frequency. */
function lines({ devices }: Board): { volts: number; frequency: number } {
  const supply = devices.find(({ type }) => type === 'supply-3n');
  return supply?.type === 'supply-3n'
    ? { volts: supply.options.lineVoltage, frequency: supply.options.frequency }
    : { volts: 400, frequency: 50 };
}

/** Options that no field can give by itself. */
const BUILT: Readonly<Partial<Record<DeviceType, (board: Board) => object>>> = {
  contactor: (board) => ({ coil: controlVoltage(board), aux: ['NO 13-14', 'NC 21-22'] }),
  relay: (board) => ({ coil: controlVoltage(board), contacts: ['NO 13-14', 'NC 21-22'] }),
  timer: (board) => ({ coil: controlVoltage(board) }),
  'star-delta-timer': (board) => ({ coil: controlVoltage(board) }),
  brake: (board) => ({
    coil: controlVoltage(board),
    motor: board.devices.find((device) => anatomy(device).motor)?.tag ?? 'M1',
  }),
  lamp: (board) => ({ ...controlVoltage(board), colour: 'white' }),
  buzzer: (board) => controlVoltage(board),
  overload: (board) => {
    const amps = board.devices.flatMap((device) => anatomy(device).motor?.plate.current ?? [])[0] ?? 3.4;
    return { range: [round(amps * 0.75), round(amps * 1.2)] };
  },
  selector: () => ({
    positions: ['off', 'on'],
    contacts: [{ terminals: '13-14', closedIn: ['on'] }],
  }),
  transformer: (board) => ({ primaryVoltage: lines(board).volts }),
  'motor-3': (board) => {
    const { volts, frequency } = lines(board);
    const current = round(1500 / (Math.sqrt(3) * volts * 0.8 * 0.8));
    const speed = frequency === 60 ? 1740 : 1420;
    return { leads: 3, plate: { kW: 1.5, voltage: volts, connection: 'star', frequency, speed, current } };
  },
  'motor-1': (board) => {
    const { frequency } = lines(board);
    const speed = frequency === 60 ? 1725 : 1400;
    return { plate: { kW: 0.75, voltage: 230, frequency, speed, current: 5 } };
  },
};

const round = (value: number): number => Math.round(value * 10) / 10;

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
  const options = standards(kind.options, BUILT[type]?.(board)) as Device['options'];
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
