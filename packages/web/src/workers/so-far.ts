/** The proof of a wiring that is being made: a part of the bench's thread, fetched when it is asked for. */
export { provedSoFar } from '@contactum/core';
