import pdfMake from 'pdfmake/build/pdfmake.js';
import fonts from 'pdfmake/build/vfs_fonts.js';
import { drawingPages, type Drawing } from '@contactum/core';

pdfMake.addVirtualFileSystem(fonts);

/** A drawing as a PDF, a sheet a page. */
export const drawingPdf = (drawing: Drawing, title: string): Promise<Blob> =>
  pdfMake.createPdf(drawingPages(drawing, title)).getBlob();
