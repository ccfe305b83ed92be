import { describe, expect, test } from '@jest/globals';
import {
  DRAWING_FORMS,
  SHEET_PAPERS,
  drawingDocument,
  drawingOf,
  framedDrawing,
  pageSvg,
  referenceBench,
  toDxf,
  toSvg,
  type Bench,
  type Device,
  type FramedDrawing,
} from '@contactum/core';
import { blemishes, falsehoods } from './drawing-reader.js';
import { exercise, exercises, longList } from './help.js';

const BLOCK = { title: 'Board', number: 'N-1', author: 'Somebody', date: '2026-11-30', owner: 'College' };

/** What stands on the pages, read back as one drawing. */
const asDrawing = ({ form, nets, pages }: FramedDrawing) =>
  drawingDocument({ form, nets, sheets: pages.flatMap(({ placed }) => placed.map(({ sheet }) => sheet)) });

/** A board several times over on one: each copy's devices have a digit more. */
function copies(bench: Bench, count: number): Bench {
  const numbers = Array.from({ length: count }, (_, k) => k);
  const tagged = (tag: string, k: number) => (k === 0 ? tag : `${tag}0${k}`);
  return {
    ...bench,
    interlocks: numbers.flatMap((k) =>
      (bench.interlocks ?? []).map((one) => ({ ...one, between: one.between.map((tag) => tagged(tag, k)) })),
    ),
    devices: numbers.flatMap((k) =>
      bench.devices.map((device) => ({ ...device, tag: tagged(device.tag, k) }) as Device),
    ),
    wires: numbers.flatMap((k) =>
      bench.wires.map((wire) => ({
        ...wire,
        from: wire.from.replace(/^[^:]+/, (tag) => tagged(tag, k)) as typeof wire.from,
        to: wire.to.replace(/^[^:]+/, (tag) => tagged(tag, k)) as typeof wire.to,
      })),
    ),
  };
}

/** Nothing of a page lies outside its drawing space, and nothing on another part. */
function outside({ pages, size: [width, height] }: FramedDrawing): string[] {
  return pages.flatMap(({ placed }, k) => {
    const boxes = placed.map(({ sheet: { size }, at: [x, y], scale }) => [
      x,
      y,
      x + size[0] * scale,
      y + size[1] * scale,
    ]) as [number, number, number, number][];
    const over = boxes.filter(
      ([x1, y1, x2, y2]) => x1 < 19.99 || y1 < 9.99 || x2 > width - 9.99 || y2 > height - 31.99,
    );
    const lying = boxes.filter(([x1, y1, x2, y2], n) =>
      boxes.slice(n + 1).some(([a1, b1, a2, b2]) => x1 < a2 && a1 < x2 && y1 < b2 && b1 < y2),
    );
    return [...over.map(() => `page ${k + 1}: off the space`), ...lying.map(() => `page ${k + 1}: overlap`)];
  });
}

describe('a drawing on sheets of paper', () => {
  test('every shipped board stands on one sheet of every paper, in either form, and reads as it is wired', () => {
    for (const one of longList(exercises().filter(({ task }) => task !== 'find'))) {
      const bench = referenceBench(one);
      for (const form of DRAWING_FORMS)
        for (const paper of SHEET_PAPERS) {
          const framed = framedDrawing(drawingOf(bench, form), paper, BLOCK);
          const name = `${one.id} ${form} ${paper}`;
          expect({ name, found: falsehoods(bench, asDrawing(framed)) }).toEqual({ name, found: [] });
          expect({ name, found: outside(framed) }).toEqual({ name, found: [] });
          if (paper === 'A3' || paper === 'TABLOID')
            expect({ name, pages: framed.pages.length }).toEqual({ name, pages: 1 });
          // Letters of 10 units are never under 1.8 mm (ISO 3098: 1.8 is the least height).
          for (const { placed } of framed.pages)
            for (const { scale } of placed) expect(10 * scale).toBeGreaterThanOrEqual(1.79);
        }
    }
  });

  test.each(['salt-harrow-electrical-interlock', 'brine-pump-lamps', 'blower-star-delta-reversing'])(
    'five of %s are cut into sheets that say the same as the whole',
    (id) => {
      const bench = copies(referenceBench(exercise(id)), 5);
      for (const form of DRAWING_FORMS)
        for (const paper of SHEET_PAPERS) {
          const framed = framedDrawing(drawingOf(bench, form), paper, BLOCK);
          expect(framed.pages.length).toBeGreaterThan(1);
          const document = asDrawing(framed);
          const name = `${id} ${form} ${paper}`;
          expect({ name, found: falsehoods(bench, document) }).toEqual({ name, found: [] });
          expect({ name, found: blemishes(document) }).toEqual({ name, found: [] });
          expect({ name, found: outside(framed) }).toEqual({ name, found: [] });
          const last = framed.pages.at(-1)!.frame.texts.map(({ text }) => text);
          expect(last).toContain(`${framed.pages.length} of ${framed.pages.length}`);
        }
    },
  );

  test('a reference names the sheet and the zone in which its symbol stands', () => {
    const bench = copies(referenceBench(exercise('salt-harrow-electrical-interlock')), 4);
    const framed = framedDrawing(drawingOf(bench, 'iec'), 'A4', BLOCK);
    const [width, height] = framed.size;
    let seen = 0;
    for (const { placed } of framed.pages)
      for (const { sheet } of placed)
        for (const { text, to } of sheet.texts) {
          if (!to) continue;
          const [, page = '', row = '', column = ''] = /\/(\d+)\.([A-D])(\d)$/.exec(text) ?? [];
          seen += 1;
          const target = framed.pages[Number(page) - 1]!.placed.flatMap(({ sheet: other, at, scale }) =>
            other.symbols
              .filter(({ device, part }) => device === to.device && part === to.part)
              .map(({ box }) => [
                at[0] + (box[0] + box[2] / 2) * scale,
                at[1] + (box[1] + box[3] / 2) * scale,
              ]),
          );
          expect(target).toHaveLength(1);
          const [x, y] = target[0] as [number, number];
          // Six columns and four rows over the space within the frame (ISO 5457).
          expect(Math.floor(((x - 20) / (width - 30)) * 6) + 1).toBe(Number(column));
          expect('ABCD'[Math.floor(((y - 10) / (height - 20)) * 4)]).toBe(row);
        }
    expect(seen).toBeGreaterThan(20);
  });

  test('title block and pages are in the picture, the file and the page alike', () => {
    const bench = copies(referenceBench(exercise('brine-pump-lamps')), 4);
    const block = { ...BLOCK, title: 'Pumps <all> & one' };
    const framed = framedDrawing(drawingOf(bench, 'iec'), 'A4', block);
    const svg = toSvg(framed);
    const dxf = toDxf(framed);
    for (const text of ['N-1', 'Somebody', '2026-11-30', 'College', `1 of ${framed.pages.length}`]) {
      expect(svg).toContain(`>${text}</text>`);
      expect(dxf).toContain(`\n${text}\n`);
    }
    expect(svg).toContain('Pumps &lt;all&gt; &amp; one');
    framed.pages.forEach((_, k) =>
      expect(pageSvg(framed, k)).toContain(`>${k + 1} of ${framed.pages.length}<`),
    );
    // What is too long for its field is cut off within it, not drawn over the next.
    const long = framedDrawing(drawingOf(bench, 'iec'), 'A4', { ...BLOCK, title: 'x'.repeat(300) });
    expect(long.pages[0]!.frame.texts.every(({ text }) => text.length < 60)).toBe(true);
  });

  test('a board without a wire is a sheet with nothing in it', () => {
    const framed = framedDrawing(
      drawingOf({ ...exercise('button-lamp-no').bench, wires: [] }, 'iec'),
      'A4',
      BLOCK,
    );
    expect(framed.pages).toHaveLength(1);
    expect(framed.pages[0]!.placed).toEqual([]);
  });
});
