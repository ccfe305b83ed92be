import { plural, type HintDegree } from '@contactum/core';
import type { HintTaken } from '@contactum/contract';

/** What a hint of a degree tells. */
export const HINT_WORDS: Readonly<Record<HintDegree, string>> = {
  symptom: 'What goes wrong',
  net: 'Where to look',
  lead: 'What to change',
};

export const costWords = (points: number): string =>
  points === 0 ? 'free' : `costs ${plural(points, 'point')}`;

/** Hints that were taken, in their order. */
export function TakenHints({ taken }: { taken: readonly HintTaken[] }) {
  return (
    <ol className="hints-taken">
      {taken.map(({ degree, text, cost, at }) => (
        <li key={`${at} ${degree}`}>
          <strong>{HINT_WORDS[degree]}</strong> <span className="quiet">{costWords(cost)}</span>
          <p>{text}</p>
        </li>
      ))}
    </ol>
  );
}
