/**
 * Every order in which a bench can be worked: safety properties, and equivalence with a shortest
 * counterexample.
 */
export { firstLostOf, type Proof, type ProofOptions, type Property } from './proof.js';
export * from './prove.js';
export {
  DANGER,
  PROPERTY_IDS,
  isOfWiring,
  lacksLines,
  propertyTitle,
  propertyWeight,
  startsNothing,
  type PropertyId,
} from './properties/index.js';
export * from './compare.js';
export { Decisions, PULLS_IN, STAYS_IN, BAD_VOLTAGE } from './decisions.js';
export { Exploration, type Choice, type Outcome } from './exploration.js';
export * from './single-fault-tolerance.js';
