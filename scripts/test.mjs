/** `npm test`: installs what is missing, then format, lint, types, unit and server tests, and stories in a browser. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { checkNode, ensureChromium, ensurePackages, ensurePostgres } from './lib/install.mjs';
import { ROOT, tellAndExit } from './lib/paths.mjs';
import { findBinaries } from './lib/postgres.mjs';

const bin = (...path) => join(ROOT, 'node_modules', ...path);

function step(name, ...argv) {
  console.log(`\n— ${name}`);
  const begun = performance.now();
  const { status } = spawnSync(process.execPath, argv, { cwd: ROOT, stdio: 'inherit' });
  console.log(
    `  ${status === 0 ? 'done' : 'FAILED'} in ${((performance.now() - begun) / 1000).toFixed(1)} s`,
  );
  return status === 0;
}

try {
  checkNode();
  ensurePackages();
  ensurePostgres(findBinaries);
  ensureChromium();
  const steps = [
    [
      'format',
      bin('prettier', 'bin', 'prettier.cjs'),
      '--cache',
      '--cache-location',
      '.cache/prettier',
      '--log-level',
      'warn',
      '--check',
      '.',
    ],
    ['types', bin('ts7', 'bin', 'tsc'), '-b'],
    ['types of the tests', bin('ts7', 'bin', 'tsc'), '-p', 'tsconfig.tests.json'],
    [
      'lint',
      bin('eslint', 'bin', 'eslint.js'),
      '--cache',
      '--cache-location',
      '.cache/eslint',
      '--max-warnings',
      '0',
      '.',
    ],
    ['unit and server tests', '--experimental-vm-modules', '--no-warnings', bin('jest', 'bin', 'jest.js')],
    ['stories in a browser', join(ROOT, 'scripts', 'e2e.mjs'), '--grep-invert', '@long'],
  ];
  // Every step runs, so that one run tells everything that is wrong.
  const failed = steps.filter(([name, ...argv]) => !step(name, ...argv)).map(([name]) => name);
  console.log(`\n${steps.length - failed.length} passed, ${failed.length} failed`);
  if (failed.length > 0) {
    console.error(`Failed: ${failed.join(', ')}`);
    process.exit(1);
  }
} catch (error) {
  tellAndExit(error);
}
