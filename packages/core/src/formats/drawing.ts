import type { Drawing } from '../drawing/index.js';

/** A drawing as the plain document `drawing/1`: geometry alone. */
export const drawingDocument = ({ form, sheets }: Drawing) => ({
  contactum: 'drawing/1' as const,
  form,
  sheets: sheets.map(({ circuit, size, symbols, lines, dots, links, texts, paths }) => ({
    circuit,
    size,
    symbols: symbols.map(({ device, part, symbol, box, terminals }) => ({
      device,
      part,
      symbol,
      box,
      terminals,
    })),
    lines: lines.map(({ points }) => ({ points })),
    dots,
    links: links.map(({ name, at }) => ({ name, at })),
    texts: texts.map(({ text, at, of }) => (of === undefined ? { text, at } : { text, at, of })),
    paths,
  })),
});

/** A drawing as its document has it. */
export type DrawingDocument = ReturnType<typeof drawingDocument>;
