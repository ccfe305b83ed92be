/** Reading and writing open formats. */
export { drawingDocument, type DrawingDocument } from './drawing.js';
export { nodeName, toSpice } from './spice.js';
export { drawingPages } from './pdf.js';
export { linkText, sheetPicture, toSvg } from './svg.js';
