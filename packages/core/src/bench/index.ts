/** The bench document as plain data, what must hold in it, and the edits that change it. */
export * from './bench.js';
export * from './wiring.js';
export * from './edit.js';
export { benchProblems, wireProblems } from './check.js';
