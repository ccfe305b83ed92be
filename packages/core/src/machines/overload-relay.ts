import { OVERLOAD_ULTIMATE } from '../tolerances.js';

/**
 * Thermal overload relay as one heat store a pole. Heat is per unit of ultimate trip: it tends to
 * (I / (1.13 dial))² with one time constant, and the relay trips at 1. Cold trip time at 7.2 times the
 * dial is set inside the band of IEC 60947-4-1 table 2 (from memory): class 10A 2–10 s, 10 4–10 s,
 * 20 6–20 s, 30 9–30 s.
 */
const COLD_TRIP_AT_7_2 = { '10A': 5, '10': 7, '20': 13, '30': 20 } as const;

export type TripClass = keyof typeof COLD_TRIP_AT_7_2;

/** Heat to which a steady current tends. */
function ultimateHeat(amps: number, dial: number): number {
  return (amps / (OVERLOAD_ULTIMATE * dial)) ** 2;
}

/** Time constant of the heaters, seconds. */
export function heaterTimeConstant(tripClass: TripClass): number {
  const target = ultimateHeat(7.2, 1);
  return COLD_TRIP_AT_7_2[tripClass] / Math.log(target / (target - 1));
}

/** Heat after `seconds` at a steady current. */
export function heatAfter(
  heat: number,
  amps: number,
  dial: number,
  tripClass: TripClass,
  seconds: number,
): number {
  const target = ultimateHeat(amps, dial);
  return target + (heat - target) * Math.exp(-seconds / heaterTimeConstant(tripClass));
}

/** Seconds until a heater reaches trip at a steady current; Infinity where it never does. */
export function secondsToTrip(heat: number, amps: number, dial: number, tripClass: TripClass): number {
  if (heat >= 1) return 0;
  const target = ultimateHeat(amps, dial);
  if (target <= 1) return Number.POSITIVE_INFINITY;
  return heaterTimeConstant(tripClass) * Math.log((target - heat) / (target - 1));
}
