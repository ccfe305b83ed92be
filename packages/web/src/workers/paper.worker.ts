import { benchSheet, deadTestTable, type Bench, type Exercise } from '@contactum/core';

/** Makes dead-test tables and bench sheets: some seconds of simulation on a large board. */
export type PaperQuestion =
  { readonly kind: 'table'; readonly bench: Bench } | { readonly kind: 'sheet'; readonly exercise: Exercise };

self.onmessage = ({ data }: MessageEvent<PaperQuestion>) => {
  self.postMessage(data.kind === 'table' ? deadTestTable(data.bench) : benchSheet(data.exercise));
};
