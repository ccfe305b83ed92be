import {
  placedShapes,
  type Drawing,
  type DrawnLink,
  type SymbolShape,
  type Sheet,
} from '../drawing/index.js';

/** Drawing units between one sheet and the next, and for its heading. */
const HEADING = 28;

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

const n = (value: number): string => String(Math.round(value * 100) / 100);
const points = (list: readonly (readonly [number, number])[]): string =>
  list.map(([x, y]) => `${n(x)},${n(y)}`).join(' ');

function shape(one: SymbolShape): string {
  if (one.kind === 'circle') return `<circle cx="${n(one.at[0])}" cy="${n(one.at[1])}" r="${n(one.r)}"/>`;
  if (one.kind === 'word')
    return `<text class="word" x="${n(one.at[0])}" y="${n(one.at[1] + one.size / 3)}" font-size="${one.size}" text-anchor="middle">${one.text}</text>`;
  const kind = one.filled ? ' class="filled"' : one.dashed ? ' class="dashed"' : '';
  return `<polyline${kind} points="${points(one.points)}"/>`;
}

/** Where the name of a link stands: from its point to the side, and how it is anchored. */
export function linkText({ at: [x, y], side }: DrawnLink): {
  x: number;
  y: number;
  anchor: 'start' | 'middle' | 'end';
} {
  if (side === 'left') return { x: x - 6, y: y + 4, anchor: 'end' };
  if (side === 'right') return { x: x + 6, y: y + 4, anchor: 'start' };
  return { x: x - 5, y: side === 'above' ? y - 5 : y + 12, anchor: 'end' };
}

function sheetSvg({ symbols, lines, dots, links, texts }: Sheet, form: Drawing['form']): string {
  return [
    ...lines.map((line) => `<polyline class="line" points="${points(line.points)}"/>`),
    ...dots.map(([x, y]) => `<circle class="dot" cx="${n(x)}" cy="${n(y)}" r="2.6"/>`),
    ...symbols.flatMap((symbol) => {
      const { fixed, moving, atRest } = placedShapes(symbol, form);
      return [...fixed, ...(moving?.[atRest] ?? [])].map(shape);
    }),
    ...links.map((link) => {
      const { x, y, anchor } = linkText(link);
      return `<circle class="link" cx="${n(link.at[0])}" cy="${n(link.at[1])}" r="2.4"/><text class="name" x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(link.name)}</text>`;
    }),
    ...texts.map(
      ({ text, at: [x, y], anchor, kind }) =>
        `<text class="${kind}" x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(text)}</text>`,
    ),
  ].join('\n');
}

const STYLE = `polyline,circle{fill:none;stroke:#1d2327;stroke-width:1.5}
.line{stroke-linecap:square}.dashed{stroke-dasharray:3 2;stroke-width:1}.dot,.filled{fill:#1d2327}.link{fill:#fff}
text{font-family:Barlow,sans-serif;font-size:10px;fill:#1d2327}
.tag{font-size:13px;font-weight:600}.name{font-size:11px;font-weight:600}.number{font-size:11px}.heading{font-size:15px;font-weight:600}
.reference-nc{text-decoration:underline}`;

/** A drawing as one SVG picture, its sheets below one another. */
export function toSvg({ form, sheets }: Drawing, title: string): string {
  let top = 0;
  const groups = sheets.map((sheet) => {
    const heading = `<text class="heading" x="16" y="${top + 20}">${escaped(title)}: ${sheet.circuit} circuit</text>`;
    const group = `${heading}\n<g transform="translate(0 ${top + HEADING})">\n${sheetSvg(sheet, form)}\n</g>`;
    top += HEADING + sheet.size[1];
    return group;
  });
  const width = Math.max(120, ...sheets.map(({ size }) => size[0]));
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(Math.max(top, 60))}" width="${n(width)}" height="${n(Math.max(top, 60))}">
<style>${STYLE}</style>
<rect width="100%" height="100%" fill="#fff"/>
${groups.join('\n')}
</svg>
`;
}
