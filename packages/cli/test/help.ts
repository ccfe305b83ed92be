import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll } from '@jest/globals';
import { main } from '../src/main.js';

/** A folder of one file of tests, which goes when they have run. */
export function ownFolder(name: string): {
  readonly folder: string;
  readonly file: (name: string, content: unknown) => string;
} {
  const folder = mkdtempSync(join(tmpdir(), `contactum-${name}-`));
  afterAll(() => rmSync(folder, { recursive: true }));
  const file = (own: string, content: unknown): string => {
    const path = join(folder, own);
    writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
    return path;
  };
  return { folder, file };
}

/** Runs a command: its exit status and what it prints; bytes as Latin-1. */
export async function command(...argv: string[]): Promise<{ status: number; out: string; error: string }> {
  let [out, error] = ['', ''];
  const status = await main(
    argv,
    (text) => (out += typeof text === 'string' ? text : Buffer.from(text).toString('latin1')),
    (text) => (error += text),
  );
  return { status, out, error };
}
