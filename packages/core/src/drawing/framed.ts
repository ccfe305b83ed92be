import type { At } from './shape.js';
import type { Drawing, DrawnLink, DrawnText, PlacedSymbol, Sheet } from './drawing.js';
import {
  SHEET_FORMS,
  drawingSpace,
  frameOf,
  zoneAt,
  type Frame,
  type SheetPaper,
  type TitleBlock,
} from './paper.js';
import { splitSheet } from './split.js';

/** Millimetres of a drawing unit at full size. */
const UNIT = 0.25;
/** How much larger and smaller a drawing may be shown: below the least its letters are under 1.8 mm. */
const SCALES = { most: 1.3, least: 0.72 } as const;
/** Room beside a sheet for where its nets go on on other pages, drawing units. */
const GOING_ON = 44;

/** Between two parts on one page, drawing units. */
const GAP = 36;

/** A part of a drawing on its page. */
export interface PlacedSheet {
  readonly sheet: Sheet;
  /** Its upper left corner on the paper, mm. */
  readonly at: At;
  /** Millimetres of one of its units. */
  readonly scale: number;
}

/** One sheet of paper with its frame and what is drawn in it. */
export interface FramedPage {
  readonly frame: Frame;
  readonly placed: readonly PlacedSheet[];
}

/** A drawing on sheets of paper: framed, with title blocks, references by sheet and zone. */
export interface FramedDrawing {
  readonly form: Drawing['form'];
  readonly nets: Drawing['nets'];
  readonly paper: SheetPaper;
  /** Width and height of a page, mm. */
  readonly size: readonly [number, number];
  readonly block: TitleBlock;
  readonly pages: readonly FramedPage[];
}

/** Places that are named at a line that goes on. */
const MOST_PLACES = 2;

const CIRCUITS = { power: 'power circuit', control: 'control circuit' } as const;

/** Puts a drawing onto as few pages as it is readable on. */
export function framedDrawing(drawing: Drawing, paper: SheetPaper, block: TitleBlock): FramedDrawing {
  const pages = paged(drawing, paper);
  const referred = withReferences(drawing, paper, pages);
  return {
    form: drawing.form,
    nets: drawing.nets,
    paper,
    size: SHEET_FORMS[paper].size,
    block,
    pages: referred.map((placed, k) => ({
      placed,
      frame: frameOf(paper, block, {
        n: k + 1,
        of: referred.length,
        what: `Circuit diagram: ${[...new Set(placed.map(({ sheet }) => CIRCUITS[sheet.circuit]))].join(' and ')}`,
      }),
    })),
  };
}

/** The room of a page, drawing units at full size. */
const roomOf = (paper: SheetPaper): At => {
  const [, , width, height] = drawingSpace(paper);
  return [width / UNIT, height / UNIT];
};

/** What stands on each page, in order; an empty drawing has one empty page. */
function paged(drawing: Drawing, paper: SheetPaper): PlacedSheet[][] {
  const { sheets } = drawing;
  const together = arranged(sheets, paper);
  if (together) return [together];
  return sheets.flatMap((sheet) => piecesOf(drawing, sheet, paper).map((piece) => [alone(piece, paper)]));
}

/** A sheet by itself on a page; at its left the links have room for the places where their nets go on. */
function alone(sheet: Sheet, paper: SheetPaper): PlacedSheet {
  const room = sheet.links.some(({ side }) => side === 'left') ? GOING_ON : 0;
  const [width, height] = sheet.size;
  const [placed] = arranged([{ ...sheet, size: [width + room, height] }], paper, true)!;
  const { at, scale } = placed!;
  return { sheet, at: [at[0] + room * scale, at[1]], scale };
}

/** A sheet whole where it is readable on a page, else cut across its longer overhang first. */
function piecesOf(drawing: Drawing, sheet: Sheet, paper: SheetPaper): Sheet[] {
  const [width, height] = roomOf(paper);
  return splitSheet(sheet, drawing, 0, width / SCALES.least - GOING_ON).flatMap((piece) =>
    splitSheet(piece, drawing, 1, height / SCALES.least),
  );
}

/** Parts side by side or below one another, whichever is larger; null where they are not readable so. */
function arranged(sheets: readonly Sheet[], paper: SheetPaper, anyScale = false): PlacedSheet[] | null {
  const room = roomOf(paper);
  const scaleOf = (axis: 0 | 1): number => {
    const long = sheets.reduce((sum, { size }) => sum + size[axis], GAP * Math.max(0, sheets.length - 1));
    const wide = Math.max(1, ...sheets.map(({ size }) => size[1 - axis]!));
    return Math.min(SCALES.most, room[axis] / Math.max(1, long), room[1 - axis]! / wide);
  };
  const [row, column] = [scaleOf(0), scaleOf(1)];
  const axis = row >= column ? 0 : 1;
  const factor = Math.max(row, column);
  if (factor < SCALES.least && !anyScale) return null;
  const [left, top, width, height] = drawingSpace(paper);
  const scale = factor * UNIT;
  const lengths = sheets.map(({ size }) => size[axis] * scale);
  const used = lengths.reduce((sum, one) => sum + one, GAP * scale * Math.max(0, sheets.length - 1));
  // What is left over stands about it on all sides alike.
  let along = ((axis === 0 ? width : height) - used) / 2;
  return sheets.map((sheet, k) => {
    const across = ((axis === 0 ? height : width) - sheet.size[1 - axis]! * scale) / 2;
    const at: At = axis === 0 ? [left + along, top + across] : [left + across, top + along];
    along += lengths[k]! + GAP * scale;
    return { sheet, at, scale };
  });
}

/** Cross references to the sheet and the zone in which a symbol stands; rungs of a ladder keep their numbers. */
function withReferences(
  { form }: Drawing,
  paper: SheetPaper,
  pages: readonly (readonly PlacedSheet[])[],
): PlacedSheet[][] {
  const places = new Map<string, string>();
  /** `/2.B3`, or `/B3` where there is one sheet. */
  const placeOn = (n: number, at: At): string =>
    `/${pages.length > 1 ? `${n + 1}.` : ''}${zoneAt(paper, at)}`;
  const key = (device: string, part: string) => `${device} ${part}`;
  pages.forEach((page, n) => {
    for (const { sheet, at, scale } of page)
      for (const { device, part, box } of sheet.symbols) {
        places.set(key(device, part), placeOn(n, centre(box, at, scale)));
      }
  });
  const referred = (text: DrawnText): DrawnText => {
    const place = text.to && places.get(key(text.to.device, text.to.part));
    if (place === undefined) return text;
    return { ...text, text: text.text.replace(/power$|\/\d+$/, place) };
  };
  const ends = pages.flatMap((page, n) =>
    page.flatMap(({ sheet, at, scale }) =>
      sheet.links.map((link) => {
        const where = placeOn(n, [at[0] + link.at[0] * scale, at[1] + link.at[1] * scale]);
        return { link, n, where };
      }),
    ),
  );
  /** Where a net goes on on other pages; on the same one it is found by its name. */
  const goingOn = (link: DrawnLink, n: number): DrawnLink => {
    const others = ends.filter((one) => one.link.net === link.net && one.n !== n);
    const places = [...new Set(others.map(({ where }) => where))];
    return places.length === 0 ? link : { ...link, goesTo: places.slice(0, MOST_PLACES).join(' ') };
  };
  return pages.map((page, n) =>
    page.map((placed) => ({
      ...placed,
      sheet: {
        ...placed.sheet,
        links: placed.sheet.links.map((link) => goingOn(link, n)),
        texts: form === 'iec' ? placed.sheet.texts.map(referred) : placed.sheet.texts,
      },
    })),
  );
}

const centre = ([x, y, width, height]: PlacedSymbol['box'], [left, top]: At, scale: number): At => [
  left + (x + width / 2) * scale,
  top + (y + height / 2) * scale,
];
