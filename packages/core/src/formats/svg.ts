import {
  placedShapes,
  type At,
  type Drawing,
  type DrawnLink,
  type FramedDrawing,
  type FramedPage,
  type SymbolShape,
  type Sheet,
} from '../drawing/index.js';

/** How everything is painted, as attributes that any reader understands. */
const PLAIN = 'fill="none" stroke="#1d2327" stroke-width="1.5"';
export const PAINT = {
  line: `${PLAIN} stroke-linecap="square"`,
  stroke: PLAIN,
  dashed: `${PLAIN.replace('1.5', '1')} stroke-dasharray="3 2"`,
  filled: PLAIN.replace('none', '#1d2327'),
  dot: 'fill="#1d2327"',
  link: PLAIN.replace('none', '#ffffff'),
} as const;
/** How words of a size are painted. */
export const words = (size: number, more = '') =>
  `font-family="Barlow, Roboto, sans-serif" font-size="${size}" fill="#1d2327"${more}`;
export const BOLD = ' font-weight="600"';
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

/** A text at a place, of some attributes. */
export const written = (
  attributes: string,
  text: string,
  [x, y]: At,
  anchor: 'start' | 'middle' | 'end',
): string => `<text ${attributes} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(text)}</text>`;

/** A picture as wide and high as some millimetres. */
const picture = (width: number, height: number, content: string): string => {
  const size = `viewBox="0 0 ${n(width)} ${n(height)}" width="${n(width)}mm" height="${n(height)}mm"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}>\n${content}\n</svg>`;
};

function shape(one: SymbolShape): string {
  if (one.kind === 'circle')
    return `<circle ${PAINT.stroke} cx="${n(one.at[0])}" cy="${n(one.at[1])}" r="${n(one.r)}"/>`;
  if (one.kind === 'word')
    return written(words(one.size, BOLD), one.text, [one.at[0], one.at[1] + one.size / 3], 'middle');
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
      const end = `<circle ${PAINT.link} cx="${n(link.at[0])}" cy="${n(link.at[1])}" r="2.4"/>`;
      return end + written(WORDS.name, linkWords(link), [x, y], anchor);
    }),
    ...texts.map(({ text, at, anchor, kind }) => written(WORDS[kind], text, at, anchor)),
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
    ...frame.texts.map(({ text, at, size, anchor, bold }) =>
      written(words(size, bold ? BOLD : ''), text, at, anchor),
    ),
    ...placed.map(
      ({ sheet, at: [x, y], scale }) =>
        `<g transform="translate(${n(x)} ${n(y)}) scale(${Math.round(scale * 1e5) / 1e5})">\n${sheetSvg(sheet, form)}\n</g>`,
    ),
  ].join('\n');
}

/** One page of a framed drawing as a picture of its own, in millimetres. */
export function pageSvg({ form, pages, size: [width, height] }: FramedDrawing, k: number): string {
  return picture(width, height, pageContent(pages[k]!, form));
}

/** A framed drawing as one SVG picture in millimetres, its pages below one another. */
export function toSvg({ form, pages, size: [width, height] }: FramedDrawing): string {
  const tall = pages.length * (height + APART) - APART;
  const groups = pages.map((page, k) => {
    const paper = `<rect width="${n(width)}" height="${n(height)}" fill="#fff"/>`;
    const top = n(k * (height + APART));
    return `<g transform="translate(0 ${top})">\n${paper}\n${pageContent(page, form)}\n</g>`;
  });
  return `${picture(width, tall, groups.join('\n'))}\n`;
}
