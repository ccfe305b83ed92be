/** Starts the real application on a fresh database and runs Playwright against it. */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { ROOT, dataFolder, tellAndExit } from './lib/paths.mjs';
import { ensureDatabase, runningCluster, startCluster } from './lib/postgres.mjs';
import { halt, launch, serverEnvironment } from './lib/server.mjs';

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
  const { child, port } = await launch(env);
  cleanup.push(() => halt(child));
  const playwright = join(ROOT, 'node_modules', '@playwright', 'test', 'cli.js');
  const { status } = spawnSync(
    process.execPath,
    [playwright, 'test', '--config', join(ROOT, 'e2e', 'playwright.config.ts'), ...process.argv.slice(2)],
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
