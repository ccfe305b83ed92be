import type { Answer, Question } from '@contactum/core';

/** What of a question's answer is there: nothing, some of its cells, or all. */
export type Filled = 'none' | 'some' | 'all';

export const rowsOf = (answer: Answer | undefined): readonly Readonly<Record<string, string | number>>[] =>
  Array.isArray(answer) ? (answer as readonly Readonly<Record<string, string | number>>[]) : [];

/** Whether a question is answered wholly. */
export function filledIn(question: Question, answer: Answer | undefined): Filled {
  if (answer === undefined) return 'none';
  if (question.ask !== 'states') return 'all';
  const rows = rowsOf(answer);
  const cells = question.steps.flatMap((_, k) => question.of.map((what) => rows[k]?.[what]));
  const given = cells.filter((cell) => cell !== undefined).length;
  return given === 0 ? 'none' : given < cells.length ? 'some' : 'all';
}
