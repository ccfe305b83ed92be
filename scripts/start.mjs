/**
 * `npm start [-- --with-stand-ins]`: installs what is missing, starts database and server, and says where to go;
 * with stand-ins of a learning platform and a college's sign-on beside them, where that is asked for.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePackages, ensurePostgres, checkNode } from './lib/install.mjs';
import { ROOT, dataFolder, tellAndExit, Plain } from './lib/paths.mjs';
import { findBinaries, startCluster, ensureDatabase } from './lib/postgres.mjs';

const PREFERRED_PORT = 4180;

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

async function choosePort() {
  const { PORT } = process.env;
  if (PORT !== undefined) {
    const wanted = Number(PORT);
    if (!/^\d+$/.test(PORT) || wanted < 1 || wanted > 65535)
      throw new Plain(`PORT is a number from 1 to 65535, not "${PORT}".`);
    if (wanted < 1024 && process.getuid?.() !== 0)
      throw new Plain(
        `Port ${wanted} may be opened by root alone. Take one from 1024 on: PORT=4280 npm start`,
      );
    if (!(await isFree(wanted)))
      throw new Plain(`Port ${wanted} is taken. Choose another one: PORT=4280 npm start`);
    return wanted;
  }
  // Ten: browsers refuse the next one, which is another protocol's.
  for (let port = PREFERRED_PORT; port < PREFERRED_PORT + 10; port += 1) if (await isFree(port)) return port;
  throw new Plain(`Ports ${PREFERRED_PORT} to ${PREFERRED_PORT + 9} are all taken.`);
}

/** True where this process still runs and is one of ours. */
function runs(pid, script) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(script);
  } catch {
    return false;
  }
}

/** What an earlier start noted; nothing where its file is damaged, as after a full disk. */
function noted(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) ?? {};
  } catch {
    return {};
  }
}

/** Builds what is out of date in a process of its own: what building takes is given back when it is done. */
async function build() {
  const child = spawn(process.execPath, [join(ROOT, 'scripts', 'build.mjs')], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const [code] = await once(child, 'exit');
  if (code !== 0) throw new Plain('Building Contactum failed; what is wrong stands above.');
}

/**
 * One start for each data folder: two would pull the database from under each other. What a killed start
 * left is ended.
 */
async function claim(file) {
  const { start, server, url } = noted(file);
  if (start && start !== process.pid && runs(start, 'start.mjs'))
    throw new Plain(url ? `Contactum is already running: ${url}` : 'Contactum is already being started.');
  if (server && runs(server, 'main.mjs')) {
    endGroup(server);
    // Its port is free once it is gone.
    for (let k = 0; k < 50 && runs(server, 'main.mjs'); k += 1) await pause(100);
  }
  const note = (more) => {
    try {
      writeFileSync(file, JSON.stringify({ start: process.pid, ...more }), { mode: 0o600 });
    } catch (error) {
      throw new Plain(`${file} cannot be written (${error.code}). Give yourself write access to its folder.`);
    }
  };
  note({});
  cleanup.push(() => rmSync(file, { force: true }));
  return note;
}

/** Of the server's part, which is there once the packages are. */
let launch, halt, endGroup;
const cleanup = [];
let ending = false;
async function end(code) {
  if (ending) return;
  ending = true;
  for (const undo of cleanup.reverse()) await undo();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));

const FIRST_PAUSE = 200;
const LONGEST_PAUSE = 5_000;
/** What has worked as long as this was killed, and does not fail by itself, milliseconds. */
const STEADY = 1_000;
const WATCH = 500;

/** Starts the database again whenever it has died, after pauses that grow while it goes on dying. */
async function watchDatabase(cluster) {
  let next = FIRST_PAUSE;
  while (!ending) {
    await pause(WATCH);
    if (ending || cluster.isAlive()) continue;
    console.log('The database has died; starting it again …');
    if (await cluster.revive()) {
      console.log('The database is back.');
      next = FIRST_PAUSE;
    } else {
      console.log(`The database does not start; trying again in ${(next / 1000).toFixed(1)} s.`);
      await pause(next);
      next = Math.min(LONGEST_PAUSE, next * 2);
    }
  }
}

/** Keeps a server running: one that dies as a whole is started again at its own port. */
async function keepServer(env, note) {
  let next = FIRST_PAUSE;
  let child = null;
  cleanup.push(() => child && halt(child));
  const begin = async () => {
    const running = await launch(env, (line) => console.log(`The server: ${line}`));
    child = running.child;
    note({ server: child.pid, url: `http://localhost:${running.port}` });
    const begun = Date.now();
    child.once('exit', (code, signal) => {
      endGroup(running.child.pid);
      if (ending) return;
      next = Date.now() - begun > STEADY ? FIRST_PAUSE : Math.min(LONGEST_PAUSE, next * 2);
      console.log(
        `The server has died (${signal ?? `exit ${code}`}); starting it again in ${(next / 1000).toFixed(1)} s …`,
      );
      void again();
    });
    return running.port;
  };
  const again = async () => {
    await pause(next);
    if (ending) return;
    try {
      await begin();
      console.log('The server is back.');
    } catch (error) {
      next = Math.min(LONGEST_PAUSE, next * 2);
      console.log(`${error.message} Trying again in ${(next / 1000).toFixed(1)} s …`);
      void again();
    }
  };
  return begin();
}

/** Simulated students of the demonstration, in a process of their own that ends with this one. */
function beginClass(base) {
  const child = spawn(process.execPath, [join(ROOT, 'packages', 'server', 'dist', 'class.mjs')], {
    env: { ...process.env, BASE: base },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  cleanup.push(() => child.kill('SIGTERM'));
}

/**
 * A learning platform and a sign-on for trying, at ports beside the server's. Returns what the server is told of
 * them, and how they are registered with it.
 */
async function beginStandIns(port) {
  const { loadDoors, registerPlatform } = await import('./lib/stand-ins.mjs');
  const { Gradebook, SignOnStandIn } = await loadDoors();
  const tool = `http://localhost:${port}`;
  const platform = new Gradebook({ tool, port: port + 11 });
  const signOn = new SignOnStandIn({ tool, port: port + 12 });
  for (const one of [platform, signOn]) {
    await one.start();
    cleanup.push(() => one.stop());
  }
  return {
    env: { ...signOn.environment, PUBLIC_URL: tool, XAPI_URL: `${platform.issuer}/xapi` },
    register: (env) => registerPlatform(platform, env),
    words: `
A learning platform to launch from: ${platform.issuer}
The college's sign-on: on the sign-in page (whoever you choose is believed)
`,
  };
}

try {
  const { 'with-stand-ins': withStandIns = false } = parseArgs({
    options: { 'with-stand-ins': { type: 'boolean' } },
  }).values;
  checkNode();
  ensurePackages();
  ensurePostgres(findBinaries);
  const {
    launch: start,
    halt: end_,
    endGroup: endAll,
    seed,
    serverEnvironment,
  } = await import('./lib/server.mjs');
  [launch, halt, endGroup] = [start, end_, endAll];
  const home = dataFolder(process.env.CONTACTUM_DATA ?? 'live');
  const note = await claim(join(home, 'running.json'));
  const port = await choosePort();
  const ownCluster = async () => {
    const started = await startCluster(home);
    // At once: whoever interrupts the build leaves no database behind.
    cleanup.push(() => started.stop());
    return started;
  };
  const [cluster] = await Promise.all([ownCluster(), build()]);
  const standIns = withStandIns ? await beginStandIns(port) : null;
  const env = serverEnvironment({
    databaseUrl: await ensureDatabase(cluster, 'contactum'),
    sessionSecret: cluster.sessionSecret,
    port,
    WEB_PROCESSES: process.env.WEB_PROCESSES ?? '2',
    LOG_FILE: process.env.LOG_FILE ?? join(home, 'logs', 'contactum.log'),
    ...standIns?.env,
  });
  seed(env);
  standIns?.register(env);
  const opened = await keepServer(env, note);
  void watchDatabase(cluster);
  if (process.env.CLASS_AT_WORK !== 'off') beginClass(`http://127.0.0.1:${opened}`);
  console.log(`
Contactum is running: http://localhost:${opened}

Demo accounts of Saltmarsh Technical College (password for all: tidewater)
  instructor  brack
  student     skerry   (class Pan Fitters 1A)
  student     osier    (class Pan Fitters 1B, at work now)

Twelve simulated students of that class are at work; CLASS_AT_WORK=off npm start leaves them out.
${standIns?.words ?? ''}
Logs are in ${join(home, 'logs')}. Stop with Ctrl-C.
`);
} catch (error) {
  ending = true;
  for (const undo of cleanup.reverse()) await undo();
  tellAndExit(error);
}
