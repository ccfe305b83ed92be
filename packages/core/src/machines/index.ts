/** Motor, coil, overload heater and protection: equations with their sources, no circuit around them. */
export * from './complex.js';
export { coilImpedances, coilThresholds } from './coil.js';
export { transformerImpedance } from './transformer.js';
export * from './induction-motor.js';
export * from './overload-relay.js';
export * from './protection.js';
export * from './release.js';
