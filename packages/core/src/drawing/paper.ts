import type { At } from './shape.js';

/** Papers on which drawings lie on their side. */
export const SHEET_PAPERS = ['A4', 'A3', 'LETTER', 'TABLOID'] as const;
export type SheetPaper = (typeof SHEET_PAPERS)[number];

interface PaperForm {
  /** Width and height on its side, mm (ISO 216; ANSI/ASME Y14.1 sizes A and B, from memory). */
  readonly size: readonly [number, number];
  /** Columns and rows of the grid reference (ISO 5457:1999 table 3, from memory; the US ones alike). */
  readonly zones: readonly [number, number];
}

export const SHEET_FORMS: Readonly<Record<SheetPaper, PaperForm>> = {
  A4: { size: [297, 210], zones: [6, 4] },
  A3: { size: [420, 297], zones: [8, 6] },
  LETTER: { size: [279.4, 215.9], zones: [6, 4] },
  TABLOID: { size: [431.8, 279.4], zones: [8, 6] },
};

/** From the edge of the paper to the drawing space, mm: the left one is for filing (ISO 5457:1999, from memory). */
const EDGE = { left: 20, right: 10, top: 10, bottom: 10 } as const;
/** Depth of the band with the grid reference, mm. */
const BAND = 5;
/** Height of the title block, mm. */
const TITLE_BLOCK = 22;

/** What stands in the title block (fields of ISO 7200:2004, from memory). */
export interface TitleBlock {
  readonly title: string;
  /** Identification number. */
  readonly number: string;
  /** Who made it. */
  readonly author: string;
  /** Date of issue, as it is to be written. */
  readonly date: string;
  /** Legal owner. */
  readonly owner: string;
}

export interface FrameText {
  readonly text: string;
  readonly at: At;
  /** Height of its letters, mm. */
  readonly size: number;
  readonly anchor: 'start' | 'middle' | 'end';
  readonly bold?: true;
}

/** A frame with its zones and its title block, mm from the upper left corner of the paper. */
export interface Frame {
  readonly lines: readonly (readonly [At, At])[];
  readonly texts: readonly FrameText[];
}

/** Where a drawing may stand on a paper, mm: left, top, width, height. */
export function drawingSpace(paper: SheetPaper): readonly [number, number, number, number] {
  const [width, height] = SHEET_FORMS[paper].size;
  return [EDGE.left, EDGE.top, width - EDGE.left - EDGE.right, height - EDGE.top - EDGE.bottom - TITLE_BLOCK];
}

const letter = (row: number): string => String.fromCharCode(65 + row);

/** The zone in which a place of a paper lies: `B3`. */
export function zoneAt(paper: SheetPaper, [x, y]: At): string {
  const { size, zones } = SHEET_FORMS[paper];
  const [left, top] = [EDGE.left, EDGE.top];
  const [width, height] = [size[0] - left - EDGE.right, size[1] - top - EDGE.bottom];
  const within = (part: number, count: number) => Math.min(count - 1, Math.max(0, Math.floor(part * count)));
  return `${letter(within((y - top) / height, zones[1]))}${within((x - left) / width, zones[0]) + 1}`;
}

/** Which sheet of how many, and what kind of document it is. */
interface SheetOf {
  readonly n: number;
  readonly of: number;
  readonly what: string;
}

/** The frame of one sheet of some. */
export function frameOf(paper: SheetPaper, block: TitleBlock, { n, of, what }: SheetOf): Frame {
  const [width, height] = SHEET_FORMS[paper].size;
  const inner = [EDGE.left, EDGE.top, width - EDGE.right, height - EDGE.bottom] as const;
  const outer = [inner[0] - BAND, inner[1] - BAND, inner[2] + BAND, inner[3] + BAND] as const;
  const grid = gridOf(paper, inner, outer);
  const title = titleBlock(block, inner, { n, of, what });
  return {
    lines: [...boxLines(inner), ...boxLines(outer), ...grid.lines, ...title.lines],
    texts: [...grid.texts, ...title.texts],
  };
}

type Box = readonly [x1: number, y1: number, x2: number, y2: number];

const boxLines = ([x1, y1, x2, y2]: Box): [At, At][] => [
  [
    [x1, y1],
    [x2, y1],
  ],
  [
    [x2, y1],
    [x2, y2],
  ],
  [
    [x2, y2],
    [x1, y2],
  ],
  [
    [x1, y2],
    [x1, y1],
  ],
];

/** Ticks and names of the zones along all four sides. */
function gridOf(paper: SheetPaper, inner: Box, outer: Box): Frame {
  const lines: [At, At][] = [];
  const texts: FrameText[] = [];
  /** Along one axis, 0 is x; the band's two sides lie across it. */
  const along = (axis: 0 | 1, nameOf: (k: number) => string) => {
    const count = SHEET_FORMS[paper].zones[axis];
    const across = (1 - axis) as 0 | 1;
    const place = (a: number, b: number): At => (axis === 0 ? [a, b] : [b, a]);
    const [begin, length] = [inner[axis], inner[(axis + 2) as 2 | 3] - inner[axis]];
    const far = (across + 2) as 2 | 3;
    for (let k = 0; k < count; k += 1) {
      const at = begin + (length * k) / count;
      for (const [from, to] of [
        [outer[across], inner[across]],
        [inner[far], outer[far]],
      ] as const) {
        if (k > 0) lines.push([place(at, from), place(at, to)]);
        const [x, y] = place(at + length / count / 2, (from + to) / 2);
        texts.push({ text: nameOf(k), at: [x, y + 0.9], size: 2.5, anchor: 'middle' });
      }
    }
  };
  along(0, (k) => String(k + 1));
  along(1, letter);
  return { lines, texts };
}

/** Sizes in which a title is written, the largest in which it fits, mm. */
const TITLE_SIZES = [5, 4, 3.5] as const;
/** Width of a letter by its height. */
const LETTER = 0.64;

/** Letters of a field that fit into so many millimetres at a height. */
const fitting = (text: string, width: number, size: number): string => {
  const most = Math.floor(width / (LETTER * size));
  return text.length <= most ? text : `${text.slice(0, Math.max(1, most - 1))}…`;
};

/** The strip along the lower edge: owner, title, type, number, author, date, sheet. */
function titleBlock(
  { title, number, author, date, owner }: TitleBlock,
  [x1, , x2, y2]: Box,
  { n, of, what }: SheetOf,
): Frame {
  const top = y2 - TITLE_BLOCK;
  const half = top + TITLE_BLOCK / 2;
  const width = x2 - x1;
  const [a, b, c] = [x1 + 0.24 * width, x1 + 0.62 * width, x1 + 0.81 * width];
  const lines: [At, At][] = [
    [
      [x1, top],
      [x2, top],
    ],
    ...[a, b, c].map((x): [At, At] => [
      [x, top],
      [x, y2],
    ]),
    [
      [b, half],
      [x2, half],
    ],
  ];
  const texts: FrameText[] = [];
  const field = (name: string, text: string, [x, y, room]: readonly [number, number, number], size = 3) => {
    texts.push({ text: name, at: [x + 1.5, y + 3], size: 1.8, anchor: 'start' });
    texts.push({
      text: fitting(text, room - 3, size),
      at: [x + 1.5, y + 4.2 + size],
      size,
      anchor: 'start',
      ...(size > 3 ? { bold: true as const } : {}),
    });
  };
  field('Legal owner', owner, [x1, top, a - x1]);
  const room = b - a - 3;
  const size = TITLE_SIZES.find((one) => title.length * LETTER * one <= room) ?? TITLE_SIZES.at(-1)!;
  field('Title', title, [a, top, b - a], size);
  texts.push({ text: what, at: [a + 1.5, y2 - 4], size: 3, anchor: 'start' });
  field('Identification number', number, [b, top, c - b]);
  field('Created by', author, [c, top, x2 - c]);
  field('Date of issue', date, [b, half, c - b]);
  field('Sheet', `${n} of ${of}`, [c, half, x2 - c]);
  return { lines, texts };
}
