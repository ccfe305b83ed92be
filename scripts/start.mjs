/** `npm start`: installs what is missing, starts database and server, and says where to go. */
import { createServer } from 'node:net';
import { ensurePackages, ensurePostgres, checkNode } from './lib/install.mjs';
import { dataFolder, tellAndExit, Plain } from './lib/paths.mjs';
import { findBinaries, startCluster, ensureDatabase } from './lib/postgres.mjs';

const PREFERRED_PORT = 4180;

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

async function choosePort() {
  const wanted = process.env.PORT ? Number(process.env.PORT) : undefined;
  if (wanted !== undefined) {
    if (!(await isFree(wanted))) throw new Plain(`Port ${wanted} is taken. Choose another one: PORT=4190 npm start`);
    return wanted;
  }
  for (let port = PREFERRED_PORT; port < PREFERRED_PORT + 20; port += 1) if (await isFree(port)) return port;
  throw new Plain(`Ports ${PREFERRED_PORT} to ${PREFERRED_PORT + 19} are all taken.`);
}

const cleanup = [];
let ending = false;
async function end(code) {
  if (ending) return;
  ending = true;
  for (const undo of cleanup.reverse()) await undo();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));

try {
  checkNode();
  ensurePackages();
  ensurePostgres(findBinaries);
  const { buildServer, buildWeb } = await import('./lib/build.mjs');
  const { launch, halt, seed, serverEnvironment } = await import('./lib/server.mjs');
  const [cluster] = await Promise.all([startCluster(dataFolder('live')), buildServer().then(buildWeb)]);
  cleanup.push(() => cluster.stop());
  const env = serverEnvironment({ databaseUrl: await ensureDatabase(cluster, 'contactum'), sessionSecret: cluster.sessionSecret, port: await choosePort() });
  seed(env);
  const { child, port } = await launch(env);
  cleanup.push(() => halt(child));
  child.once('exit', () => void end(1));
  console.log(`
Contactum is running: http://localhost:${port}

Demo accounts of Saltmarsh Technical College (password for all: tidewater)
  instructor  brack
  student     skerry   (class Pan Fitters 1A)
  student     osier    (class Pan Fitters 1B, at work now)

Stop with Ctrl-C.
`);
} catch (error) {
  for (const undo of cleanup.reverse()) await undo();
  tellAndExit(error);
}
