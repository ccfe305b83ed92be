import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { slipPdf, writePdf, type PdfWriter, type PrintedSlip } from '@contactum/core';

/** A marking slip as PDF. Its writer is loaded only when one is asked for. */
export function printSlip({ slip }: { readonly slip: PrintedSlip }): Promise<Uint8Array> {
  const require = createRequire(import.meta.url);
  const faces = join(dirname(require.resolve('pdfmake/package.json')), 'fonts', 'Roboto');
  return writePdf(require('pdfmake') as PdfWriter, faces, slipPdf(slip, 'A4'));
}
