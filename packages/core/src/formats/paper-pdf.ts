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
import {
  RULE,
  RULED,
  box,
  cell,
  document,
  heading,
  ruled,
  small,
  tableOf,
  type PdfContent,
  type PdfDocument,
} from './paper-pages.js';
import { printedPages, type Paper } from './pdf.js';
import { controllerContent } from './program-pdf.js';

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
    ...paper.controllers.flatMap(controllerContent),
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
