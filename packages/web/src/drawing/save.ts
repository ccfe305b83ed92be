import { toDxf, toSvg, type FramedDrawing } from '@contactum/core';

/** The name of a file, after the title of what is in it. */
export const fileName = (title: string, ending: string): string =>
  `${title
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-|-$/g, '')}.${ending}`;

/** Kinds of file in which a drawing is saved. */
export const DRAWING_FILES = ['pdf', 'svg', 'dxf'] as const;
export type DrawingFile = (typeof DRAWING_FILES)[number];

/** Saves a drawing to a file of the reader's. The writer of PDFs comes only when it is asked for. */
export async function saveDrawing(framed: FramedDrawing, kind: DrawingFile): Promise<void> {
  const name = fileName(framed.block.title, kind);
  if (kind === 'svg') save(new Blob([toSvg(framed)], { type: 'image/svg+xml' }), name);
  else if (kind === 'dxf') save(new Blob([toDxf(framed)], { type: 'image/vnd.dxf' }), name);
  else {
    const { drawingPdf } = await import('./pdf.js');
    save(await drawingPdf(framed), name);
  }
}

export function save(file: Blob, name: string): void {
  const url = URL.createObjectURL(file);
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
