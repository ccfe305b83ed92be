/**
 * Everything that Contactum computes, without parsers (see `documents.ts`). Reading order: catalogue,
 * bench, circuit, electrics, machines, simulation, live, proof, marking, setting.
 */
export { plural } from './plural.js';
export { without } from './without.js';
export * from './random/index.js';
export * from './program/index.js';
export * from './catalogue/index.js';
export * from './bench/index.js';
export * from './circuit/index.js';
export * from './electrics/index.js';
export * from './explain/index.js';
export * from './simulation/index.js';
export * from './live/index.js';
export * from './proof/index.js';
export * from './questions/index.js';
export * from './marking/index.js';
export * from './faults/index.js';
export * from './repair/index.js';
export * from './drawing/index.js';
export * from './layout/index.js';
export * from './formats/index.js';
export * from './sizing/index.js';
export * from './diagnosis/index.js';
export * from './planning/index.js';
export * from './setting/index.js';
export * from './variants/index.js';
export * from './packs/index.js';
export * from './assessments/index.js';
export * from './skills/index.js';
export * from './scanning/index.js';
