/** Reading and writing open formats. */
export { drawingDocument, type DrawingDocument } from './drawing.js';
export { nodeName, toSpice } from './spice.js';
export { linkText, toSvg } from './svg.js';
