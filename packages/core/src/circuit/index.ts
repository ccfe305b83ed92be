/** A bench compiled to nodes, switches, loads and sources. */
export { blocksOf, type GraphEdge } from './blocks.js';
export { carriedAmps } from './carried.js';
export * from './circuit.js';
export { compile } from './compile.js';
export * from './element.js';
export * from './network.js';
export * from './roles.js';
export { UnionFind } from './union-find.js';
export { heatersOf, wayBetween, wayWords, type TerminalWay } from './ways.js';
export { connectionAt, connectionsOf, wiredVariables, type Connection } from './connections.js';
export { wiredTerminals, wiredTogether } from './wiring.js';
export type { Stimulus, WrittenFault } from './stimuli.js';
export * from './stimulus.js';
export * from './mechanisms/index.js';
export { isUnseen, isUnwritten, isUp, nowSeen, nowWritten } from './programs.js';
