/** A physical board that is read: joints, noise, leads and contacts, and the registers of a scanner. */
export { wiringFromJoints, jointsOfBench, type Joints, type Rewired, type RewiredOrNot } from './joints.js';
export { Settling, type Doubt, type Pass, type Settled, type SettlingOptions } from './settle.js';
export { leadsFromReadings, readingsFor, type FoundLeads, type BoardReading } from './leads.js';
export { boardSeen, type BoardSeen, type SeenOptions } from './seen.js';
export { permitCheck, type PermitCheck } from './permit.js';
export {
  JOINT_CLASSES,
  SCANNER,
  SCANNER_FAULTS,
  STRETCHES,
  WORDS_A_READ,
  readClasses,
  readHead,
  readNames,
  readRows,
  readsOf,
  registersOf,
  type JointClass,
  type ScannerHead,
  type ScannerState,
  type Stretch,
} from './register-map.js';
