/** `npm start`: installs what is missing, starts database and server, and says where to go. */
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
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

/** True where this process still runs and is one of ours. */
function runs(pid, script) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(script);
  } catch {
    return false;
  }
}

/** One start for each data folder: two would pull the database from under each other. What a killed start left is ended. */
function claim(file) {
  if (existsSync(file)) {
    const { start, server, url } = JSON.parse(readFileSync(file, 'utf8'));
    if (start !== process.pid && runs(start, 'start.mjs')) throw new Plain(url ? `Contactum is already running: ${url}` : 'Contactum is already being started.');
    if (server && runs(server, 'main.mjs')) process.kill(server, 'SIGKILL');
  }
  const note = (more) => writeFileSync(file, JSON.stringify({ start: process.pid, ...more }), { mode: 0o600 });
  note({});
  cleanup.push(() => rmSync(file, { force: true }));
  return note;
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
  const home = dataFolder('live');
  const note = claim(join(home, 'running.json'));
  const [cluster] = await Promise.all([startCluster(home), buildServer().then(buildWeb)]);
  cleanup.push(() => cluster.stop());
  const env = serverEnvironment({ databaseUrl: await ensureDatabase(cluster, 'contactum'), sessionSecret: cluster.sessionSecret, port: await choosePort() });
  seed(env);
  const { child, port } = await launch(env);
  cleanup.push(() => halt(child));
  note({ server: child.pid, url: `http://localhost:${port}` });
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
