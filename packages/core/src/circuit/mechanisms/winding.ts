import { INTACT } from '../../catalogue/index.js';
import type { Mechanics } from './mechanics.js';

/** A lamp's filament or a coil's winding: it burns through once. */
export const winding: Mechanics<'winding'> = {
  part: 'winding',
  isMoving: () => false,
  arrive: (_, state) => state,
  travel: () => 0,
  word: (_, state) => (state === INTACT ? null : 'burnt'),
  words: () => ['burnt'],
  acts: {},
  kept: () => null,
};
