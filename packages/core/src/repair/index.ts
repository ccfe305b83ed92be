/** Single faults, and the fewest edits that repair a wiring. */
export { repair, type Repair, type RepairEdit, type RepairOptions, type RepairTask } from './repair.js';
