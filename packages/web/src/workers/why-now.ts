/** Explanations of a bench that runs: a part of its thread, fetched when it is asked for. */
export { whyNow } from '@contactum/core';
