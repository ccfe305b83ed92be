/**
 * Runs SPIN (Debian's package) on the hand-written models of boards and writes what it finds beside them:
 * which claims have a counterexample, and how many states it stored. `node scripts/spin-values.mjs`; needs
 * spin and gcc.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './lib/paths.mjs';

const FOLDER = join(ROOT, 'packages', 'core', 'test', 'fixtures', 'spin');
const CLAIMS = {
  'no-short': 1,
  'stop-drops': 2,
  'overload-drops': 3,
  'no-self-start': 4,
  'ends-out': 5,
  'ends-in': 6,
};

function run(command, args, cwd) {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')}: ${stderr}${stdout}`);
  return stdout;
}

/** One exhaustive search: whether a claim is violated, and the states that were stored. */
function search(model, ask) {
  const place = mkdtempSync(join(tmpdir(), 'spin-'));
  try {
    run('spin', [`-DASK=${ask}`, '-a', join(FOLDER, model)], place);
    run('gcc', ['-DSAFETY', '-o', 'pan', 'pan.c'], place);
    const told = run('./pan', ['-E', '-m1000000'], place);
    return { violated: !/errors: 0/.test(told), states: Number(/(\d+) states, stored/.exec(told)[1]) };
  } finally {
    rmSync(place, { recursive: true });
  }
}

const version = run('spin', ['-V']).trim().split('\n')[0];
const boards = {};
for (const model of readdirSync(FOLDER).filter((file) => file.endsWith('.pml'))) {
  const { states } = search(model, 0);
  const violated = Object.entries(CLAIMS).filter(([, ask]) => search(model, ask).violated);
  boards[model.replace('.pml', '')] = { states, violated: violated.map(([claim]) => claim) };
  console.log(model, boards[model.replace('.pml', '')]);
}
writeFileSync(join(FOLDER, 'values.json'), `${JSON.stringify({ spin: version, boards }, null, 2)}\n`);
