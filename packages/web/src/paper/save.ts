import {
  benchSheetPdf,
  planningPdf,
  programPdf,
  type BenchSheet,
  type Drawing,
  type Paper,
  type PaperTable,
  type PdfDocument,
  type PlanningPaper,
  type Program,
} from '@contactum/core';
import { fileName, save } from '../drawing/save.js';

/** The writer of PDFs comes only when it is asked for. */
async function savePdf(document: PdfDocument, name: string): Promise<void> {
  const { pdfOf } = await import('../drawing/pdf.js');
  save(await pdfOf(document), fileName(name, 'pdf'));
}

export const savePlanning = (paper: PlanningPaper, name: string, size: Paper): Promise<void> =>
  savePdf(planningPdf(paper, { size }), `${name} planning paper`);

export const saveSheet = (sheet: BenchSheet, drawing: Drawing, size: Paper): Promise<void> =>
  savePdf(benchSheetPdf(sheet, drawing, size), `${sheet.title} bench sheet`);

/** Tables as one file of commas, an empty line between two. */
export async function saveCsv(tables: readonly PaperTable[], name: string): Promise<void> {
  const { writeCsv } = await import('@contactum/core/exchange');
  const text = tables.map(({ columns, rows }) => writeCsv(columns, rows)).join('\r\n');
  save(new Blob([`\uFEFF${text}`], { type: 'text/csv;charset=utf-8' }), fileName(name, 'csv'));
}

export const saveProgram = (program: Program): Promise<void> =>
  savePdf(programPdf(program), `${program.title} program`);
