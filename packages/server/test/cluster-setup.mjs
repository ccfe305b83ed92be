import { buildServer } from '../../../scripts/lib/build.mjs';
import { ensurePostgres } from '../../../scripts/lib/install.mjs';
import { dataFolder } from '../../../scripts/lib/paths.mjs';
import { findBinaries, runningCluster, startCluster } from '../../../scripts/lib/postgres.mjs';

/**
 * A real PostgreSQL for the server tests, and the built server that they start; each test file makes a
 * database of its own.
 */
export default async function setup() {
  ensurePostgres(findBinaries);
  await buildServer();
  const cluster = runningCluster() ?? (await startCluster(dataFolder('test')));
  globalThis.contactumCluster = cluster;
  process.env.TEST_CLUSTER_URL = cluster.url();
}
