import { framedDrawing, type Drawing, type TitleBlock } from '../drawing/index.js';
import {
  CAUTIONS,
  deadTestsTable,
  leadMaterialsTable,
  materialsTable,
  orderTable,
  sequenceTables,
  terminalsTable,
  wireListTable,
  doneWords,
  type BenchSheet,
  type PaperTable,
  type PlanningPaper,
} from '../planning/index.js';
import { POINTS, printedPages, type Paper } from './pdf.js';

/** What a writer of PDFs makes pages of: plain data, by its own words. */
export type PdfContent = string | { readonly [key: string]: unknown } | readonly PdfContent[];
export type PdfDocument = Readonly<Record<string, unknown>>;

const MARGIN = 14 * POINTS;
const FOOT = 10 * POINTS;
const RULE = 0.6;

const heading = (text: string, more: object = {}): PdfContent => ({
  text,
  bold: true,
  fontSize: 13,
  margin: [0, 12, 0, 4],
  headlineLevel: 1,
  ...more,
});
const small = (text: string): PdfContent => ({ text, fontSize: 8.5, margin: [0, 2, 0, 4] });

/** Thin black rules: nothing hangs on colour. */
const RULED = {
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
const box = (): PdfContent => ({
  canvas: [{ type: 'rect', x: 1, y: 1, w: 8, h: 8, lineWidth: 0.8, lineColor: '#000000' }],
});

/** A cell; a name or a number is not broken. */
const cell = (text: string): PdfContent =>
  text === '☐' ? box() : { text, fontSize: 8.5, noWrap: text.length <= UNBROKEN };

/** A ruled table whose head stands on every page. */
function ruled(
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
  'Device',
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

const tableOf = ({ title, columns, rows }: PaperTable): PdfContent[] => [
  heading(title),
  ruled(
    columns,
    rows.map((row) => row.map(cell)),
    columns.map((one) => (WIDE.has(one) ? '*' : 'auto')),
  ),
];

function document(title: string, paper: Paper, content: readonly PdfContent[]): PdfDocument {
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

/** The pages of a drawing, each a page that lies on its side with a frame of its own. */
const drawingContent = (drawing: Drawing, paper: Paper, block: TitleBlock): PdfContent[] =>
  printedPages(framedDrawing(drawing, paper, block)).flatMap((page) => [
    { text: ' ', fontSize: 1, pageBreak: 'before', pageOrientation: 'landscape' },
    page,
  ]);

/** Who made a paper and when, as it is to be written; left open where nothing is said. */
export type MadeBy = Partial<Omit<TitleBlock, 'title'>>;

const blockOf = (title: string, { number = '', author = '', date = '', owner = '' }: MadeBy): TitleBlock => ({
  title,
  number,
  author,
  date,
  owner,
});

const cautions = (list: readonly string[]): PdfContent => ({
  layout: RULED,
  margin: [0, 6, 0, 4],
  table: {
    widths: ['*'],
    body: [
      [
        {
          stack: [
            { text: 'Cautions', bold: true },
            { ul: [...list], fontSize: 9 },
          ],
        },
      ],
    ],
  },
});

/** Columns up to which two sequence tables stand side by side. */
const NARROW = 6;

/** All functions in one table, each under a line with its name; two columns of them where they are narrow. */
function sequenceContent(tables: readonly PaperTable[]): PdfContent[] {
  const [first] = tables;
  if (!first) return [];
  const { columns } = first;
  const tiny = (text: string, more: object = {}) => ({ text, fontSize: 7.5, ...more });
  const rowsOf = ({ title, rows }: PaperTable): PdfContent[][] => [
    [
      tiny(title.replace(/^Sequence: /, ''), { bold: true, colSpan: columns.length }),
      ...columns.slice(1).map(() => ''),
    ],
    ...rows.map((row) => row.map((text) => tiny(text))),
  ];
  const tableOfRows = (own: readonly PaperTable[]): PdfContent => ({
    layout: { ...RULED, paddingTop: () => 0.5, paddingBottom: () => 0.5 },
    table: {
      headerRows: 1,
      keepWithHeaderRows: 3,
      dontBreakRows: true,
      widths: columns.map((_, k) => (k === 0 ? '*' : 'auto')),
      body: [columns.map((text) => tiny(text, { bold: true, fillColor: '#eeeeee' })), ...own.flatMap(rowsOf)],
    },
  });
  if (columns.length > NARROW || tables.length < 2) return [heading('Sequences'), tableOfRows(tables)];
  const length = ({ rows }: PaperTable) => rows.length + 1;
  const half = tables.reduce((sum, one) => sum + length(one), 0) / 2;
  let sum = 0;
  const left = tables.filter((one) => (sum += length(one)) - length(one) / 2 <= half);
  return [
    heading('Sequences'),
    { columns: [tableOfRows(left), tableOfRows(tables.slice(left.length))], columnGap: 10 },
  ];
}

/** The planning paper of a board. */
export function planningPdf(
  paper: PlanningPaper,
  {
    size = 'A4',
    forms = ['iec', 'us'],
    made = {},
  }: { readonly size?: Paper; readonly forms?: readonly ('iec' | 'us')[]; readonly made?: MadeBy } = {},
): PdfDocument {
  return document(`${paper.title}: planning paper`, size, [
    { text: paper.title, fontSize: 19, bold: true },
    small('Planning paper. Strike off each lead as it goes in.'),
    cautions(CAUTIONS),
    ...tableOf(materialsTable(paper.materials)),
    ...tableOf(leadMaterialsTable(paper.materials)),
    ...tableOf(wireListTable(paper.leads)),
    ...tableOf(orderTable(paper.orders.byRung)),
    ...tableOf(orderTable(paper.orders.byPlace)),
    ...tableOf(terminalsTable(paper.terminals)),
    ...sequenceContent(sequenceTables(paper.sequence)),
    ...forms.flatMap((form) => drawingContent(paper.drawings[form], size, blockOf(paper.title, made))),
  ]);
}

/** Lines to write on, each with its words below. */
const written = (...labels: string[]): PdfContent => ({
  margin: [0, 14, 0, 4],
  columns: labels.map((text) => ({
    stack: [
      { canvas: [{ type: 'line', x1: 0, y1: 0, x2: 150, y2: 0, lineWidth: RULE }] },
      { text, fontSize: 8, margin: [0, 2, 0, 0] },
    ],
  })),
});

/** Everything that is tried, function by function, with a box each. */
function functionsTable({ functions, points }: BenchSheet): PdfContent {
  const rows = functions.flatMap(({ title, essential, rows: own, id }): PdfContent[][] => [
    [
      { text: title, bold: true, fontSize: 8.5, colSpan: 4 },
      '',
      '',
      '',
      { text: `${points[`behaviour/${id}`] ?? 0} points${essential ? ', essential' : ''}`, fontSize: 8.5 },
    ],
    ...own.map(({ does, expected }, k) => [
      cell(String(k + 1)),
      cell(doneWords(does, k)),
      cell(expected),
      box(),
      cell(''),
    ]),
  ]);
  return ruled(['No', 'Do', 'Right', 'Seen', 'If not: what was seen'], rows, ['auto', '*', '*', 'auto', 90]);
}

function settingsTable({ settings }: BenchSheet): PdfContent[] {
  if (settings.length === 0) return [];
  const rows = settings.map(({ tag, name, setting, unit, right }) =>
    [`${tag}, ${name}`, setting, `${right} ${unit}`, ''].map(cell),
  );
  return [
    heading('Settings'),
    ruled(['Device', 'Setting', 'Right', 'Read'], rows, ['*', 'auto', 'auto', 90]),
  ];
}

/** What the dead tests find, and what is right although it reads otherwise. */
const deadTestWords = ({ deadTests: { tests, mistakes, unseen } }: BenchSheet): string =>
  `${tests.length} readings find ${mistakes - unseen.length} of ${mistakes} single wiring mistakes with the board dead. A contact that is wired by its other ends, or a free contact of the same kind, is right too: read at its own terminals then.`;

const markWords = ({ max, pass }: BenchSheet): string =>
  `${max} points in all; ${pass} are needed, every essential function right and every safety property kept. Safety, rules and workmanship count at the share that was earned of the functions.`;

/** The sheet of a physical board, with its drawing. */
export const benchSheetPdf = (
  sheet: BenchSheet,
  drawing: Drawing,
  size: Paper = 'A4',
  made: MadeBy = {},
): PdfDocument =>
  document(`${sheet.title}: bench sheet`, size, [
    { text: sheet.title, fontSize: 19, bold: true },
    small(`Bench sheet for a physical board: ${sheet.board}`),
    written('Student', 'Class and date', 'Board number'),
    written('Begun at', 'Done at', 'Instructor'),
    cautions(sheet.cautions),
    written('Isolated, locked off, proved dead (signature)', 'Permission to energise (signature, time)'),
    heading('Dead tests, before anything is energised'),
    small(deadTestWords(sheet)),
    ...tableOf(deadTestsTable(sheet.deadTests)).slice(1),
    heading('Functional tests, each from a fresh board with the supply on'),
    functionsTable(sheet),
    ...settingsTable(sheet),
    heading('Safety, rules and workmanship'),
    ruled(
      ['What', 'How', 'Points', 'Kept', 'Broken'],
      sheet.checks.map(({ title, how, points }) => [
        cell(title),
        cell(how),
        cell(String(points)),
        box(),
        box(),
      ]),
      ['*', '*', 'auto', 'auto', 'auto'],
    ),
    heading('Marks'),
    small(markWords(sheet)),
    written('Points', 'Passed', 'Signature of the instructor'),
    heading('Remarks'),
    ...[0, 1, 2].map((): PdfContent => ({
      canvas: [{ type: 'line', x1: 0, y1: 16, x2: 500, y2: 16, lineWidth: RULE }],
    })),
    ...drawingContent(drawing, size, blockOf(sheet.title, made)),
  ]);
