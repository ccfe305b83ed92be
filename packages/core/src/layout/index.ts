/**
 * Where a board's devices stand and its leads run: rows of devices, ducts between them, a lead by corners.
 * Read `plan.ts`,
 * `footprint.ts`, `rows.ts`, then `router.ts`.
 */
export type { ColumnPlace } from './footprint.js';
export * from './plan.js';
export { layLeads, relayLeads, type Layout, type LeadRun, type LeadToLay } from './router.js';
export type { Zone } from './rows.js';
