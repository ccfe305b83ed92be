/** Reading and writing open formats. */
export { drawingDocument, type DrawingDocument } from './drawing.js';
export { toDxf } from './dxf.js';
export { deckOf, nodeName, toSpice } from './spice.js';
export { readDeck, writeDeck, type Deck, type DeckElement } from './spice-deck.js';
export { PAPERS, drawingPages, type Paper } from './pdf.js';
export { linkText, linkWords, pageSvg, toSvg } from './svg.js';
export { benchSheetPdf, planningPdf, type MadeBy } from './paper-pdf.js';
export type { PdfDocument } from './paper-pages.js';
export { writePdf, type PdfWriter } from './pdf-writer.js';
export { programPdf } from './program-pdf.js';
export { slipPdf, type PrintedSlip } from './slip-pdf.js';
