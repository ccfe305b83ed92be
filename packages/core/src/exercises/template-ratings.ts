/** Ratings that fit a motor of any power: the plate of a four-pole motor, and what stands before it. */

/** Efficiency and power factor of a small four-pole motor (typical, from memory). */
const EFFICIENCY = 0.8;
const COS_PHI = 0.8;

/** Current in a line, amperes [A]. */
const amps = (kW: number, volts: number): number =>
  (kW * 1000) / (Math.sqrt(3) * volts * COS_PHI * EFFICIENCY);

const tenth = (value: number): number => Math.round(value * 10) / 10;

/** Ranges of overload relays, amperes: each joins the next (common practice, no source). */
const RANGES: readonly (readonly [number, number])[] = [
  [0.25, 0.4],
  [0.4, 0.63],
  [0.63, 1],
  [1, 1.6],
  [1.6, 2.5],
  [2.5, 4],
  [4, 6.3],
  [6, 10],
  [9, 14],
  [13, 18],
  [17, 25],
  [24, 40],
  [38, 65],
  [60, 100],
  [95, 160],
  [150, 250],
];

/** Rated currents of breakers, amperes (IEC 60898-1 and the usual ones above, from memory). */
const BREAKERS = [6, 10, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500];

/** The plate of a motor: rated at its lines’ voltage in its running connection. */
export function motorPlate(kW: number, volts: number, frequency: number, connection: 'star' | 'delta') {
  return {
    kW,
    voltage: volts,
    connection,
    frequency,
    speed: frequency === 60 ? 1740 : 1440,
    current: tenth(amps(kW, volts)),
    cosPhi: COS_PHI,
    startCurrentRatio: 6,
    startTorqueRatio: 2.2,
    breakdownTorqueRatio: 2.6,
    ...(frequency === 60 ? { serviceFactor: 1.15 } : {}),
  };
}

/** Range and dial of the relay that carries a motor’s current, or the current of one winding of its delta. */
export function overloadRange(
  kW: number,
  volts: number,
  { inWinding, isUs }: { readonly inWinding: boolean; readonly isUs: boolean },
): { readonly range: readonly [number, number]; readonly dial: number } {
  const line = tenth(amps(kW, volts));
  const carried = inWinding ? line / Math.sqrt(3) : line;
  const range = RANGES.find(([, most]) => carried <= most) ?? RANGES.at(-1)!;
  const dial = Math.min(range[1], Math.max(range[0], isUs ? carried : Math.round(carried * 100) / 100));
  return { range, dial: Math.round(dial * 100) / 100 };
}

/** Rated currents of aM fuse links, amperes (IEC 60269-2, from memory). */
const FUSES = [2, 4, 6, 10, 12, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400];

/**
 * An aM fuse that bears the start: the next above one and a quarter times the motor's current (common
 * practice, no source).
 */
export const fuseRating = (kW: number, volts: number): number =>
  FUSES.find((rating) => rating >= 1.25 * amps(kW, volts)) ?? FUSES.at(-1)!;

/** A breaker that lets the motor start: the next above two and a half times its current. */
export const breakerRating = (kW: number, volts: number): number =>
  BREAKERS.find((rating) => rating >= 2.5 * amps(kW, volts)) ?? BREAKERS.at(-1)!;
