import pdfMake from 'pdfmake/build/pdfmake.js';
import fonts from 'pdfmake/build/vfs_fonts.js';
import { drawingPages, type FramedDrawing, type PdfDocument } from '@contactum/core';

pdfMake.addVirtualFileSystem(fonts);

/** Pages as a PDF. */
export const pdfOf = (document: PdfDocument): Promise<Blob> => pdfMake.createPdf(document).getBlob();

/** A drawing on sheets of paper as a PDF. */
export const drawingPdf = (framed: FramedDrawing): Promise<Blob> => pdfOf(drawingPages(framed));
