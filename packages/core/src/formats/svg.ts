import {
  placedShapes,
  type Drawing,
  type DrawnLink,
  type SymbolShape,
  type Sheet,
} from '../drawing/index.js';

/** Drawing units between one sheet and the next, and for its heading. */
const HEADING = 28;

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
  heading: words(15, BOLD),
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
      return `<circle ${PAINT.link} cx="${n(link.at[0])}" cy="${n(link.at[1])}" r="2.4"/><text ${WORDS.name} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(link.name)}</text>`;
    }),
    ...texts.map(
      ({ text, at: [x, y], anchor, kind }) =>
        `<text ${WORDS[kind]} x="${n(x)}" y="${n(y)}" text-anchor="${anchor}">${escaped(text)}</text>`,
    ),
  ].join('\n');
}

/** One sheet as a picture of its own. */
export function sheetPicture(sheet: Sheet, form: Drawing['form']): string {
  const [width, height] = sheet.size;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(height)}" width="${n(width)}" height="${n(height)}">\n${sheetSvg(sheet, form)}\n</svg>`;
}

/** A drawing as one SVG picture, its sheets below one another. */
export function toSvg({ form, sheets }: Drawing, title: string): string {
  let top = 0;
  const groups = sheets.map((sheet) => {
    const heading = `<text ${WORDS.heading} x="16" y="${top + 20}">${escaped(title)}: ${sheet.circuit} circuit</text>`;
    const group = `${heading}\n<g transform="translate(0 ${top + HEADING})">\n${sheetSvg(sheet, form)}\n</g>`;
    top += HEADING + sheet.size[1];
    return group;
  });
  const width = Math.max(120, ...sheets.map(({ size }) => size[0]));
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(Math.max(top, 60))}" width="${n(width)}" height="${n(Math.max(top, 60))}">
<rect width="100%" height="100%" fill="#fff"/>
${groups.join('\n')}
</svg>
`;
}
