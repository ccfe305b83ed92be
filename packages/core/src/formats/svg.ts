import {
  placedShapes,
  type Drawing,
  type DrawnLink,
  type FramedDrawing,
  type FramedPage,
  type SymbolShape,
  type Sheet,
} from '../drawing/index.js';

/** How everything is painted, as attributes that any reader understands. */
const PLAIN = 'fill="none" stroke="#1d2327" stroke-width="1.5"';
const PAINT = {
  line: `${PLAIN} stroke-linecap="square"`,
  stroke: PLAIN,
  dashed: `${PLAIN.replace('1.5', '1')} stroke-dasharray="3 2"`,
  filled: PLAIN.replace('none', '#1d2327'),
  dot: 'fill="#1d2327"',
  link: PLAIN.replace('none', '#ffffff'),
} as const;
const words = (size: number, more = '') =>
  `font-family="Barlow, Roboto, sans-serif" font-size="${size}" fill="#1d2327"${more}`;
const BOLD = ' font-weight="600"';
const WORDS = {
  tag: words(13, BOLD),
  terminal: words(10),
  reference: words(10),
  'reference-nc': words(10, ' text-decoration="underline"'),
  number: words(11),
  name: words(11, BOLD),
  wire: words(10, ' font-style="italic"'),
} as const;

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

const n = (value: number): string => String(Math.round(value * 100) / 100);
const points = (list: readonly (readonly [number, number])[]): string =>
  list.map(([x, y]) => `${n(x)},${n(y)}`).join(' ');

function shape(one: SymbolShape): string {
  if (one.kind === 'circle')
    return `<circle ${PAINT.stroke} cx="${n(one.at[0])}" cy="${n(one.at[1])}" r="${n(one.r)}"/>`;
  if (one.kind === 'word')
    return `<text ${words(one.size, BOLD)} x="${n(one.at[0])}" y="${n(one.at[1] + one.size / 3)}" text-anchor="middle">${one.text}</text>`;
  const paint = one.filled ? PAINT.filled : one.dashed ? PAINT.dashed : PAINT.stroke;
  return `<polyline ${paint} points="${points(one.points)}"/>`;
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

/** The name of a net at a line that goes on, and where it goes on. */
export const linkWords = ({ name, goesTo }: DrawnLink): string =>
  goesTo === undefined ? name : `${name} ${goesTo}`;

function sheetSvg({ symbols, lines, dots, links, texts, linkages }: Sheet, form: Drawing['form']): string {
  return [
    ...lines.map((line) => `<polyline ${PAINT.line} points="${points(line.points)}"/>`),
    ...dots.map(([x, y]) => `<circle ${PAINT.dot} cx="${n(x)}" cy="${n(y)}" r="2.6"/>`),
    ...symbols.flatMap((symbol) => {
      const { fixed, moving, atRest } = placedShapes(symbol, form);
      return [...fixed, ...(moving?.[atRest] ?? [])].map(shape);
    }),
    ...linkages.flatMap(({ shapes }) => shapes.map(shape)),
    ...links.map((link) => {
      const { x, y, anchor } = linkText(link);
      return `<circle ${PAINT.link} cx="${n(link.at[0])}" cy="${n(link.at[1])}" r="2.4"/><text ${WORDS.name} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(linkWords(link))}</text>`;
    }),
    ...texts.map(
      ({ text, at: [x, y], anchor, kind }) =>
        `<text ${WORDS[kind]} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(text)}</text>`,
    ),
  ].join('\n');
}

/** Between one page and the next, mm. */
const APART = 10;

const FRAME = 'stroke="#1d2327" stroke-width="0.35" fill="none"';

function pageContent({ frame, placed }: FramedPage, form: Drawing['form']): string {
  return [
    ...frame.lines.map(
      ([[x1, y1], [x2, y2]]) => `<line ${FRAME} x1="${n(x1)}" y1="${n(y1)}" x2="${n(x2)}" y2="${n(y2)}"/>`,
    ),
    ...frame.texts.map(
      ({ text, at: [x, y], size, anchor, bold }) =>
        `<text ${words(size, bold ? BOLD : '')} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(text)}</text>`,
    ),
    ...placed.map(
      ({ sheet, at: [x, y], scale }) =>
        `<g transform="translate(${n(x)} ${n(y)}) scale(${Math.round(scale * 1e5) / 1e5})">\n${sheetSvg(sheet, form)}\n</g>`,
    ),
  ].join('\n');
}

/** One page of a framed drawing as a picture of its own, in millimetres. */
export function pageSvg({ form, pages, size: [width, height] }: FramedDrawing, k: number): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(height)}" width="${n(width)}mm" height="${n(height)}mm">\n${pageContent(pages[k]!, form)}\n</svg>`;
}

/** A framed drawing as one SVG picture in millimetres, its pages below one another. */
export function toSvg({ form, pages, size: [width, height] }: FramedDrawing): string {
  const tall = pages.length * (height + APART) - APART;
  const groups = pages.map(
    (page, k) =>
      `<g transform="translate(0 ${n(k * (height + APART))})">\n<rect width="${n(width)}" height="${n(height)}" fill="#fff"/>\n${pageContent(page, form)}\n</g>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(tall)}" width="${n(width)}mm" height="${n(tall)}mm">
${groups.join('\n')}
</svg>
`;
}
