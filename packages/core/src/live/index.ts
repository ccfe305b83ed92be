/** A bench that a person works now, and what that person perceives of it. */
export { LiveBench, type LoadOptions } from './live-bench.js';
export { whyNow } from './why-now.js';
export { shapeOf, type Frame, type MotorFrame, type Shape } from './perception.js';
export type { MeterReading, MeterRequest } from './meter.js';
export {
  SearchBench,
  isInDevice,
  isInLead,
  isSamePlace,
  isWireFault,
  searchAgain,
  seenOn,
  type SearchAnswer,
  type SearchEntry,
  type SearchEvent,
} from './search-bench.js';
export {
  FollowedBench,
  LONGEST_PAUSE,
  type Followed,
  type Standing,
  type EditSource,
  type WorkEntry,
} from './followed-bench.js';
export { Proving, type Provable } from './proving.js';
