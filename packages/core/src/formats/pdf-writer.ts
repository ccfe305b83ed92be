import type { PdfDocument } from './paper-pages.js';

/** A writer of PDFs as its package gives it. */
export interface PdfWriter {
  setFonts(fonts: Readonly<Record<string, Readonly<Record<string, string>>>>): void;
  setLocalAccessPolicy(policy: (path: string) => boolean): void;
  setUrlAccessPolicy(policy: (url: string) => boolean): void;
  createPdf(document: PdfDocument): { getBuffer(): Promise<Uint8Array> };
}

/** Writes a document in the faces that lie in a folder; nothing is fetched from anywhere else. */
export function writePdf(writer: PdfWriter, faces: string, document: PdfDocument): Promise<Uint8Array> {
  const face = (name: string): string => `${faces}/Roboto-${name}.ttf`;
  writer.setFonts({
    Roboto: {
      normal: face('Regular'),
      bold: face('Medium'),
      italics: face('Italic'),
      bolditalics: face('MediumItalic'),
    },
  });
  writer.setUrlAccessPolicy(() => false);
  writer.setLocalAccessPolicy((path) => path.startsWith(faces));
  return writer.createPdf(document).getBuffer();
}
