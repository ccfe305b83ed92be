import { plural, type SoFar } from '@contactum/core';
import { standOf } from '../bench/stands.js';

/** How a board stands in one line: what is dangerous first. */
export function summaryOf(soFar: SoFar): { readonly text: string; readonly bad: boolean } {
  const { short, properties, functions } = soFar;
  const stands = properties.map((one) => ({ ...one, stand: standOf(one, soFar) }));
  const broken = stands.filter(({ stand }) => stand === 'broken');
  const done = functions.filter(({ differs }) => differs === null).length;
  const does = functions.length > 0 ? `does ${done} of ${plural(functions.length, 'function')}` : '';
  const [first] = broken;
  if (short !== null) return { text: `✕ Would short as the supply comes on: ${short}`, bad: true };
  if (first) {
    const others = broken.length > 1 ? `, and ${broken.length - 1} more` : '';
    const failing = `✕ “${first.title}” does not hold${others}`;
    return { text: [failing, does].filter(Boolean).join('; '), bad: true };
  }
  const untested = stands.some(({ stand }) => stand === 'untested');
  const safe = untested ? '○ No safety property is broken so far' : '✓ Safe in every order of pressing';
  return { text: [safe, does].filter(Boolean).join('; '), bad: false };
}
