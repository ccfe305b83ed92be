import cluster, { type Worker as Process } from 'node:cluster';
import { constants, setPriority } from 'node:os';
import { readConfig, type Config } from './config.js';
import { isAway } from './database/database.js';
import { oneAddress } from './database/primary.js';
import { openLog } from './runtime/logging.js';
import { Starting } from './runtime/starting.js';
import { prepareExercises, prepareTables, startServer, startWeb, startWork } from './server.js';

/**
 * The server's processes: one that answers and marks, or a first one that starts several that answer, one
 * that marks with lower priority, and again whichever of them dies, after a pause that grows while it goes
 * on dying. Those that answer and the one that marks may be started apart, on several machines over one
 * database.
 */
const worker = {
  marking: { url: new URL('./worker.mjs', import.meta.url) },
  benches: { url: new URL('./bench-thread.mjs', import.meta.url) },
};

const FIRST_PAUSE = 200;
const LONGEST_PAUSE = 5_000;
/**
 * A process that has worked as long as this was killed, and does not fail by itself: it is started again at
 * once, milliseconds.
 */
const STEADY = 1_000;

function settings(): Config {
  try {
    return readConfig(process.env);
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    process.exit(2);
  }
}

function endOn(stop: () => Promise<void>): void {
  let stopping = false;
  const end = () => {
    if (stopping) return;
    stopping = true;
    void stop().then(() => process.exit(0));
    setTimeout(() => process.exit(0), 10_000).unref();
  };
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, end);
  process.on('message', (message) => message === 'end' && end());
}

/** One plain line for what everybody may run into: a port, a database, a folder. */
function tell(error: unknown): never {
  const { code, message } = error as { code?: string; message: string };
  const words =
    code === 'EACCES'
      ? 'The port may not be opened by this user; take one from 1024 on.'
      : code === 'EADDRINUSE'
        ? 'The port is taken.'
        : code === 'ECONNREFUSED'
          ? 'The database does not answer.'
          : message;
  process.stderr.write(`${words}\n`);
  process.exit(1);
}

let config = settings();

// A library's own work in the background may meet a database that is away: it tries again by itself, and
// nothing ends for it.
process.on('unhandledRejection', (error) => {
  if (!isAway(error)) throw error;
});

/** Longest wait for a database that is starting, milliseconds. */
const LONGEST_WAIT = 60_000;

/** Does what needs the database as soon as that answers. */
async function onceThere<T>(work: () => Promise<T>): Promise<T> {
  const end = performance.now() + LONGEST_WAIT;
  for (let pause = FIRST_PAUSE; ; pause = Math.min(2_000, pause * 1.5)) {
    try {
      return await work();
    } catch (error) {
      if (!isAway(error) || performance.now() > end) throw error;
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }
}

async function single(): Promise<void> {
  const log = openLog(config, 'server');
  const running = await onceThere(() => startServer(config, worker, log));
  endOn(() => running.stop());
  process.stdout.write(`listening ${running.port}\n`);
}

async function member(role: string): Promise<void> {
  const log = openLog(config, role);
  if (role === 'work') {
    setPriority(0, constants.priority.PRIORITY_LOW);
    const work = await onceThere(() => startWork(config, worker, log));
    endOn(() => work.stop());
    process.send?.({ ready: role });
    return;
  }
  const web = await onceThere(() => startWeb(config, worker, log));
  endOn(() => web.stop());
  process.send?.({ ready: role, port: web.port });
}

/**
 * Processes in the order in which they are started: one that answers has the machine to itself, so that
 * somebody answers as soon as can be; then the others, and last what marks.
 */
function stagesOf({ serve, webProcesses }: Config): string[][] {
  const web = Array.from(
    { length: serve === 'work' ? 0 : Math.max(1, webProcesses) },
    (_, k) => `web-${k + 1}`,
  );
  const stages = [web.slice(0, 1), web.slice(1), serve === 'web' ? [] : ['work']];
  return stages.filter(({ length }) => length > 0);
}

async function first(): Promise<void> {
  const log = openLog(config, 'first');
  // Those of an older release are good enough to begin with.
  if (await onceThere(() => prepareTables(config, log))) await prepareExercises(config, log);
  else
    void onceThere(() => prepareExercises(config, log)).catch((error: unknown) =>
      log.error({ err: error }, 'the exercises of this release'),
    );
  let ending = false;
  let told = false;
  let chosen = config.port;
  const living = new Map<string, Process>();
  const start = (role: string, pause: number): void => {
    let working = Number.POSITIVE_INFINITY;
    const one = cluster.fork({ CONTACTUM_ROLE: role, PORT: String(chosen) });
    living.set(role, one);
    one.on('message', (message: { ready?: string; port?: number }) => {
      if (message.ready !== undefined) {
        working = performance.now();
        if (!ending) starting.isDone(role);
      }
      if (message.port === undefined) {
        if (config.serve === 'work') process.stdout.write('marking\n');
        return;
      }
      chosen = message.port;
      if (!told) process.stdout.write(`listening ${message.port}\n`);
      told = true;
    });
    // One that dies while it is told something is started again as it exits; nobody else ends with it.
    one.on('error', (error) => log.warn({ err: error, role }, 'a message to a process was lost'));
    one.on('exit', (code, signal) => {
      living.delete(role);
      if (ending) return;
      if (!told && code === 1) process.exit(1);
      // What does not start holds up nothing else.
      starting.isDone(role);
      const next = performance.now() - working > STEADY ? FIRST_PAUSE : Math.min(LONGEST_PAUSE, pause * 2);
      log.warn({ role, code, signal, pause: next }, 'a process has died and is started again');
      process.stdout.write(
        `restarting ${role}: it ended (${signal || `exit ${code}`}); trying again in ${(next / 1000).toFixed(1)} s\n`,
      );
      setTimeout(() => start(role, next), next);
    });
  };
  const starting = new Starting(stagesOf(config), (role) => start(role, FIRST_PAUSE / 2));
  endOn(async () => {
    ending = true;
    const gone = [...living.values()].map(
      (one) => new Promise<void>((resolve) => one.once('exit', () => resolve())),
    );
    for (const one of living.values()) one.send('end');
    await Promise.all(gone);
  });
}

const role = process.env.CONTACTUM_ROLE;
try {
  // With a database on several hosts, everything here goes to the one that takes changes.
  config = {
    ...config,
    databaseUrl: await oneAddress(config.databaseUrl, openLog(config, `${role ?? 'first'}-database`)),
  };
  if (cluster.isWorker && role) await member(role);
  else if (config.serve === 'all' && config.webProcesses === 0) await single();
  else await first();
} catch (error) {
  tell(error);
}
