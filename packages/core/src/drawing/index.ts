/**
 * The circuit of a bench as it is wired, drawn as current paths (IEC) or as a ladder (US). Read
 * `drawing.ts` (what comes out), `nets.ts`, `parts.ts`, `series-parallel.ts` with `control.ts`, `power.ts`
 * with `tracks.ts`, then `draw.ts`.
 */
export { drawingOf } from './draw.js';
export { deviceSheet } from './of-device.js';
export { usualForm } from './usual-form.js';
export * from './drawing.js';
export { placedShapes } from './symbols.js';
export type { At, SymbolShape, SymbolShapes } from './shape.js';
export { netlistOf, type Netlist } from './nets.js';
export { crossingsOf, tracksOf, type Run } from './tracks.js';
export { framedDrawing, type FramedDrawing, type FramedPage, type PlacedSheet } from './framed.js';
export { SHEET_FORMS, SHEET_PAPERS, type FrameText, type SheetPaper, type TitleBlock } from './paper.js';
