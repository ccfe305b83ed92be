/**
 * The sheet of a physical board: what is asked (`sheet.ts`), what is entered (`entries.ts`), and its mark
 * (`mark.ts`).
 */
export * from './entries.js';
export * from './mark.js';
export * from './sheet.js';
