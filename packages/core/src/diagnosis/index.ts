/** What agrees with what was observed of a board, and what to look at next. */
export {
  Eye,
  deadState,
  describeTest,
  isRead,
  observableOf,
  type Meter,
  type BoardObservation,
  type Read,
  type Test,
} from './observation.js';
export {
  dialsOf,
  finished,
  tabulate,
  visibleOf,
  type Candidate,
  type Column,
  type Effect,
  type ReferenceCircuit,
  type Table,
} from './table.js';
export { Search, type Next } from './search.js';
export * from './diagnose.js';
export { hiddenFaults, possibleAt, eliminate, suspectsBeside, type Elimination } from './elimination.js';
export { REPORTED_SYMPTOMS, type ReportedSymptom } from './reported-symptoms.js';
export { faultEffects, type FaultEffect } from './effects.js';
export { DEGREES, DEGREE_WORDS, complaintOf, pickFaults, type Degree, type Picked } from './pick.js';
export { faultStory, type ChangedBehaviour, type FaultStory } from './story.js';
