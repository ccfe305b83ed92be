/** Stand-ins of devices and services of a college, bundled from their sources. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ROOT } from './paths.mjs';

/** Packages that stay outside a bundle. */
const EXTERNAL = ['express', 'jose', 'modbus-serial', 'oidc-provider', 'ws'];

async function bundled(name, entry) {
  const { build } = await import('esbuild');
  // Beside the package, so that what stays outside is found.
  const folder = join(ROOT, entry[0], entry[1], 'dist', 'stand-ins');
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

/** A learning platform, and a sign-on of a college. */
export const loadDoors = () => bundled('doors', ['packages', 'stand-ins', 'src', 'index.ts']);
