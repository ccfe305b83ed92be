/** Single faults, and the fewest edits that repair a wiring. */
export { repair } from './repair.js';
export type { ProgramRepair, Repair, RepairEdit, RungEdit, RepairOptions, RepairTask } from './task.js';
export { describeRungEdit, programSearchWords, repairProgram } from './program.js';
