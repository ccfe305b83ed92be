/** The nodal solution of a circuit for one contact state, the shorts in it, and what instruments read. */
export * from './electrical.js';
export { Solver, rmsBetween } from './solver.js';
export { describeShort, isShorted, type ShortFound } from './shorts.js';
export {
  NodeWays,
  WireCurrents,
  anySupplyOn,
  isLive,
  lineAmps,
  potentialOf,
  terminalDraw,
  readOhms,
  readVolts,
  type Reading,
} from './measure.js';
export * from './coils.js';
export { ComplexSystem } from './linear.js';
