import {
  controllerTables,
  crossReferenceTable,
  listedVariables,
  type ControllerPaper,
} from '../planning/index.js';
import { crossReferences, workedBy, type CrossReference, type Program, type Rung } from '../program/index.js';
import { document, heading, small, tableOf, type PdfContent, type PdfDocument } from './paper-pages.js';
import { POINTS, inPrintedFace, type Paper } from './pdf.js';
import { rungSvg } from './program-svg.js';

/** Widest and highest that a rung is printed, points: a page of US Letter between its margins. */
const WIDEST = 187 * POINTS;
const HIGHEST = 225 * POINTS;
/** Pixels to points: a rung of four contacts takes two thirds of the width. */
const SCALE = 0.62;

/** What a rung writes, with the rungs that read it. */
function readElsewhere({ then }: Rung, references: ReadonlyMap<string, CrossReference>): string {
  return [...new Set(then.map(workedBy))]
    .map((name) => {
      const read = references.get(name)?.read ?? [];
      return `${name} is read in ${read.length === 0 ? 'no rung' : `rung ${read.join(', ')}`}`;
    })
    .join('; ');
}

/** A program as it is printed: each rung with its number, its comment and what reads what it writes. */
function ladderContent(program: Program): PdfContent[] {
  const references = crossReferences(program);
  return program.rungs.map((rung, k): PdfContent => {
    const { svg, width, height } = rungSvg(program, rung);
    const scale = Math.min(SCALE, WIDEST / width, HIGHEST / height);
    return {
      unbreakable: true,
      margin: [0, 6, 0, 2],
      stack: [
        { text: [{ text: `${k + 1}  `, bold: true }, rung.comment ?? ''], fontSize: 9.5 },
        { svg: inPrintedFace(svg), width: width * scale, height: height * scale },
        small(readElsewhere(rung, references)),
      ],
    };
  });
}

/** What is printed about a controller of a board. */
export const controllerContent = (paper: ControllerPaper): PdfContent[] => [
  ...controllerTables(paper).flatMap(tableOf),
  ...(paper.program
    ? [heading(`Program of ${paper.tag}: ${paper.program.title}`), ...ladderContent(paper.program)]
    : []),
];

/** A program by itself. */
export const programPdf = (program: Program, size: Paper = 'A4'): PdfDocument =>
  document(program.title, size, [
    { text: program.title, fontSize: 19, bold: true },
    small('Program of a programmable controller: ladder diagram with rung numbers and cross references.'),
    heading('Ladder diagram'),
    ...ladderContent(program),
    ...tableOf(crossReferenceTable({ tag: program.title, variables: listedVariables(program) })),
  ]);
