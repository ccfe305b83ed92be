import { toSvg, type Drawing } from '@contactum/core';

/** The name of a file, after the title of what is in it. */
export const fileName = (title: string, ending: string): string =>
  `${title
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-|-$/g, '')}.${ending}`;

/** Saves a drawing to a file of the reader's. The writer of PDFs comes only when it is asked for. */
export async function saveDrawing(drawing: Drawing, title: string, kind: 'svg' | 'pdf'): Promise<void> {
  const name = fileName(title, kind);
  if (kind === 'svg') {
    save(new Blob([toSvg(drawing, title)], { type: 'image/svg+xml' }), name);
    return;
  }
  const { drawingPdf } = await import('./pdf.js');
  save(await drawingPdf(drawing, title), name);
}

export function save(file: Blob, name: string): void {
  const url = URL.createObjectURL(file);
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
