/** Stand-ins of devices and services of a college, bundled from their sources. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
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

/** Registers a learning platform at the server of an environment, as an administrator does at the machine. */
export function registerPlatform(platform, env) {
  const folder = mkdtempSync(join(tmpdir(), 'platform-'));
  try {
    const file = join(folder, 'platform.json');
    writeFileSync(file, JSON.stringify(platform.registration));
    const admin = join(ROOT, 'packages', 'server', 'dist', 'admin.mjs');
    spawnSync(process.execPath, [admin, 'platform', file], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
