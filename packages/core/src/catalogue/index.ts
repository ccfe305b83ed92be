/**
 * What devices exist, one record a kind: fields, terminals with their roles, mechanism, verbs, words,
 * letters. Read
 * `kind.ts` (the record), `fields.ts`, `anatomy.ts` (what a device is made of), then any file of `kinds/`.
 */
export * from './anatomy.js';
export * from './device.js';
export type { Field, Fields, FieldShape, ValuesOf } from './fields.js';
export {
  DUTIES,
  START_DUTIES,
  iecTag,
  usTag,
  type Duty,
  type Misfit,
  type Mounting,
  type Operator,
  type PoleSymbol,
  type Surroundings,
  type SymbolName,
  type Verb,
} from './kind.js';
export { KINDS } from './kinds/index.js';
export type { CoilRating, CurrentKind, MotorPlate } from './shared-fields.js';
export * from './states.js';
export { synchronousSpeed } from './synchronous-speed.js';
export { choice, flag, group, limits, list, number, optional, positive, text } from './fields.js';
