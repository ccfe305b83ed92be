import type { Bench } from '../bench/index.js';
import { isMotor, type Device } from '../catalogue/index.js';
import { shuffled } from '../random/index.js';
import { remade } from '../remade.js';
import type { Random } from './names.js';

/** What a board is rated by that may be another value and asks for the same wiring. */
export interface Ratings {
  /** Volts that stand in place of others. */
  readonly volts: ReadonlyMap<number, number>;
  /** Motor current, and with it each dial, by this much. */
  readonly current: number;
}

/** What a board is rated by already. */
export const SAME: Ratings = { volts: new Map(), current: 1 };

/** European low-voltage systems: between lines, and from line to neutral (IEC 60038, from memory). */
const SYSTEMS: readonly (readonly [number, number])[] = [
  [380, 220],
  [400, 230],
  [415, 240],
];

/** Options that hold volts. */
const VOLTS = new Set(['lineVoltage', 'voltage', 'primaryVoltage', 'secondaryVoltage']);

/** Motors of one power differ by some per cent in the current on their plates. */
const CURRENTS = [0.9, 0.93, 0.96, 1.04, 1.07, 1.1];

const isRange = (value: unknown): value is readonly [number, number] =>
  Array.isArray(value) && value.length === 2;

/** Other ratings for a board: every dial stays within the range of its relay. */
export function otherRatings({ devices }: Bench, random: Random): Ratings {
  const line = devices.map(({ options }) => (options as { lineVoltage?: number }).lineVoltage);
  const system = SYSTEMS.find(([between]) => line.includes(between));
  const [next] = shuffled(SYSTEMS, random);
  const volts = new Map(system ? system.map((volt, k): [number, number] => [volt, next![k]!]) : []);
  const power = system ? system[0] / next![0] : 1;
  const current = shuffled(CURRENTS, random)
    .map((factor) => factor * power)
    .find((factor) =>
      devices.every(({ options, settings }) => {
        const { range } = options as { range?: unknown };
        const { dial } = settings as { dial?: number };
        if (!isRange(range) || dial === undefined) return true;
        return scaled(dial, factor) >= range[0] && scaled(dial, factor) <= range[1];
      }),
    );
  return { volts, current: devices.some(isMotor) ? (current ?? 1) : 1 };
}

/** To a tenth of an ampere, as plates and dials are written; small ones to a hundredth. */
const scaled = (amps: number, factor: number): number => {
  const places = amps < 2 ? 100 : 10;
  return Math.round(amps * factor * places) / places;
};

/** Volts within options, whatever they belong to. */
const otherVolts = <T>(options: T, volts: Ratings['volts']): T =>
  remade(options, {
    leaf: (one, key) => (VOLTS.has(key) ? (volts.get(Number(one)) ?? one) : one),
  });

/** A device of the same kind for other volts, with another plate or another dial. */
export function ratedDevice(device: Device, { volts, current }: Ratings): Device {
  const options = otherVolts(device.options as { plate?: { current: number } }, volts);
  const { dial } = device.settings as { dial?: number };
  return {
    ...device,
    options: options.plate
      ? { ...options, plate: { ...options.plate, current: scaled(options.plate.current, current) } }
      : options,
    settings: dial === undefined ? device.settings : { ...device.settings, dial: scaled(dial, current) },
  } as Device;
}

/** True of what a dial is set to, in a device, a fault or a step. */
const isDial = (key: string, parent: object): boolean =>
  key === 'dial' || (key === 'to' && 'set' in parent && String(parent.set).endsWith('.dial'));

/** What a document says of dials, and the volts that people read. */
export const ratedWords = <T>(value: T, { volts, current }: Ratings): T =>
  remade(value, {
    leaf: (one, key, parent) =>
      typeof one === 'number'
        ? isDial(key, parent)
          ? scaled(one, current)
          : one
        : one.replace(/\b(\d+)(?= V\b)/g, (text) => String(volts.get(Number(text)) ?? text)),
  });
