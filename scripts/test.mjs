/** `npm test`: installs what is missing, then format, lint, types, unit and server tests, and stories in a browser. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { checkNode, ensureChromium, ensurePackages, ensurePoppler, ensurePostgres } from './lib/install.mjs';
import { ROOT, tellAndExit } from './lib/paths.mjs';
import { findBinaries } from './lib/postgres.mjs';

const bin = (...path) => join(ROOT, 'node_modules', ...path);

/** Runs one step to its end; steps that run side by side are told one after another. */
function step([name, ...argv], output = 'inherit') {
  const begun = performance.now();
  return new Promise((resolve) => {
    const child = spawn(process.execPath, argv, { cwd: ROOT, stdio: ['ignore', output, output] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (said += chunk));
    if (output === 'inherit') console.log(`\n— ${name}`);
    child.once('exit', (code) => {
      if (output !== 'inherit') console.log(`\n— ${name}${said ? `\n${said.trimEnd()}` : ''}`);
      const seconds = ((performance.now() - begun) / 1000).toFixed(1);
      console.log(`  ${code === 0 ? 'done' : 'FAILED'} in ${seconds} s`);
      resolve(code === 0 ? null : name);
    });
  });
}

/** Steps one after another; the names of those that failed. */
async function inTurn(list, output) {
  const failed = [];
  for (const one of list) failed.push(await step(one, output));
  return failed.filter(Boolean);
}

try {
  checkNode();
  ensurePackages();
  ensurePostgres(findBinaries);
  ensureChromium();
  ensurePoppler();
  const lint = [
    'lint',
    bin('eslint', 'bin', 'eslint.js'),
    '--cache',
    '--cache-location',
    '.cache/eslint',
    '--max-warnings',
    '0',
    '.',
  ];
  const looking = [
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
  ];
  const trying = [
    ['unit and server tests', '--experimental-vm-modules', '--no-warnings', bin('jest', 'bin', 'jest.js')],
    ['stories in a browser', join(ROOT, 'scripts', 'e2e.mjs'), '--grep-invert', '@long'],
  ];
  // Every step runs, so that one run tells everything that is wrong.
  const looked = await Promise.all([inTurn([lint], 'pipe'), inTurn(looking, 'pipe')]);
  const failed = [...looked.flat(), ...(await inTurn(trying, 'inherit'))];
  console.log(`\n${1 + looking.length + trying.length - failed.length} passed, ${failed.length} failed`);
  if (failed.length > 0) {
    console.error(`Failed: ${failed.join(', ')}`);
    process.exit(1);
  }
} catch (error) {
  tellAndExit(error);
}
