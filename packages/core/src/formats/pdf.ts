import type { FramedDrawing } from '../drawing/index.js';
import { pageSvg } from './svg.js';

/** Papers of what is read and written on upright. */
export const PAPERS = ['A4', 'LETTER'] as const;
export type Paper = (typeof PAPERS)[number];

/** Millimetres to points. */
export const POINTS = 72 / 25.4;

/** A picture in the face that the writer has. */
export const inPrintedFace = (svg: string): string => svg.replaceAll('Barlow, Roboto, sans-serif', 'Roboto');

/** The pages of a framed drawing in the faces that the writer has, each as large as its paper. */
export const printedPages = (framed: FramedDrawing) => {
  const [width, height] = framed.size;
  return framed.pages.map((_, k) => ({
    svg: inPrintedFace(pageSvg(framed, k)),
    width: width * POINTS,
    height: height * POINTS,
    absolutePosition: { x: 0, y: 0 },
  }));
};

/** A framed drawing as pages for a writer of PDFs. */
export function drawingPages(framed: FramedDrawing) {
  return {
    pageSize: framed.paper,
    pageOrientation: 'landscape' as const,
    pageMargins: 0,
    info: { title: framed.block.title },
    defaultStyle: { font: 'Roboto', fontSize: 11 },
    // A page is begun by something that takes room: what is placed by itself begins none.
    content: printedPages(framed).flatMap((page, k) => [
      { text: ' ', fontSize: 1, ...(k > 0 ? { pageBreak: 'before' as const } : {}) },
      page,
    ]),
  };
}
