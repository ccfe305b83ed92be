import { number } from '../fields.js';

/** What has nothing but terminals, numbered from 1. */
export const joints = {
  options: { count: number('Terminals', { whole: true, min: 1, max: 60 }, 12) },
  settings: {},
  verbs: [],
  told: 'nothing',
  toldByDefault: false,
  rating: () => '',
} as const;

export const jointNames = ({ count }: { readonly count: number }): string[] =>
  Array.from({ length: count }, (_, k) => String(k + 1));
