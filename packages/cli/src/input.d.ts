import type { Bench, Exercise, Problem } from '@contactum/core';
import { type Read } from '@contactum/core/documents';
/** Unusable input or arguments: one line on standard error, exit status 2. */
export declare class Unusable extends Error {
  constructor(message: string);
}
/** Reads a JSON file through a document reader; a problem names the file and the JSON path. */
export declare function readFile<T>(file: string, read: (value: unknown) => Read<T>): T;
/** The text of a file. */
export declare function readText(file: string): string;
/** The value that a JSON file holds. */
export declare function readJson(file: string): unknown;
/** What kind of document a file says that it holds. */
export declare const kindIn: (file: string) => unknown;
/** A board: an exercise where the file holds one, otherwise a bench. */
export declare function readBoard(file: string):
  | {
      readonly exercise: Exercise;
    }
  | {
      readonly bench: Bench;
    };
/** Refuses what does not fit together; the message names the file and the place of the first problem. */
export declare function fitting(file: string, problems: readonly Problem[]): void;
/** The refusal of what does not fit together. */
export declare function misfit(file: string, [problem]: readonly Problem[]): Unusable;
/** A whole number said as an option. */
export declare function wholeNumber(
  name: string,
  text: string,
  [min, max]: readonly [number, number],
): number;
