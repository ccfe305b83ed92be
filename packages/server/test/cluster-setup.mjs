import { dataFolder } from '../../../scripts/lib/paths.mjs';
import { findBinaries, startCluster } from '../../../scripts/lib/postgres.mjs';
import { ensurePostgres } from '../../../scripts/lib/install.mjs';

/** A real PostgreSQL for the server tests; each test file makes a database of its own in it. */
export default async function setup() {
  ensurePostgres(findBinaries);
  const cluster = await startCluster(dataFolder('unit'));
  globalThis.contactumCluster = cluster;
  process.env.TEST_CLUSTER_URL = cluster.url();
}
