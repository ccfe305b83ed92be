/** A bench that a person works now. */
export { LiveBench, type LoadOptions } from './live-bench.js';
