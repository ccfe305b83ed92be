/** Published tables by which starters are sized, each with its standard (all from memory). */

/** Full-load amperes of three-phase motors by horsepower at 460 V (NEC Table 430.250). */
const AMPS_AT_460: readonly (readonly [hp: number, amps: number])[] = [
  [1, 2.1],
  [1.5, 3],
  [2, 3.4],
  [3, 4.8],
  [5, 7.6],
  [7.5, 11],
  [10, 14],
  [15, 21],
  [20, 27],
  [25, 34],
  [30, 40],
  [40, 52],
  [50, 65],
];

/** At 208 V (NEC Table 430.250). */
const AMPS_AT_208: readonly (readonly [hp: number, amps: number])[] = [
  [1, 4.6],
  [1.5, 6.6],
  [2, 7.5],
  [3, 10.6],
  [5, 16.7],
  [7.5, 24.2],
  [10, 30.8],
  [15, 46.2],
  [20, 59.4],
  [25, 74.8],
  [30, 88],
  [40, 114],
  [50, 143],
];

/**
 * Full-load amperes of a motor by NEC Table 430.250 for its nominal voltage; null where the table has no
 * such motor. At 230 V it has twice the amperes of 460 V.
 */
export function necFullLoad(hp: number, volts: number): number | null {
  const isNear = (nominal: number) => Math.abs(volts - nominal) <= 0.06 * nominal;
  const row = (table: readonly (readonly [number, number])[]) =>
    table.find(([power]) => power === hp)?.[1] ?? null;
  if (isNear(460)) return row(AMPS_AT_460);
  if (isNear(208) && Math.abs(volts - 208) <= Math.abs(volts - 230)) return row(AMPS_AT_208);
  const amps = row(AMPS_AT_460);
  return isNear(230) && amps !== null ? 2 * amps : null;
}

export const NEC_HORSEPOWER = AMPS_AT_460.map(([hp]) => hp);

/** Standard ampere ratings of fuses and inverse-time breakers (NEC 240.6(A)). */
export const NEC_RATINGS = [
  15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250, 300, 350, 400,
] as const;

/** NEMA sizes of contactors and their continuous amperes (NEMA ICS 2). */
export const NEMA_SIZES: readonly (readonly [size: string, amps: number])[] = [
  ['00', 9],
  ['0', 18],
  ['1', 27],
  ['2', 45],
  ['3', 90],
  ['4', 135],
  ['5', 270],
];

/** Allowable amperes of copper conductors at 75 °C (NEC Table 310.16), with their area in mm². */
export const AWG: readonly (readonly [size: string, amps: number, area: number])[] = [
  ['14 AWG', 20, 2.08],
  ['12 AWG', 25, 3.31],
  ['10 AWG', 35, 5.26],
  ['8 AWG', 50, 8.37],
  ['6 AWG', 65, 13.3],
  ['4 AWG', 85, 21.1],
  ['3 AWG', 100, 26.7],
  ['2 AWG', 115, 33.6],
  ['1 AWG', 130, 42.4],
  ['1/0 AWG', 150, 53.5],
  ['2/0 AWG', 175, 67.4],
  ['3/0 AWG', 200, 85],
  ['4/0 AWG', 230, 107],
];

/**
 * Amperes of three loaded copper conductors, PVC, in conduit on a wall (IEC 60364-5-52 Table B.52.4, method
 * B2).
 */
export const MM2: readonly (readonly [area: number, amps: number])[] = [
  [1.5, 15],
  [2.5, 20],
  [4, 27],
  [6, 34],
  [10, 46],
  [16, 62],
  [25, 80],
  [35, 99],
  [50, 118],
  [70, 149],
  [95, 179],
];

/** Rated operational currents Ie of contactors in category AC-3 (common practice, no source). */
export const AC3_AMPS = [9, 12, 18, 25, 32, 40, 50, 65, 80, 95, 115, 150, 185, 225] as const;

/** Rated currents of fuse links (IEC 60269-1). */
export const GG_RATINGS = [
  2, 4, 6, 10, 16, 20, 25, 32, 35, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400,
] as const;

/** Locked-rotor kVA per horsepower by code letter (NEMA MG 1): the upper end of each range. */
export const CODE_LETTERS: readonly (readonly [letter: string, below: number])[] = [
  ['A', 3.15],
  ['B', 3.55],
  ['C', 4],
  ['D', 4.5],
  ['E', 5],
  ['F', 5.6],
  ['G', 6.3],
  ['H', 7.1],
  ['J', 8],
  ['K', 9],
  ['L', 10],
];

/** Usual ratings of control transformers, VA (common practice, no source). */
export const TRANSFORMER_VA = [
  25, 50, 63, 75, 100, 150, 160, 200, 250, 300, 400, 500, 630, 750, 1000, 1600,
] as const;
