import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { PdfDocument } from '@contactum/core';

interface PdfWriter {
  setFonts(fonts: Readonly<Record<string, Readonly<Record<string, string>>>>): void;
  setLocalAccessPolicy(policy: (path: string) => boolean): void;
  setUrlAccessPolicy(policy: (url: string) => boolean): void;
  createPdf(document: PdfDocument): { getBuffer(): Promise<Uint8Array> };
}

/**
 * The writer of PDFs with its own faces; nothing is fetched from anywhere. It is loaded only when a PDF is
 * asked for.
 */
export function renderPdf(document: PdfDocument): Promise<Uint8Array> {
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
  return writer.createPdf(document).getBuffer();
}
