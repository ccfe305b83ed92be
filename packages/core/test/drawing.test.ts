import { expect, test } from '@jest/globals';
import { DRAWING_FORMS, drawingDocument, drawingOf, terminalsOf, type Bench } from '@contactum/core';
import { RECIPES, formsOf, resolveExercise } from '@contactum/core/exercises';
import { blemishes, crossingsOf, falsehoods } from './drawing-reader.js';
import { readCases, longRuns } from './help.js';
import { seeded } from './fixtures/seeded.mjs';

const boards = RECIPES.flatMap((recipe) =>
  formsOf(recipe).map((form) => {
    const { bench, reference } = resolveExercise(recipe, form);
    return { name: `${recipe.id} ${form}`, bench: { ...bench, wires: [...bench.wires, ...reference] } };
  }),
);

const draw = (bench: Bench, form: 'iec' | 'us') => drawingDocument(drawingOf(bench, form));

/** A wiring of leads between any terminals. */
function wild(board: Bench, random: () => number, count: number): Bench {
  const terminals = terminalsOf(board);
  const any = () => terminals[Math.floor(random() * terminals.length)]!;
  const wires = Array.from({ length: count }, () => ({ from: any(), to: any() })).filter(
    ({ from, to }) => from !== to,
  );
  return { ...board, wires };
}

test.each(boards)(
  'the reference of $name is drawn as it is wired, tidily, its control circuit without a crossing',
  ({ bench }) => {
    for (const form of DRAWING_FORMS) {
      const drawing = draw(bench, form);
      expect(falsehoods(bench, drawing)).toEqual([]);
      expect(blemishes(drawing)).toEqual([]);
      for (const sheet of drawing.sheets) if (sheet.circuit === 'control') expect(crossingsOf(sheet)).toBe(0);
    }
  },
);

test('a wiring that no tidy drawing can show is still drawn as it is (seeds 1 to 400)', () => {
  const wrong: unknown[] = [];
  for (let seed = 1; seed <= longRuns(400); seed += 1) {
    const random = seeded(seed);
    const { bench } = boards[seed % boards.length]!;
    // A few leads moved, or every lead anywhere.
    const wiring =
      seed % 3 === 0
        ? wild(bench, random, 4 + Math.floor(random() * 60))
        : {
            ...bench,
            wires: bench.wires
              .map((wire) => (random() < 0.15 ? { ...wire, to: wild(bench, random, 9).wires[0]!.to } : wire))
              .filter(({ from, to }) => from !== to),
          };
    const form = seed % 2 === 0 ? 'iec' : 'us';
    const drawing = draw(wiring, form);
    wrong.push(...[...falsehoods(wiring, drawing), ...blemishes(drawing)].map((what) => ({ seed, what })));
  }
  expect(wrong).toEqual([]);
});

test('the conformance case is drawn with no more crossings than it allows', () => {
  const one = readCases().find(({ command }) => command === 'drawing')!;
  const drawing = draw(one.bench, 'iec');
  expect(falsehoods(one.bench, drawing)).toEqual([]);
  expect(blemishes(drawing)).toEqual([]);
  const all = drawing.sheets.reduce((sum, sheet) => sum + crossingsOf(sheet), 0);
  expect(all).toBeLessThanOrEqual(one.want.crossings as number);
});
