import { isExpectation, type Expected, type Step, type Stimulus } from '@contactum/core';

/**
 * A behaviour as rows: what is done, and what is so afterwards. The first row may do nothing: how the board
 * is at rest.
 */
export interface StepRow {
  readonly stimulus: Stimulus | null;
  readonly expect: Readonly<Record<string, Expected>>;
}

export function rowsOf(steps: readonly Step[]): StepRow[] {
  const rows: StepRow[] = [];
  for (const step of steps) {
    const last = rows.at(-1);
    if (!isExpectation(step)) rows.push({ stimulus: step, expect: {} });
    else if (last) rows[rows.length - 1] = { ...last, expect: { ...last.expect, ...step.expect } };
    else rows.push({ stimulus: null, expect: step.expect });
  }
  return rows;
}

export const stepsOf = (rows: readonly StepRow[]): Step[] =>
  rows.flatMap(({ stimulus, expect }): Step[] => [
    ...(stimulus ? [stimulus] : []),
    ...(Object.keys(expect).length > 0 ? [{ expect }] : []),
  ]);

/**
 * Everything that some rows expect, in the order in which it is first named, behind what is observed
 * anyhow.
 */
export const columnsOf = (rows: readonly StepRow[], observe: readonly string[]): string[] => [
  ...new Set([...observe, ...rows.flatMap(({ expect }) => Object.keys(expect))]),
];

const RANGE = /^\s*(\d+(?:\.\d+)?)?\s*\.\.\s*(\d+(?:\.\d+)?)?\s*$/;

/** A value as it is written in a cell: a word, or a range `1350..1500`. */
export function writeExpected(value: Expected | undefined): string {
  if (value === undefined) return '';
  if (typeof value !== 'object') return String(value);
  return `${value.min ?? ''}..${value.max ?? ''}`;
}

/** And read from it; nothing expects nothing. */
export function readExpected(text: string): Expected | undefined {
  const word = text.trim();
  if (word === '') return undefined;
  const [whole, min, max] = RANGE.exec(word) ?? [];
  if (whole === undefined) return /^\d+(\.\d+)?$/.test(word) ? Number(word) : word;
  // A range without an end asks nothing.
  if (min === undefined && max === undefined) return undefined;
  return {
    ...(min === undefined ? {} : { min: Number(min) }),
    ...(max === undefined ? {} : { max: Number(max) }),
  };
}
