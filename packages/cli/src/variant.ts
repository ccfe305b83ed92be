import { LONGEST_SEED, exerciseVariant } from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import { Unusable, readFile, wholeNumber } from './input.js';

/** An exercise that is as hard as another one and not the same. */
export function variantCommand(file: string, { seed = '' }: { readonly seed?: string }): Answer {
  if (seed === '') throw new Unusable('arguments: variant needs --seed N');
  const number = wholeNumber('seed', seed, [0, LONGEST_SEED]);
  const { exercise } = exerciseVariant(readFile(file, readExercise), number);
  const { id, title, brief, bench } = exercise;
  const devices = bench.devices.map(({ tag, type }) => `${tag} ${type}`).join(', ');
  return { holds: true, json: exercise, words: `${id}: ${title}\n${brief}\n${devices}` };
}
