import { execFileSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import type { IDxf } from 'dxf-parser';
import fc from 'fast-check';
import {
  Simulation,
  Solver,
  benchSheet,
  compile,
  deckOf,
  drawingOf,
  framedDrawing,
  faultEffects,
  finished,
  planningPaper,
  readDeck,
  referenceBench,
  referenceCircuitOf,
  spellRef,
  terminalsOf,
  toDxf,
  toSvg,
  writeDeck,
  type Wire,
} from '@contactum/core';
import { DOCUMENT_SCHEMAS, jsonSchemaOf } from '@contactum/core/documents';
import {
  listedWires,
  readCsv,
  readFaultList,
  readMaterials,
  readWireList,
  takenOf,
  writeCsv,
  writeFaultList,
  writeMaterials,
  writeWireList,
} from '@contactum/core/exchange';
import { shippedExercises } from '@contactum/core/exercises';
import { everySecond, exercise } from '../../core/test/help.js';
import { command as run, ownFolder } from './help.js';

// The reader of DXF is of another age of modules.
const DxfParser = createRequire(import.meta.url)('dxf-parser') as new () => {
  parseSync(text: string): IDxf | null;
};

const { folder, file: put } = ownFolder('formats');

describe('what is exported and imported again is what it was', () => {
  test.each(everySecond(shippedExercises()).map((one) => [one.id, one] as const))(
    '%s: wire list, materials and SPICE deck',
    (_, one) => {
      const bench = referenceBench(one);
      expect(takenOf(readWireList(writeWireList(bench), terminalsOf(bench)))).toEqual(listedWires(bench));
      const { materials } = planningPaper(bench, one);
      expect(readMaterials(writeMaterials(materials)).materials).toEqual(materials);
      const circuit = compile(bench);
      const deck = deckOf(circuit, new Simulation(new Solver(circuit)).state);
      expect(readDeck(writeDeck(deck))).toEqual({ deck, problems: [] });
    },
  );

  test('any leads between terminals of a board, however they are named and coloured', () => {
    const bench = referenceBench(exercise('brine-pump-lamps'));
    const terminals = terminalsOf(bench);
    const word = fc
      .string({ minLength: 1, maxLength: 12 })
      .filter((text) => text.trim() === text && !text.startsWith("'"));
    const amount = fc.double({ min: 0.01, max: 99, noNaN: true });
    const wire = fc.record({
      colour: word,
      number: word,
      area: amount,
      length: amount,
      ends: fc.shuffledSubarray(terminals, { minLength: 2, maxLength: 2 }),
    });
    fc.assert(
      fc.property(fc.array(wire, { maxLength: 20 }), (list) => {
        const wires = list.map(({ ends: [from, to], ...more }) => ({ from, to, ...more }) as Wire);
        const csv = writeCsv(
          ['From', 'To', 'Colour', 'Number', 'Area, mm²', 'Length, m'],
          wires.map(({ from, to, colour, number, area, length }) => [
            spellRef(from),
            spellRef(to),
            colour!,
            number!,
            String(area),
            String(length),
          ]),
        );
        expect(takenOf(readWireList(csv, terminals))).toEqual(wires);
      }),
      { numRuns: 200, seed: 4711 },
    );
  });

  test('any cells: commas, quotation marks and line ends', () => {
    const cell = fc
      .string({ maxLength: 20 })
      .map((text) => text.trim())
      .filter((text) => !text.startsWith("'"));
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            cell,
            cell.filter((text) => text !== ''),
          ),
          { minLength: 1, maxLength: 10 },
        ),
        (rows) => {
          const { lines } = readCsv(writeCsv(['One', 'Two'], rows), ['one', 'two'], (row) => ({
            value: [row.one, row.two],
          }));
          expect(lines.map(({ value }) => value)).toEqual(rows);
        },
      ),
      { numRuns: 300, seed: 11 },
    );
  });

  test('what a table program would run is kept from that', () => {
    expect(writeCsv(['One'], [['=1+1'], ['@x'], ['-2'], ['-a']])).toBe(
      "One\r\n'=1+1\r\n'@x\r\n-2\r\n'-a\r\n",
    );
  });

  test('faults with their symptoms', () => {
    const one = exercise('button-lamp-no');
    const effects = finished(faultEffects(referenceCircuitOf(one)));
    const read = readFaultList(writeFaultList(effects), compile(referenceBench(one)));
    expect(takenOf(read)).toEqual(
      effects.map(({ fault: { kind, place, ...more }, title }) => ({
        fault: { [kind]: place, ...more },
        title,
      })),
    );
  });

  test('a bad line is named, and nothing is written', async () => {
    const one = exercise('brine-pump-three-wire');
    const into = put('pump.exercise.json', one);
    const bad = put(
      'bad.csv',
      'From,To,Area\nG1 L1,Q1 1,2.5\nG1 L9,Q1 3,2.5\nQ1 2,Q1 2,\nQ1 2,KM1 1,thick\n',
    );
    const out = join(folder, 'never.json');
    const answer = await run('import', bad, '--as', 'csv', '--into', into, '--out', out);
    expect(answer.status).toBe(1);
    expect(answer.out).toContain('! line 3: G1 L9, Q1 3, 2.5: “G1 L9” is no terminal of this board');
    expect(answer.out).toContain('! line 4: Q1 2, Q1 2, : both ends are the same terminal');
    expect(answer.out).toContain('area “thick” is no number above 0');
    expect(readdirSync(folder)).not.toContain('never.json');
    const list = put('good.csv', writeWireList(referenceBench(one)));
    const good = await run('import', list, '--as', 'csv', '--into', into, '--out', out);
    expect(good).toMatchObject({ status: 0 });
    expect((await run('grade', out, put('b.json', referenceBench(one)))).status).toBe(0);
  });
});

describe('drawings', () => {
  test.each(['brine-pump-three-wire', 'blower-star-delta-main-from-start', 'brine-pump-three-wire-us'])(
    '%s as DXF and as SVG is what a second reader finds',
    (id) => {
      const bench = referenceBench(exercise(id));
      for (const form of ['iec', 'us'] as const) {
        const block = { title: bench.title, number: 'N-1', author: 'A', date: '2026-11-30', owner: 'O' };
        const framed = framedDrawing(drawingOf(bench, form), 'A3', block);
        const sheets = framed.pages.flatMap(({ placed }) => placed.map(({ sheet }) => sheet));
        const texts = sheets.flatMap(({ texts: list }) => list.map(({ text }) => text));
        const dxf = new DxfParser().parseSync(toDxf(framed))!;
        const layers = dxf.entities.filter(({ type, layer }) => type === 'LINE' && layer === 'WIRES');
        expect(layers).toHaveLength(sheets.reduce((sum, { lines }) => sum + lines.length, 0));
        const found = dxf.entities.flatMap((one) =>
          'text' in one ? [(one as unknown as { text: string }).text] : [],
        );
        for (const text of texts) if (/^[ -~]+$/.test(text)) expect(found).toContain(text);
        // Nothing lies outside the sheet.
        const { $EXTMIN: least, $EXTMAX: most } = dxf.header as unknown as Record<
          string,
          { x: number; y: number }
        >;
        for (const one of layers as unknown as { vertices: { x: number; y: number }[] }[])
          for (const { x, y } of one.vertices) {
            expect(x).toBeGreaterThanOrEqual(least!.x);
            expect(x).toBeLessThanOrEqual(most!.x);
            expect(y).toBeGreaterThanOrEqual(least!.y);
          }
        const svg = toSvg(framed);
        for (const text of texts)
          expect(svg).toContain(`>${text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')}</text>`);
      }
    },
  );
});

describe('paper', () => {
  const words = (file: string) =>
    execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');

  test.each([
    ['A4', 595, 842],
    ['letter', 612, 792],
  ] as const)(
    'on %s every number and lead of the wire list is there, and nothing is cut',
    async (paper, width, height) => {
      const one = exercise('brine-pump-three-wire');
      const file = put('paper.exercise.json', one);
      const [plan, sheet] = [join(folder, `plan-${paper}.pdf`), join(folder, `sheet-${paper}.pdf`)];
      expect((await run('export', file, '--to', 'pdf', '--paper', paper, '--out', plan)).status).toBe(0);
      expect((await run('export', file, '--to', 'sheet', '--paper', paper, '--out', sheet)).status).toBe(0);
      expect(readFileSync(plan).subarray(0, 5).toString()).toBe('%PDF-');
      const text = words(plan);
      const { leads } = planningPaper(referenceBench(one), one);
      for (const { n, from, to, number } of leads)
        expect(text).toMatch(new RegExp(`\\b${n} ${spellRef(from)} ${spellRef(to)} ${number}\\b`));
      const asked = words(sheet);
      const { deadTests, functions } = benchSheet(one);
      for (const { between } of deadTests.tests) expect(asked).toContain(between.map(spellRef).join(' '));
      for (const { title } of functions) expect(asked).toContain(title);
      for (const file of [plan, sheet]) expectInside(file, width, height);
    },
  );

  test('a drawing on A3 has one page with its frame, its title block and every designation', async () => {
    const one = exercise('blower-star-delta-timer');
    const file = put('drawn.exercise.json', one);
    const out = join(folder, 'drawn.pdf');
    const made = ['--number', 'SW-7', '--author', 'R. Plover', '--date', '2026-11-30'];
    const answer = await run('export', file, '--to', 'sheets', '--paper', 'a3', ...made, '--out', out);
    expect(answer.status).toBe(0);
    expect(execFileSync('pdfinfo', [out], { encoding: 'utf8' })).toMatch(
      /Pages: +1\n[^]*Page size: +1190\.\d+ x 841\.\d+ pts/,
    );
    const text = words(out);
    for (const word of ['SW-7', 'R. Plover', '2026-11-30', '1 of 1', 'KM1', 'KT1', 'F2'])
      expect(text).toContain(word);
    // What is written on upright is not made on it.
    const refused = await run('export', file, '--to', 'pdf', '--paper', 'a3');
    expect(refused).toMatchObject({ status: 2 });
    expect(refused.error).toContain('--paper is A4, LETTER');
  });

  /** Every word lies on its page, with some edge left. */
  function expectInside(file: string, width: number, height: number): void {
    const boxes = execFileSync('pdftotext', ['-bbox', file, '-'], { encoding: 'utf8' });
    const pages = [...boxes.matchAll(/<page width="([\d.]+)" height="([\d.]+)">([^]*?)<\/page>/g)];
    expect(pages.length).toBeGreaterThan(3);
    for (const [, w, h, content = ''] of pages) {
      expect([Math.round(Number(w)), Math.round(Number(h))].sort()).toEqual([width, height].sort());
      for (const [, x0, y0, x1, y1] of content.matchAll(
        /xMin="([-\d.]+)" yMin="([-\d.]+)" xMax="([-\d.]+)" yMax="([-\d.]+)"/g,
      )) {
        expect(Math.min(Number(x0), Number(y0))).toBeGreaterThan(10);
        expect(Number(x1)).toBeLessThan(Number(w) - 10);
        expect(Number(y1)).toBeLessThan(Number(h) - 8);
      }
    }
  }
});

test('the published schemas are those of the code', () => {
  const folderOf = join(import.meta.dirname, '..', '..', '..', 'docs', 'formats');
  for (const kind of Object.keys(DOCUMENT_SCHEMAS) as (keyof typeof DOCUMENT_SCHEMAS)[])
    expect(JSON.parse(readFileSync(join(folderOf, `${kind}-1.schema.json`), 'utf8'))).toEqual(
      jsonSchemaOf(kind),
    );
});
