/** A bench compiled to nodes, switches, loads and sources. */
export * from './circuit.js';
export { coilImpedance, compile, isSealed } from './compile.js';
export { UnionFind } from './union-find.js';
export { wiredTerminals, wiredTogether } from './wiring.js';
export * from './stimulus.js';
export * from './mechanics.js';
export * from './faults.js';
