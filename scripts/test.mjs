/**
 * `npm test`: installs what is missing, then types, unit and server tests, and stories in a browser; `npm
 * run lint` stands apart.
 */
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkNode, ensureChromium, ensurePackages, ensurePoppler, ensurePostgres } from './lib/install.mjs';
import { ROOT, dataFolder, tellAndExit } from './lib/paths.mjs';
import { clusterEnvironment, findBinaries, startCluster } from './lib/postgres.mjs';

const bin = (...path) => join(ROOT, 'node_modules', ...path);

/**
 * Processor seconds of everything that this process started and that has ended; where the system does not
 * tell, null.
 */
function processorSeconds() {
  try {
    // Fields 14 to 17 of proc(5), counted behind the name: of this process and of its children, in
    // hundredths of a second.
    const times = readFileSync('/proc/self/stat', 'utf8').split(') ')[1].split(' ').slice(11, 15);
    return times.reduce((sum, ticks) => sum + Number(ticks), 0) / 100;
  } catch {
    return null;
  }
}

/** What the steps find in their environment beside this process's own. */
let shared = {};

/** Runs one step to its end; steps that run side by side are told one after another. */
function step([name, ...argv], output = 'inherit') {
  const begun = performance.now();
  return new Promise((resolve) => {
    const child = spawn(process.execPath, argv, {
      cwd: ROOT,
      stdio: ['ignore', output, output],
      env: { ...process.env, ...shared },
    });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (said += chunk));
    if (output === 'inherit') console.log(`\n— ${name}`);
    child.once('exit', (code) => {
      if (output !== 'inherit') console.log(`\n— ${name}${said ? `\n${said.trimEnd()}` : ''}`);
      const seconds = ((performance.now() - begun) / 1000).toFixed(1);
      const worked = processorSeconds();
      const sum = worked === null ? '' : `; ${worked.toFixed(0)} processor seconds so far`;
      console.log(`  ${code === 0 ? 'done' : 'FAILED'} in ${seconds} s${sum}`);
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
  const looking = [
    ['types', bin('ts7', 'bin', 'tsc'), '-b'],
    ['types of the tests', bin('ts7', 'bin', 'tsc'), '-p', 'tsconfig.tests.json'],
  ];
  const trying = [
    ['unit and server tests', '--experimental-vm-modules', '--no-warnings', bin('jest', 'bin', 'jest.js')],
    ['stories in a browser', join(ROOT, 'scripts', 'e2e.mjs'), '--grep-invert', '@long'],
  ];
  // One database for whatever needs one.
  const cluster = await startCluster(dataFolder('test'));
  shared = clusterEnvironment(cluster);
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.on(signal, () => {
      cluster.stop();
      process.exit(1);
    });
  // Every step runs, so that one run tells everything that is wrong.
  const failed = [...(await inTurn(looking, 'pipe')), ...(await inTurn(trying, 'inherit'))];
  cluster.stop();
  const worked = processorSeconds();
  if (worked !== null) console.log(`\n${worked.toFixed(0)} processor seconds, without the database's`);
  console.log(`${looking.length + trying.length - failed.length} passed, ${failed.length} failed`);
  if (failed.length > 0) {
    console.error(`Failed: ${failed.join(', ')}`);
    process.exit(1);
  }
} catch (error) {
  tellAndExit(error);
}
