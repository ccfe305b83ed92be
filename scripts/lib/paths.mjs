import { createHash } from 'node:crypto';
import { accessSync, chmodSync, constants, mkdirSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
export const isRoot = process.getuid?.() === 0;
export const hash = createHash('sha256').update(ROOT).digest('hex').slice(0, 10);

/**
 * Nobody else reads what is kept; the database of root's runs is another user's, who goes through and reads
 * no more than that.
 */
const PRIVATE = isRoot ? 0o711 : 0o700;

/** Folder for what a run leaves behind: beside the sources, or at home where those may not be written. */
export function dataFolder(name) {
  for (const folder of [join(ROOT, '.contactum'), join(homedir(), `.contactum-${hash}`)]) {
    try {
      const own = join(folder, `${name}-${process.getuid?.() ?? 0}`);
      mkdirSync(own, { recursive: true });
      accessSync(folder, constants.W_OK);
      for (const one of [folder, own]) chmodSync(one, PRIVATE);
      return own;
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
