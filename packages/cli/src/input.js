import { readFileSync } from 'node:fs';
import { readBench, readExercise } from '@contactum/core/documents';
/** Unusable input or arguments: one line on standard error, exit status 2. */
export class Unusable extends Error {
  constructor(message) {
    // Names in a document may hold anything; the message stays one line.
    super(message.replace(/[\u0000-\u001f\u007f\u0085\u2028\u2029]+/g, ' '));
  }
}
/** Reads a JSON file through a document reader; a problem names the file and the JSON path. */
export function readFile(file, read) {
  const document = read(readJson(file));
  if (document.ok) return document.value;
  const [first] = document.problems;
  const more = document.problems.length - 1;
  throw new Unusable(
    `${file}: ${first?.path ?? '(document)'}: ${first?.message ?? 'cannot be read'}${more > 0 ? ` (and ${more} more)` : ''}`,
  );
}
/** The text of a file. */
export function readText(file) {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    const code = error.code;
    throw new Unusable(
      `${file}: (document): ${code === 'ENOENT' ? 'there is no such file' : `cannot be opened (${code ?? 'unknown'})`}`,
    );
  }
}
/** The value that a JSON file holds. */
export function readJson(file) {
  const text = readText(file);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Unusable(`${file}: (document): is not JSON: ${error.message}`);
  }
}
/** What kind of document a file says that it holds. */
export const kindIn = (file) => readJson(file)?.contactum;
/** A board: an exercise where the file holds one, otherwise a bench. */
export function readBoard(file) {
  return kindIn(file) === 'exercise/1'
    ? { exercise: readFile(file, readExercise) }
    : { bench: readFile(file, readBench) };
}
/** Refuses what does not fit together; the message names the file and the place of the first problem. */
export function fitting(file, problems) {
  if (problems.length > 0) throw misfit(file, problems);
}
/** The refusal of what does not fit together. */
export function misfit(file, [problem]) {
  return new Unusable(`${file}: ${problem?.path ?? '(document)'}: ${problem?.message ?? 'does not fit'}`);
}
/** A whole number said as an option. */
export function wholeNumber(name, text, [min, max]) {
  const value = Number(text);
  if (!Number.isInteger(value) || value < min || value > max)
    throw new Unusable(`arguments: --${name} is a whole number from ${min} to ${max}`);
  return value;
}
//# sourceMappingURL=input.js.map
