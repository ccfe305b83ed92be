/**
 * Paper: what is planned before a board is built, and the sheet of a physical board. Read `leads.ts`,
 * `paper.ts`, `dead-tests`, `sheet`.
 */
export * from './controllers.js';
export * from './dead-tests/index.js';
export * from './leads.js';
export * from './materials.js';
export * from './order.js';
export { partFaults, partReadings, type PartFault, type PartReadings } from './part-readings.js';
export * from './paper.js';
export * from './sequence.js';
export * from './sheet/index.js';
export * from './tables.js';
export * from './terminals.js';
