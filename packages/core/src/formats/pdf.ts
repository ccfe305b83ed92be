import type { Drawing, Sheet } from '../drawing/index.js';
import { sheetPicture } from './svg.js';

export const PAPERS = ['A4', 'LETTER'] as const;
export type Paper = (typeof PAPERS)[number];

/** Millimetres to points. */
export const POINTS = 72 / 25.4;
/** Upright, mm. */
export const PAPER_SIZE: Readonly<Record<Paper, readonly [width: number, height: number]>> = {
  A4: [210, 297],
  LETTER: [215.9, 279.4],
};
/** mm */
const MARGIN = 12;
const HEADING = 12;

/** A sheet in the faces that the writer has, as large as there is room. */
export const printedSheet = (sheet: Sheet, form: Drawing['form'], fit: readonly [number, number]) => ({
  svg: sheetPicture(sheet, form).replaceAll('Barlow, Roboto, sans-serif', 'Roboto'),
  fit: [...fit],
  alignment: 'center' as const,
});

/** A drawing as pages for a writer of PDFs: a sheet a page, landscape, as large as the paper lets it be. */
export function drawingPages({ form, sheets }: Drawing, title: string, paper: Paper = 'A4') {
  const [height, width] = PAPER_SIZE[paper];
  const fit = [(width - 2 * MARGIN) * POINTS, (height - 2 * MARGIN - HEADING) * POINTS] as const;
  return {
    pageSize: paper,
    pageOrientation: 'landscape' as const,
    pageMargins: MARGIN * POINTS,
    info: { title },
    defaultStyle: { font: 'Roboto', fontSize: 11 },
    content: sheets.flatMap((sheet, k) => [
      {
        text: `${title}: ${sheet.circuit} circuit`,
        bold: true,
        margin: [0, 0, 0, 8],
        ...(k > 0 ? { pageBreak: 'before' as const } : {}),
      },
      printedSheet(sheet, form, fit),
    ]),
  };
}
