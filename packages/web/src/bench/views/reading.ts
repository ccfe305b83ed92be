import type { MeterReading, MeterRequest } from '@contactum/core';
import type { Probe } from '../store.js';

/** Probes of an instrument, in the order in which they are laid. */
export const PROBES: Readonly<Record<MeterRequest['mode'], readonly Probe[]>> = {
  volts: ['red', 'black'],
  ohms: ['red', 'black'],
  amps: [],
  sequence: ['red', 'black', 'blue'],
};

/** A reading as the instrument shows it, with its unit. */
export function shownReading(reading: MeterReading): string {
  if ('refused' in reading) return `Refused: ${reading.refused}.`;
  if ('sequence' in reading)
    return {
      forward: 'L1 L2 L3: clockwise',
      reverse: 'L1 L3 L2: counter-clockwise',
      none: 'a line is missing',
    }[reading.sequence];
  const { value, unit, kind } = reading;
  if (unit === 'Ω')
    return Number.isFinite(value)
      ? `${Number(value.toPrecision(3))} Ω${value < 2 ? ', continuous' : ''}`
      : 'no connection';
  return `${Number(value.toPrecision(4))} ${unit}${kind === null ? '' : ` ${kind.toUpperCase()}`}`;
}
