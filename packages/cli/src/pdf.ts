import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { writePdf, type PdfDocument, type PdfWriter } from '@contactum/core';

/** A document as PDF. Its writer is loaded only when a PDF is asked for. */
export function renderPdf(document: PdfDocument): Promise<Uint8Array> {
  const require = createRequire(import.meta.url);
  const faces = join(dirname(require.resolve('pdfmake/package.json')), 'fonts', 'Roboto');
  return writePdf(require('pdfmake') as PdfWriter, faces, document);
}
