/** Every order in which a bench can be worked: safety properties, and equivalence with a shortest counterexample. */
export * from './prove.js';
export * from './compare.js';
export { Transitions, keyOf, type Settling } from './transitions.js';
