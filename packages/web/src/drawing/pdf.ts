import pdfMake from 'pdfmake/build/pdfmake.js';
import fonts from 'pdfmake/build/vfs_fonts.js';
import { drawingPages, type Drawing, type PdfDocument } from '@contactum/core';

pdfMake.addVirtualFileSystem(fonts);

/** Pages as a PDF. */
export const pdfOf = (document: PdfDocument): Promise<Blob> => pdfMake.createPdf(document).getBlob();

/** A drawing as a PDF, a sheet a page. */
export const drawingPdf = (drawing: Drawing, title: string): Promise<Blob> =>
  pdfOf(drawingPages(drawing, title));
