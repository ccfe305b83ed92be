import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { ROOT } from './paths.mjs';

const CONTENTS = `export * from '@contactum/core';
export { readBench, readExercise, readScript } from '@contactum/core/documents';
export { shippedExercise, shippedExercises } from '@contactum/core/exercises';`;

/** The core as one bundle, as the server and the browser have it. */
export async function loadCore() {
  const outfile = join(ROOT, '.cache', 'core', `core-${process.pid}.mjs`);
  await build({
    stdin: { contents: CONTENTS, resolveDir: join(ROOT, 'packages', 'cli'), loader: 'ts' },
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    conditions: ['@contactum/source'],
    logLevel: 'error',
  });
  try {
    return await import(outfile);
  } finally {
    rmSync(outfile, { force: true });
  }
}

/** The value of a document that must be readable. */
export function value(read) {
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}
