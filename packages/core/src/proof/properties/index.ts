/**
 * The safety properties of the format: one entry each, with its title, when it applies, what tests it and
 * how it is judged.
 */
import { coilVoltage, noChatter } from './coils.js';
import { deadAtRest } from './dead-at-rest.js';
import { earthCarriesNothing } from './earth-carries-nothing.js';
import { isolates } from './isolates.js';
import { earthBonded, fullPhases } from './motors.js';
import { noRace } from './no-race.js';
import { noSelfStart } from './no-self-start.js';
import { noShort } from './no-short.js';
import { overloadInLine } from './overload-in-line.js';
import type { PropertyId } from './ids.js';
import type { PropertyRule } from './property.js';
import { separateSecondary } from './separate-secondary.js';
import { estopHolds, overloadDrops, stopDrops } from './stops.js';

export { DANGER } from './property.js';
export { findShort } from './no-short.js';
export { judgeStart, startsNothing } from './no-self-start.js';
export { mechanismsBetween } from './by-contacts.js';
export { lacksLines } from './motors.js';
export type { Lead, PropertyRule } from './property.js';

const PROPERTIES: Readonly<Record<PropertyId, PropertyRule>> = {
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
  'dead-at-rest': deadAtRest,
  isolates,
  'overload-in-line': overloadInLine,
  'earth-carries-nothing': earthCarriesNothing,
  'separate-secondary': separateSecondary,
};

export { PROPERTY_IDS, type PropertyId } from './ids.js';

/** Title of a safety property. */
export const propertyTitle = (id: PropertyId): string => PROPERTIES[id].title;

/** True of a property that the wiring alone shows, whatever is worked. */
export const isOfWiring = (id: PropertyId): boolean => propertyRule(id).wiring !== undefined;

/** What a safety property is worth beside the others. */
export const propertyWeight = (id: PropertyId): number => PROPERTIES[id].weight;

/** The table's entry, seen without its own type. */
export const propertyRule = (id: PropertyId): PropertyRule => PROPERTIES[id];
