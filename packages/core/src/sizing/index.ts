/** Choosing overload, fuse, breaker, contactor, cable, transformer and timer by plate, formula and table. */
export * from './starter.js';
export { NEC_HORSEPOWER, NEC_RATINGS, NEMA_SIZES, necFullLoad } from './tables.js';
export { transformerFor, type ControlDemand } from './transformer.js';
