import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { Plain, ROOT } from './paths.mjs';

/** What a build is made of: folders, and how it is made. */
const MADE_BY = [
  'package-lock.json',
  'packages/web/vite.config.ts',
  'packages/web/index.html',
  'scripts/lib/build.mjs',
];

function fingerprint(folders) {
  const digest = createHash('sha256');
  const walk = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const file = join(path, entry.name);
      if (entry.isDirectory()) walk(file);
      else {
        const { size, mtimeMs } = statSync(file);
        digest.update(`${file} ${size} ${mtimeMs}\n`);
      }
    }
  };
  for (const folder of folders) walk(join(ROOT, folder));
  for (const file of MADE_BY) digest.update(readFileSync(join(ROOT, file)));
  return digest.digest('hex');
}

/** A build that fails is told in one line; what is wrong stands above it. */
async function built(name, work) {
  try {
    await work();
  } catch (error) {
    throw new Plain(`Building ${name} failed: ${String(error?.message ?? error).split('\n')[0]}`);
  }
}

/** Does the work only when what it is made of has changed since last time. */
async function whenStale(name, folders, out, work) {
  const stamp = join(ROOT, '.cache', `${name}.stamp`);
  const now = fingerprint(folders);
  if (existsSync(out) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  console.log(`Building ${name} …`);
  await work();
  mkdirSync(join(ROOT, '.cache'), { recursive: true });
  writeFileSync(stamp, now);
}

export const SERVER_DIST = join(ROOT, 'packages', 'server', 'dist');
export const WEB_DIST = join(ROOT, 'packages', 'web', 'dist');

/**
 * Packages that stay files of their own: they start threads from their files, load their drivers by name,
 * or are one for several bundles. The rest is bundled, since eight hundred small files take half of a
 * process's start.
 */
const KEPT_APART = [
  'knex',
  'pg',
  'pg-boss',
  'pino',
  'pino-http',
  'piscina',
  'rotating-file-stream',
  'sharp',
  'pdfmake',
];

export async function buildServer() {
  await whenStale(
    'the server',
    ['packages/core/src', 'packages/contract/src', 'packages/server/src'],
    join(SERVER_DIST, 'main.mjs'),
    async () => {
      const { build } = await import('esbuild');
      const entry = (name) => join(ROOT, 'packages', 'server', 'src', name);
      await built('the server', () =>
        build({
          entryPoints: {
            main: entry('main.ts'),
            seed: entry('seed-main.ts'),
            admin: entry('admin-main.ts'),
            class: entry('class-main.ts'),
            worker: entry('threads/worker.ts'),
            'bench-thread': entry('threads/bench-thread.ts'),
          },
          outdir: SERVER_DIST,
          outExtension: { '.js': '.mjs' },
          bundle: true,
          platform: 'node',
          format: 'esm',
          target: 'node20',
          conditions: ['@contactum/source'],
          external: KEPT_APART,
          // Packages of the older form ask for Node's own modules by a function that modules of this form
          // lack.
          banner: {
            js: "import { createRequire as requiring } from 'node:module'; const require = requiring(import.meta.url);",
          },
          sourcemap: true,
          logLevel: 'error',
        }),
      );
    },
  );
}

export const CORE_BUNDLE = join(ROOT, '.cache', 'core-for-tests');

/**
 * Names that computation uses: inside the context of a test each look at a global one is a hundred times
 * slower than at a module's own.
 */
const FAST = ['Math', 'Number', 'Map', 'Set', 'Array', 'Int32Array', 'Uint8Array', 'Float64Array'];

/** Core in a few files for the tests: each test file loads these in place of some three hundred. */
export async function buildCoreForTests() {
  await whenStale('core for the tests', ['packages/core/src'], join(CORE_BUNDLE, 'index.js'), async () => {
    const { build } = await import('esbuild');
    const source = (name) => join(ROOT, 'packages', 'core', 'src', name);
    await built('core for the tests', () =>
      build({
        entryPoints: {
          index: source('index.ts'),
          documents: source('documents.ts'),
          exchange: source('exchange/index.ts'),
          exercises: source('exercises/index.ts'),
        },
        outdir: CORE_BUNDLE,
        bundle: true,
        splitting: true,
        platform: 'node',
        format: 'esm',
        target: 'node20',
        conditions: ['@contactum/source'],
        banner: { js: `const { ${FAST.join(', ')} } = globalThis;` },
        sourcemap: 'inline',
        logLevel: 'error',
      }),
    );
  });
}

export async function buildWeb() {
  const web = join(ROOT, 'packages', 'web');
  await whenStale(
    'the browser application',
    ['packages/core/src', 'packages/contract/src', 'packages/web/src', 'packages/web/public', 'docs/manual'],
    join(WEB_DIST, 'index.html'),
    async () => {
      const { build } = await import('vite');
      await built('the browser application', () =>
        build({ root: web, configFile: join(web, 'vite.config.ts'), logLevel: 'error' }),
      );
    },
  );
}

/** SHA-256 of what core and its tests say: where it is the same, so is what its long oracles find. */
export function coreHash() {
  const digest = createHash('sha256');
  for (const folder of ['src', 'test']) {
    const home = join(ROOT, 'packages', 'core', folder);
    const files = readdirSync(home, { recursive: true, withFileTypes: true })
      .filter((one) => one.isFile() && one.name !== 'proved.json')
      .map((one) => join(one.parentPath ?? one.path, one.name))
      .sort();
    for (const file of files) digest.update(`${relative(home, file)}\n`).update(readFileSync(file));
  }
  return digest.digest('hex');
}

export const PROVED = join(ROOT, 'packages', 'core', 'test', 'fixtures', 'proved.json');
