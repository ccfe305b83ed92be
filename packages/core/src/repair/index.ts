/** Single faults, and the fewest edits that repair a wiring. */
export { repair } from './repair.js';
export type { Repair, RepairEdit, RepairOptions, RepairTask } from './task.js';
export {
  describeRungEdit,
  programSearchWords,
  repairProgram,
  type ProgramRepair,
  type RungEdit,
} from './program.js';
