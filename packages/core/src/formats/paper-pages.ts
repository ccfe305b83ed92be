import type { PaperTable } from '../planning/index.js';
import { POINTS, type Paper } from './pdf.js';

/** What a writer of PDFs makes pages of: plain data, by its own words. */
export type PdfContent = string | { readonly [key: string]: unknown } | readonly PdfContent[];
export type PdfDocument = Readonly<Record<string, unknown>>;

const MARGIN = 14 * POINTS;
const FOOT = 10 * POINTS;
export const RULE = 0.6;

export const heading = (text: string, more: object = {}): PdfContent => ({
  text,
  bold: true,
  fontSize: 13,
  margin: [0, 12, 0, 4],
  headlineLevel: 1,
  ...more,
});
export const small = (text: string): PdfContent => ({ text, fontSize: 8.5, margin: [0, 2, 0, 4] });

/** Thin black rules: nothing hangs on colour. */
export const RULED = {
  hLineWidth: () => RULE,
  vLineWidth: () => RULE,
  hLineColor: () => '#000000',
  vLineColor: () => '#000000',
  paddingLeft: () => 3,
  paddingRight: () => 3,
  paddingTop: () => 2,
  paddingBottom: () => 2,
};

/** Letters up to which a cell stays on one line. */
const UNBROKEN = 9;

/**
 * A box to strike off: drawn, since not every face has one. Each is an object of its own, for the writer
 * changes what it is given.
 */
export const box = (): PdfContent => ({
  canvas: [{ type: 'rect', x: 1, y: 1, w: 8, h: 8, lineWidth: 0.8, lineColor: '#000000' }],
});

/** A cell; a name or a number is not broken. */
export const cell = (text: string): PdfContent =>
  text === '☐' ? box() : { text, fontSize: 8.5, noWrap: text.length <= UNBROKEN };

/** A ruled table whose head stands on every page. */
export function ruled(
  columns: readonly string[],
  rows: readonly (readonly PdfContent[])[],
  widths: readonly (string | number)[],
): PdfContent {
  return {
    layout: RULED,
    margin: [0, 2, 0, 6],
    table: {
      headerRows: 1,
      dontBreakRows: true,
      widths: [...widths],
      body: [columns.map((text) => ({ text, bold: true, fontSize: 8.5, fillColor: '#eeeeee' })), ...rows],
    },
  };
}

/** Columns that take what is left; the others are as wide as what stands in them. */
const WIDE: ReadonlySet<string> = new Set([
  'Comment',
  'Device',
  'Lead',
  'Rating',
  'Designations',
  'Spare contacts',
  'First lead',
  'Second lead',
  'Others',
  'Proves',
  'Where',
  'Act',
]);

export const tableOf = ({ title, columns, rows }: PaperTable): PdfContent[] => [
  heading(title),
  ruled(
    columns,
    rows.map((row) => row.map(cell)),
    columns.map((one) => (WIDE.has(one) ? '*' : 'auto')),
  ),
];

export function document(title: string, paper: Paper, content: readonly PdfContent[]): PdfDocument {
  return {
    pageSize: paper,
    pageMargins: [MARGIN, MARGIN, MARGIN, MARGIN + FOOT],
    info: { title },
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    // A drawing has its title block.
    footer: (page: number, pages: number, { orientation }: { readonly orientation: string }) =>
      orientation === 'landscape'
        ? ''
        : {
            columns: [
              { text: title, fontSize: 8 },
              { text: `page ${page} of ${pages}`, fontSize: 8, alignment: 'right' },
            ],
            margin: [MARGIN, 4, MARGIN, 0],
          },
    // A heading does not stand alone at the foot of a page.
    pageBreakBefore: (
      node: { headlineLevel?: number },
      { getFollowingNodesOnPage }: { getFollowingNodesOnPage: () => readonly unknown[] },
    ) => node.headlineLevel === 1 && getFollowingNodesOnPage().length < 2,
    content,
  };
}
