/**
 * Starts the real application on a fresh database and runs Playwright against it: the stories, or with
 * `--pictures` the pictures of the documents, from the demo.
 */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { ROOT, dataFolder, tellAndExit } from './lib/paths.mjs';
import { ensureDatabase, runningCluster, startCluster } from './lib/postgres.mjs';
import { halt, launch, seed, serverEnvironment } from './lib/server.mjs';

const [first, ...rest] = process.argv.slice(2);
const pictures = first === '--pictures';
const config = pictures ? 'pictures.config.ts' : 'playwright.config.ts';
const more = pictures ? rest : process.argv.slice(2);

const cleanup = [];
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, () => {
    for (const undo of cleanup.reverse()) void undo();
    process.exit(1);
  });
}

try {
  await buildServer();
  await buildWeb();
  const cluster = runningCluster() ?? (await startCluster(dataFolder('test')));
  cleanup.push(() => cluster.stop());
  const databaseUrl = await ensureDatabase(cluster, `story_${randomUUID().replaceAll('-', '')}`);
  const env = serverEnvironment({ databaseUrl, sessionSecret: cluster.sessionSecret, port: 0 });
  if (pictures) seed(env);
  const { child, port } = await launch(env);
  cleanup.push(() => halt(child));
  const playwright = join(ROOT, 'node_modules', '@playwright', 'test', 'cli.js');
  const { status } = spawnSync(
    process.execPath,
    [playwright, 'test', '--config', join(ROOT, 'e2e', config), ...more],
    {
      cwd: join(ROOT, 'e2e'),
      stdio: 'inherit',
      env: { ...process.env, BASE_URL: `http://127.0.0.1:${port}`, DATABASE_URL: databaseUrl },
    },
  );
  for (const undo of cleanup.reverse()) await undo();
  process.exit(status ?? 1);
} catch (error) {
  for (const undo of cleanup.reverse()) await undo();
  tellAndExit(error);
}
