/** Stand-ins of devices and services of a college, bundled from their sources. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ROOT } from './paths.mjs';

/** Packages that stay outside a bundle. */
const EXTERNAL = ['express', 'modbus-serial', 'ws'];

async function bundled(name, entry) {
  const { build } = await import('esbuild');
  const folder = join(ROOT, 'packages', 'cli', 'dist', 'stand-ins');
  mkdirSync(folder, { recursive: true });
  const outfile = join(folder, `${name}.mjs`);
  await build({
    entryPoints: [join(ROOT, ...entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    conditions: ['@contactum/source'],
    external: EXTERNAL,
    logLevel: 'error',
  });
  return import(pathToFileURL(outfile).href);
}

/** A simulated board behind a scanner, and the gateway that connects one to the server. */
export const loadScanner = () => bundled('scanner', ['packages', 'cli', 'src', 'scanner', 'stand-in.ts']);
