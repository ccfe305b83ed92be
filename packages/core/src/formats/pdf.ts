import type { Drawing } from '../drawing/index.js';
import { sheetPicture } from './svg.js';

/** Millimetres to points. */
const POINTS = 72 / 25.4;
const PAPER = { A4: [297, 210], LETTER: [279.4, 215.9] } as const;
/** mm */
const MARGIN = 12;
const HEADING = 12;

/** A drawing as pages for a writer of PDFs: a sheet a page, landscape, as large as the paper lets it be. */
export function drawingPages({ form, sheets }: Drawing, title: string, paper: keyof typeof PAPER = 'A4') {
  const [width, height] = PAPER[paper];
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
      {
        svg: sheetPicture(sheet, form).replaceAll('Barlow, Roboto, sans-serif', 'Roboto'),
        fit,
        alignment: 'center' as const,
      },
    ]),
  };
}
