/** The circuit in time: stimuli, events, traces, incidents, and what is observed at a moment. */
export * from './script.js';
export { Simulation } from './simulation.js';
export type { Incident, IncidentKind, TraceEvent } from './trace.js';
export { describeIncident, isShort } from './incident-words.js';
export * from './observe.js';
export * from './run.js';
export { solverWith } from './injected.js';
export { walkThrough, type WalkStep } from './walk.js';
export { firstMismatch, whyAfter } from './why.js';
