#!/usr/bin/env node
/** Starts the command from a bundle that is made again whenever its sources are newer. */
import { mkdirSync, readdirSync, renameSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const home = dirname(dirname(fileURLToPath(import.meta.url)));
const bundle = join(home, 'dist', 'bundle', 'contactum.mjs');

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

function isStale() {
  try {
    return (
      statSync(bundle).mtimeMs < Math.max(newest(join(home, 'src')), newest(join(home, '..', 'core', 'src')))
    );
  } catch {
    return true;
  }
}

if (isStale()) {
  const { build } = await import('esbuild');
  mkdirSync(dirname(bundle), { recursive: true });
  const fresh = `${bundle}.${process.pid}`;
  await build({
    entryPoints: [join(home, 'src', 'contactum.ts')],
    outfile: fresh,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    conditions: ['@contactum/source'],
    // The serial line of Modbus is not used.
    external: ['serialport'],
    // Packages of the older form ask for Node's own modules by a function that modules of this form lack.
    banner: {
      js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
    },
    logLevel: 'error',
  });
  renameSync(fresh, bundle);
}
await import(pathToFileURL(bundle).href);
