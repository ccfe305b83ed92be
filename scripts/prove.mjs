/**
 * `npm run prove`: every case of the long oracles of core, some of which `npm test` leaves out where they were
 * tried on the very same sources before. What was tried is written down, with its hash, when all have passed.
 */
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PROVED, coreHash } from './lib/build.mjs';
import { checkNode, ensurePackages } from './lib/install.mjs';
import { ROOT, tellAndExit } from './lib/paths.mjs';

try {
  checkNode();
  ensurePackages();
  const jest = join(ROOT, 'node_modules', 'jest', 'bin', 'jest.js');
  const { status } = spawnSync(
    process.execPath,
    ['--experimental-vm-modules', '--no-warnings', jest, '--selectProjects', 'core'],
    { cwd: ROOT, stdio: 'inherit', env: { ...process.env, CONTACTUM_PROVE: 'all' } },
  );
  if (status === 0) writeFileSync(PROVED, `${JSON.stringify({ core: coreHash() })}\n`);
  process.exit(status ?? 1);
} catch (error) {
  tellAndExit(error);
}
