import { expose } from 'comlink';
import { benchSheet, deadTestTable } from '@contactum/core';

/** Dead-test tables and bench sheets: some seconds of simulation on a large board. */
const paper = { table: deadTestTable, sheet: benchSheet };

export type PaperThread = typeof paper;

expose(paper);
