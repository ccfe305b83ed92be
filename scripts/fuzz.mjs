/** `npm run fuzz -- --minutes N [--seed S]`: long oracles that `npm test` runs a little of. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { checkNode, ensurePackages } from './lib/install.mjs';
import { ROOT, Plain, tellAndExit } from './lib/paths.mjs';

try {
  const { values } = parseArgs({
    options: { minutes: { type: 'string', default: '5' }, seed: { type: 'string', default: '100000' } },
  });
  const [minutes, seed] = [Number(values.minutes), Number(values.seed)];
  if (!(minutes > 0) || !Number.isInteger(seed))
    throw new Plain('usage: npm run fuzz -- --minutes N [--seed S]');
  checkNode();
  ensurePackages();
  const tool = join(ROOT, 'packages', 'core', 'test', 'fuzz', 'run.ts');
  const { status } = spawnSync(
    process.execPath,
    ['--conditions=@contactum/source', '--import', 'tsx', tool, String(minutes), String(seed)],
    { cwd: ROOT, stdio: 'inherit' },
  );
  process.exit(status ?? 1);
} catch (error) {
  tellAndExit(error);
}
