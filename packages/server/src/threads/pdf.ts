import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { slipPdf, type PrintedSlip } from '@contactum/core';

interface PdfWriter {
  setFonts(fonts: Readonly<Record<string, Readonly<Record<string, string>>>>): void;
  setLocalAccessPolicy(policy: (path: string) => boolean): void;
  setUrlAccessPolicy(policy: (url: string) => boolean): void;
  createPdf(document: object): { getBuffer(): Promise<Uint8Array> };
}

/** A marking slip as PDF; the writer has its own faces, and fetches nothing from anywhere. */
export async function printSlip({ slip }: { readonly slip: PrintedSlip }): Promise<Uint8Array> {
  const require = createRequire(import.meta.url);
  const writer = require('pdfmake') as PdfWriter;
  const faces = join(dirname(require.resolve('pdfmake/package.json')), 'fonts', 'Roboto');
  writer.setFonts({
    Roboto: {
      normal: join(faces, 'Roboto-Regular.ttf'),
      bold: join(faces, 'Roboto-Medium.ttf'),
      italics: join(faces, 'Roboto-Italic.ttf'),
      bolditalics: join(faces, 'Roboto-MediumItalic.ttf'),
    },
  });
  writer.setUrlAccessPolicy(() => false);
  writer.setLocalAccessPolicy((path) => path.startsWith(faces));
  return writer.createPdf(slipPdf(slip, 'A4')).getBuffer();
}
