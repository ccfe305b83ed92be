/** Reading and writing open formats. */
export { nodeName, toSpice } from './spice.js';
