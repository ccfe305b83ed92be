import { createHash } from 'node:crypto';
import { accessSync, constants, mkdirSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
export const isRoot = process.getuid?.() === 0;
export const hash = createHash('sha256').update(ROOT).digest('hex').slice(0, 10);

/** Folder for what a run leaves behind: beside the sources, or at home where those may not be written. */
export function dataFolder(name) {
  for (const folder of [join(ROOT, '.contactum'), join(homedir(), `.contactum-${hash}`)]) {
    try {
      mkdirSync(join(folder, `${name}-${process.getuid?.() ?? 0}`), { recursive: true });
      accessSync(folder, constants.W_OK);
      return join(folder, `${name}-${process.getuid?.() ?? 0}`);
    } catch {
      // Not writable for this user: the next one.
    }
  }
  throw new Plain(
    `Neither ${join(ROOT, '.contactum')} nor your home folder can be written. Give yourself write access to one of them.`,
  );
}

/** An error that is told in one line, without a stack. */
export class Plain extends Error {}

export function tellAndExit(error) {
  // A full disk, a folder that may not be written: one line says it.
  const isOfSystem = typeof error?.code === 'string' && typeof error.syscall === 'string';
  if (error instanceof Plain || isOfSystem) console.error(`\n${error.message}\n`);
  else console.error(error);
  process.exit(1);
}
