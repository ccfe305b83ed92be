import {
  placedShapes,
  type At,
  type Drawing,
  type FramedDrawing,
  type FrameText,
  type Sheet,
  type SymbolShape,
} from '../drawing/index.js';
import { linkText, linkWords } from './svg.js';

/** Millimetres between one page and the next. */
const APART = 20;

const number = (value: number): string => String(Math.round(value * 1e4) / 1e4);
const pair = (code: number, value: string | number): string =>
  `${code}\n${typeof value === 'number' ? number(value) : value}`;

/** Layers by what lies on them. */
const LAYERS = { wires: 'WIRES', symbols: 'SYMBOLS', texts: 'TEXTS', frame: 'FRAME' } as const;

/** Letters that R12 has no code page for are written as it writes them: `%%` codes, or without their mark. */
const plainText = (text: string): string =>
  text
    .replaceAll('Ω', 'Ohm')
    .replaceAll('⏚', 'PE')
    .replaceAll(/[–—−]/g, '-')
    .replaceAll(
      /[^\u0020-\u007e]/g,
      (letter) => `\\U+${letter.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}`,
    )
    .replaceAll('\n', ' ');

/**
 * A framed drawing as DXF R12 (AC1009; Autodesk DXF Reference R12, from memory): lines, circles and texts in
 * millimetres, y upwards, its pages below one another.
 */
export function toDxf({ form, pages, size: [width, height] }: FramedDrawing): string {
  const entities = pages.flatMap(({ frame, placed }, k) => {
    const top = k * (height + APART);
    const onPage = ([x, y]: At): At => [x, -(top + y)];
    return [
      ...frame.lines.map(([a, b]) => line(onPage(a), onPage(b), LAYERS.frame)),
      ...frame.texts.map((one) => frameText(one, onPage(one.at))),
      ...placed.flatMap(({ sheet, at: [left, upper], scale }) =>
        sheetEntities(sheet, form, {
          at: ([x, y]) => onPage([left + x * scale, upper + y * scale]),
          scale,
        }),
      ),
    ];
  });
  const deep = pages.length * (height + APART) - APART;
  return [
    section('HEADER', [
      pair(9, '$ACADVER'),
      pair(1, 'AC1009'),
      pair(9, '$INSBASE'),
      point(10, [0, 0]),
      pair(9, '$EXTMIN'),
      point(10, [0, -deep]),
      pair(9, '$EXTMAX'),
      point(10, [width, 0]),
    ]),
    section('TABLES', [
      table('LTYPE', [linetype('CONTINUOUS', 'Solid', []), linetype('DASHED', '__ __', [0.75, -0.5])]),
      table(
        'LAYER',
        Object.values(LAYERS).map((name) =>
          [pair(0, 'LAYER'), pair(2, name), pair(70, '0'), pair(62, '7'), pair(6, 'CONTINUOUS')].join('\n'),
        ),
      ),
    ]),
    section('ENTITIES', entities),
    pair(0, 'EOF'),
    '',
  ].join('\n');
}

const section = (name: string, content: readonly string[]): string =>
  [pair(0, 'SECTION'), pair(2, name), ...content, pair(0, 'ENDSEC')].join('\n');

const table = (name: string, entries: readonly string[]): string =>
  [pair(0, 'TABLE'), pair(2, name), pair(70, String(entries.length)), ...entries, pair(0, 'ENDTAB')].join(
    '\n',
  );

const linetype = (name: string, words: string, dashes: readonly number[]): string =>
  [
    pair(0, 'LTYPE'),
    pair(2, name),
    pair(70, '0'),
    pair(3, words),
    pair(72, '65'),
    pair(73, String(dashes.length)),
    pair(
      40,
      dashes.reduce((sum, one) => sum + Math.abs(one), 0),
    ),
    ...dashes.map((one) => pair(49, one)),
  ].join('\n');

const point = (code: number, [x, y]: At): string => [pair(code, x), pair(code + 10, y)].join('\n');

function line(a: At, b: At, layer: string, dashed = false): string {
  const style = dashed ? [pair(6, 'DASHED')] : [];
  return [pair(0, 'LINE'), pair(8, layer), ...style, point(10, a), point(11, b)].join('\n');
}

const circle = (at: At, r: number, layer: string): string =>
  [pair(0, 'CIRCLE'), pair(8, layer), point(10, at), pair(40, r)].join('\n');

const ANCHORS = { start: 0, middle: 1, end: 2 } as const;

/** A text that is not at its left end is placed by its alignment point. */
function text(
  at: At,
  words: string,
  height: number,
  anchor: keyof typeof ANCHORS,
  layer: string = LAYERS.texts,
): string {
  const aligned = anchor === 'start' ? [] : [pair(72, String(ANCHORS[anchor])), point(11, at)];
  return [
    pair(0, 'TEXT'),
    pair(8, layer),
    point(10, at),
    pair(40, height),
    pair(1, plainText(words)),
    ...aligned,
  ].join('\n');
}

/** Height of capitals of what a size is, per unit. */
const CAPITALS = 0.7;

/** A text of the frame, its letters as high as it says. */
const frameText = ({ text: words, size, anchor }: FrameText, at: At): string =>
  text(at, words, size * CAPITALS, anchor, LAYERS.frame);

/** Where a sheet lies: a place of it on paper, and millimetres of its unit. */
interface Placing {
  readonly at: (place: At) => At;
  readonly scale: number;
}

function sheetEntities(sheet: Sheet, form: Drawing['form'], { at, scale }: Placing): string[] {
  const path = (points: readonly At[], layer: string, dashed = false) =>
    points.slice(1).map((to, k) => line(at(points[k]!), at(to), layer, dashed));
  const shape = (one: SymbolShape): string[] => {
    if (one.kind === 'circle') return [circle(at(one.at), one.r * scale, LAYERS.symbols)];
    if (one.kind === 'word')
      return [
        text(at([one.at[0], one.at[1] + one.size / 3]), one.text, one.size * scale * CAPITALS, 'middle'),
      ];
    return path(one.points, LAYERS.symbols, one.dashed);
  };
  return [
    ...sheet.lines.flatMap(({ points }) => path(points, LAYERS.wires)),
    ...sheet.dots.map((dot) => circle(at(dot), 2.6 * scale, LAYERS.wires)),
    ...sheet.symbols.flatMap((symbol) => {
      const { fixed, moving, atRest } = placedShapes(symbol, form);
      return [...fixed, ...(moving?.[atRest] ?? [])].flatMap(shape);
    }),
    ...sheet.linkages.flatMap(({ shapes }) => shapes.flatMap(shape)),
    ...sheet.links.flatMap((link) => {
      const { x, y, anchor } = linkText(link);
      return [
        circle(at(link.at), 2.4 * scale, LAYERS.wires),
        text(at([x, y]), linkWords(link), 11 * scale * CAPITALS, anchor),
      ];
    }),
    ...sheet.texts.map(({ text: words, at: place, anchor }) =>
      text(at(place), words, 10 * scale * 0.8, anchor),
    ),
  ];
}
