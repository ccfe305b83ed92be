import { writeFileSync } from 'node:fs';
import {
  DRAWING_FORMS,
  PAPERS,
  SHEET_PAPERS,
  Simulation,
  Solver,
  benchSheet,
  benchSheetPdf,
  compile,
  controllerTables,
  deadTestTable,
  deadTestsTable,
  drawingDocument,
  drawingOf,
  drawingPages,
  framedDrawing,
  faultEffects,
  finished,
  isExpectation,
  orderTable,
  planningPaper,
  planningPdf,
  programPdf,
  referenceBench,
  scriptProblems,
  sequenceTables,
  referenceCircuitOf,
  terminalsTable,
  toDxf,
  toSpice,
  toSvg,
  type Bench,
  type DrawingForm,
  type Exercise,
  type MadeBy,
  type Paper,
  type PaperTable,
  type PdfDocument,
  type SheetPaper,
} from '@contactum/core';
import { readScript } from '@contactum/core/documents';
import { writeCsv, writeFaultList, writeMaterials, writeWireList } from '@contactum/core/exchange';
import type { Answer } from './answer.js';
import { Unusable, fitting, readBoard, readFile } from './input.js';
import { renderPdf } from './pdf.js';
import { PROGRAM_FORMATS, isProgram, programAs, programIn } from './programs.js';

export interface ExportValues {
  readonly to?: string;
  readonly form?: string;
  readonly script?: string;
  readonly paper?: string;
  readonly number?: string;
  readonly author?: string;
  readonly date?: string;
  readonly owner?: string;
  readonly out?: string;
}

/** What is exported: a board as it is wired, and the exercise that it belongs to where there is one. */
interface Source {
  readonly file: string;
  readonly bench: Bench;
  readonly exercise: Exercise | null;
  readonly form: DrawingForm;
  readonly paper: SheetPaper;
  /** What stands in the title block beside the title. */
  readonly made: Required<MadeBy>;
  readonly script: string | undefined;
}

type Converted = { readonly text: string } | { readonly value: object } | { readonly pdf: PdfDocument };

const csv = (...tables: readonly PaperTable[]): Converted => ({
  text: tables.map(({ columns, rows }) => writeCsv(columns, rows)).join('\r\n'),
});

const paperOf = ({ bench, exercise, form }: Source) => planningPaper(bench, exercise ?? {}, form);

/** The drawing of a board on sheets of paper. */
const framedOf = ({ bench, form, paper, made }: Source) =>
  framedDrawing(drawingOf(bench, form), paper, { title: bench.title, ...made });

/** What is written on upright is on A4 or US Letter. */
function uprightOf({ paper }: Source): Paper {
  return chosen('paper', paper, PAPERS);
}

function needExercise({ exercise, file }: Source): Exercise {
  if (!exercise) throw new Unusable(`${file}: contactum: this is made of an exercise, not of a bench`);
  return exercise;
}

/** The formats, by the word after `--to`. */
const FORMATS: Readonly<
  Record<string, { readonly words: string; readonly make: (source: Source) => Converted }>
> = {
  spice: {
    words: 'SPICE deck of one contact state',
    make({ bench, script }) {
      const circuit = compile(bench);
      return { text: toSpice(circuit, worked(new Solver(circuit), script).state) };
    },
  },
  drawing: {
    words: 'drawing/1 document',
    make: ({ bench, form }) => ({ value: drawingDocument(drawingOf(bench, form)) }),
  },
  svg: {
    words: 'drawing as a picture',
    make: (source) => ({ text: toSvg(framedOf(source)) }),
  },
  dxf: {
    words: 'drawing as DXF R12',
    make: (source) => ({ text: toDxf(framedOf(source)) }),
  },
  sheets: {
    words: 'drawing as PDF, with frame and title block',
    make: (source) => ({ pdf: drawingPages(framedOf(source)) }),
  },
  csv: { words: 'wire list', make: ({ bench }) => ({ text: writeWireList(bench) }) },
  materials: {
    words: 'bill of materials as CSV',
    make: (source) => ({ text: writeMaterials(paperOf(source).materials) }),
  },
  order: {
    words: 'both orders of wiring as CSV',
    make(source) {
      const { byRung, byPlace } = paperOf(source).orders;
      return csv(orderTable(byRung), orderTable(byPlace));
    },
  },
  terminals: {
    words: 'terminal plan as CSV',
    make: (source) => csv(terminalsTable(paperOf(source).terminals)),
  },
  io: {
    words: 'inputs and outputs of the controllers, with cross references, as CSV',
    make(source) {
      const { controllers } = paperOf(source);
      if (controllers.length === 0)
        throw new Unusable(`${source.file}: devices: there is no programmable controller`);
      return csv(...controllers.flatMap(controllerTables));
    },
  },
  sequence: {
    words: 'sequence tables of an exercise as CSV',
    make(source) {
      needExercise(source);
      return csv(...sequenceTables(paperOf(source).sequence));
    },
  },
  'dead-tests': {
    words: 'dead-test table as CSV',
    make: ({ bench }) => csv(deadTestsTable(deadTestTable(bench))),
  },
  faults: {
    words: 'single faults of an exercise with their symptoms as CSV',
    make(source) {
      const effects = finished(faultEffects(referenceCircuitOf(needExercise(source))));
      return { text: writeFaultList(effects) };
    },
  },
  bench: { words: 'bench/1 document', make: ({ bench }) => ({ value: bench }) },
  pdf: {
    words: 'planning paper, or a program as it is printed',
    make: (source) => ({
      pdf: planningPdf(paperOf(source), { size: uprightOf(source), made: source.made }),
    }),
  },
  sheet: {
    words: 'bench sheet of an exercise as PDF',
    make(source) {
      const exercise = needExercise(source);
      const drawing = drawingOf(source.bench, source.form);
      return { pdf: benchSheetPdf(benchSheet(exercise), drawing, uprightOf(source), source.made) };
    },
  },
};

export const EXPORT_FORMATS = [...Object.keys(FORMATS), ...PROGRAM_FORMATS];

function chosen<T extends string>(name: string, value: string, among: readonly T[]): T {
  const found = among.find((one) => one === value);
  if (found === undefined) throw new Unusable(`arguments: --${name} is ${among.join(', ')}`);
  return found;
}

/** Converts a bench, or the reference of an exercise. */
export async function exportAnswer(file: string, values: ExportValues): Promise<Answer> {
  const { to = '', form = 'iec', paper = 'A4', script, out } = values;
  const { number = '', author = '', date = '', owner = '' } = values;
  if (PROGRAM_FORMATS.includes(to)) return written(to, { text: programAs(file, to) }, out);
  if (to === 'pdf' && isProgram(file))
    return written(
      to,
      { pdf: programPdf(programIn(file), chosen('paper', paper.toUpperCase(), PAPERS)) },
      out,
    );
  const format = FORMATS[to];
  if (!format) throw new Unusable(`arguments: --to is ${EXPORT_FORMATS.join(', ')}`);
  const board = readBoard(file);
  const converted = format.make({
    file,
    ...('exercise' in board
      ? { exercise: board.exercise, bench: referenceBench(board.exercise) }
      : { exercise: null, bench: board.bench }),
    form: chosen('form', form, DRAWING_FORMS),
    paper: chosen('paper', paper.toUpperCase(), SHEET_PAPERS),
    made: { number, author, date, owner },
    script,
  });
  return written(to, converted, out);
}

async function written(format: string, converted: Converted, out: string | undefined): Promise<Answer> {
  const content =
    'pdf' in converted
      ? await renderPdf(converted.pdf)
      : 'text' in converted
        ? converted.text
        : `${JSON.stringify(converted.value)}\n`;
  const length = typeof content === 'string' ? Buffer.byteLength(content) : content.length;
  if (out !== undefined) {
    save(out, content);
    return { holds: true, json: { format, file: out, bytes: length }, words: `${out}: ${length} bytes` };
  }
  if (typeof content !== 'string')
    return {
      holds: true,
      json: { format, base64: Buffer.from(content).toString('base64') },
      words: '',
      bytes: content,
    };
  if ('value' in converted) return { holds: true, json: converted.value, words: content.trimEnd() };
  return { holds: true, json: { format, text: content }, words: content.trimEnd() };
}

/** Writes a file; a folder that is not there or may not be written is said. */
export function save(file: string, content: string | Uint8Array): void {
  try {
    writeFileSync(file, content);
  } catch (error) {
    throw new Unusable(
      `${file}: (file): cannot be written (${(error as NodeJS.ErrnoException).code ?? 'unknown'})`,
    );
  }
}

/** A fresh bench with the supply on, worked by a script where one is given. */
export function worked(solver: Solver, script: string | undefined): Simulation {
  const simulation = new Simulation(solver);
  if (script === undefined) return simulation;
  const { steps } = readFile(script, readScript);
  fitting(script, scriptProblems(solver.circuit, steps));
  for (const step of steps) if (!isExpectation(step)) simulation.work(step);
  return simulation;
}
