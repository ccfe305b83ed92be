/**
 * The fewest dead tests that find every single wiring mistake: `meter.ts`, `mistakes.ts`, `cover.ts`,
 * `table.ts`.
 */
export { holdWords, holding, holdsOf } from './meter.js';
export { deadTestTable, partitionOf, type DeadTestTable, type PlannedTest } from './table.js';
