/** The nodal solution of a circuit for one contact state, the shorts in it, and what instruments read. */
export * from './electrical.js';
export { Solver, rmsBetween } from './solver.js';
export { describeShort, isShorted, type ShortFound } from './shorts.js';
export {
  Ohmmeter,
  anySupplyOn,
  isLive,
  potentialOf,
  readOhms,
  readVolts,
  type Reading,
  type Resistor,
} from './meter.js';
export { NodeWays, WireCurrents, lineAmps, terminalDraw, type Draw } from './currents.js';
export * from './coils.js';
export { lampAt, lampState } from './lamps.js';
export { ComplexSystem } from './linear.js';
