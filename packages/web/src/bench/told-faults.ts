/** Reading of the faults that an instructor puts in, fetched with the first one. */
export { faultKey, readFault } from '@contactum/core';
