/** The circuit in time: stimuli, events, traces, incidents, and what is observed at a moment. */
export * from './script.js';
export * from './simulation.js';
export { stateName } from './motion.js';
export * from './observe.js';
export * from './run.js';
