import { Unzip, UnzipInflate, strFromU8 } from 'fflate';
import type { Exercise } from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import { isDeep } from '../runtime/depth.js';

/**
 * Runs in a thread: what was sent as a library, unpacked and read within limits that no archive talks its
 * way around.
 */

const MOST_FILES = 500;
/** Largest document when it is unpacked, and all of them, bytes. */
const MOST_BYTES = 2_000_000;
const MOST_WHOLE = 60_000_000;
/** An archive is fed in pieces of this size, so that what unpacks to too much is noticed before it has. */
const PIECE = 64 * 1024;

/** A document of a library as it was read: an exercise, or why it is none. */
export type ReadFile = { readonly name: string } & (
  | { readonly exercise: Exercise }
  | { readonly problem: string; readonly title?: string; readonly id?: string }
);

/** What is in a library; or why nothing of it is taken. */
export type ReadLibrary = { readonly files: readonly ReadFile[] } | { readonly refused: string };

export interface LibraryTask {
  readonly body: Uint8Array;
  readonly name: string;
}

class TooLarge extends Error {}

/** Reads a zip of documents, or one document. */
export function readLibrary({ body, name }: LibraryTask): ReadLibrary {
  const isZip = body[0] === 0x50 && body[1] === 0x4b;
  try {
    const files = isZip ? unpacked(body) : [{ name, text: strFromU8(body) }];
    return files.length === 0
      ? { refused: `${name}: holds no document` }
      : { files: files.map((file) => readFile(file)) };
  } catch (error) {
    return {
      refused: error instanceof TooLarge ? error.message : `${name}: is no zip that can be read`,
    };
  }
}

interface Unpacked {
  readonly name: string;
  readonly text: string;
}

/** The documents of a zip, by the bytes that come out of it: what it says of itself is not asked. */
function unpacked(body: Uint8Array): Unpacked[] {
  const files: Unpacked[] = [];
  const state: { whole: number; count: number; failed: Error | null } = { whole: 0, count: 0, failed: null };
  const unzip = new Unzip((file) => {
    if (!file.name.endsWith('.json') || file.name.includes('__MACOSX')) return;
    state.count += 1;
    if (state.count > MOST_FILES)
      throw new TooLarge(`more than ${MOST_FILES} documents: the library is too large`);
    const chunks: Uint8Array[] = [];
    let size = 0;
    file.ondata = (error, chunk, isLast) => {
      if (error) {
        state.failed ??= error;
        return;
      }
      size += chunk.length;
      state.whole += chunk.length;
      if (size > MOST_BYTES || state.whole > MOST_WHOLE)
        throw new TooLarge(`${file.name}: the library is too large`);
      chunks.push(chunk);
      if (isLast) files.push({ name: file.name, text: strFromU8(joined(chunks, size)) });
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for (let at = 0; at < body.length && !state.failed; at += PIECE)
    unzip.push(body.subarray(at, at + PIECE), at + PIECE >= body.length);
  if (state.failed) throw state.failed;
  if (files.length < state.count) throw new Error('it ends too early');
  return files;
}

function joined(chunks: readonly Uint8Array[], size: number): Uint8Array {
  const all = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    all.set(chunk, at);
    at += chunk.length;
  }
  return all;
}

function readFile({ name, text }: Unpacked): ReadFile {
  if (isDeep(text)) return { name, problem: 'is nested too deeply' };
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return { name, problem: `is not JSON: ${(error as Error).message}` };
  }
  const outcome = readExercise(value);
  if (outcome.ok) return { name, exercise: outcome.value };
  const [first] = outcome.problems;
  return { name, problem: `${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}` };
}
