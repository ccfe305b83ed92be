/**
 * Every safety property, in the order in which they are told; the table in `index.ts` has an entry for
 * each.
 */
export const PROPERTY_IDS = [
  'no-short',
  'stop-drops',
  'estop-holds',
  'overload-drops',
  'no-self-start',
  'coil-voltage',
  'no-chatter',
  'no-race',
  'earth-bonded',
  'full-phases',
  'dead-at-rest',
  'isolates',
  'overload-in-line',
  'earth-carries-nothing',
  'separate-secondary',
] as const;
export type PropertyId = (typeof PROPERTY_IDS)[number];
