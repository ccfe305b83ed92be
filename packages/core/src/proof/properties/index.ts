/** The safety properties of the format: one entry each, with its title, when it applies, what tests it and how it is judged. */
import { coilVoltage, noChatter } from './coils.js';
import { earthBonded, fullPhases } from './motors.js';
import { noRace } from './no-race.js';
import { noSelfStart } from './no-self-start.js';
import { noShort } from './no-short.js';
import type { PropertyRule } from './property.js';
import { estopHolds, overloadDrops, stopDrops } from './stops.js';

export { findShort } from './no-short.js';
export { judgeStart, mayNotStart } from './no-self-start.js';
export type { PropertyRule, Running } from './property.js';

const PROPERTIES = {
  'no-short': noShort,
  'stop-drops': stopDrops,
  'estop-holds': estopHolds,
  'overload-drops': overloadDrops,
  'no-self-start': noSelfStart,
  'coil-voltage': coilVoltage,
  'no-chatter': noChatter,
  'no-race': noRace,
  'earth-bonded': earthBonded,
  'full-phases': fullPhases,
} as const satisfies Readonly<Record<string, PropertyRule>>;

export type PropertyId = keyof typeof PROPERTIES;
export const PROPERTY_IDS = Object.keys(PROPERTIES) as PropertyId[];

/** Title of a safety property. */
export const propertyTitle = (id: PropertyId): string => PROPERTIES[id].title;

/** The table's entry, seen without its own type. */
export const propertyRule = (id: PropertyId): PropertyRule => PROPERTIES[id];
