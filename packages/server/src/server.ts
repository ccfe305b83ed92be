import { toldTo } from './runtime/logging.js';
import { createServer, type Server } from 'node:http';
import { setTimeout } from 'node:timers/promises';
import type { AddressInfo } from 'node:net';
import type { Express } from 'express';
import type { Knex } from 'knex';
import type PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Config } from './config.js';
import { alone, migrate, openDatabase, openPool } from './database/database.js';
import { listenTo } from './runtime/listen.js';
import { RIGHTS_CHANNEL } from './database/migrations/009-rights.js';
import { hasExercises, loadExercises } from './domain/authoring/exercises.js';
import { DeepLinks } from './domain/doors/deep-links.js';
import { DoorKeys } from './domain/doors/keys.js';
import { Launches } from './domain/doors/launch.js';
import { pageOfTask, type OpensTasks } from './domain/doors/page-of-task.js';
import type { VariantIn } from './domain/attempts/attempts.js';
import { Platforms } from './domain/doors/platforms.js';
import { Rosters } from './domain/doors/roster.js';
import { Services } from './domain/doors/services.js';
import { SignOn } from './domain/doors/sign-on.js';
import { Visits } from './domain/doors/visits.js';
import type { DoorParts } from './http/door-routes.js';
import { createApp, type AppParts } from './http/app.js';
import { Places } from './domain/assessments/place.js';
import { logHandler } from './http/log-handler.js';
import { SessionStore } from './http/session-store.js';
import { SessionManager } from './benches/session-manager.js';
import { benchRoute } from './http/bench-handler.js';
import { benchOnFloor, floorRoute } from './http/floor-handler.js';
import { ScannerLines } from './http/scanner-handler.js';
import { Scanners } from './domain/scanners/scanners.js';
import { SocketHandler } from './http/socket-handler.js';
import { Floor } from './floor/floor.js';
import { Searches } from './domain/searches/searches.js';
import { pruneLine } from './security/sign-in-line.js';
import { SharedFailures } from './security/throttle.js';
import { Journal } from './domain/attempts/journal.js';
import { Packs } from './domain/records/packs.js';
import { Sheets } from './domain/attempts/sheets.js';
import { Slips } from './domain/attempts/slips.js';
import { startBackground } from './marking/background.js';
import { Marking } from './marking/marking.js';
import type { Exercise, Hint, Likenesses, PermitCheck } from '@contactum/core';
import { Hints } from './domain/attempts/hints.js';
import type { ReadLibrary } from './threads/library.js';
import { SearchThreads } from './threads/searches.js';
import { Desk } from './domain/attempts/desk.js';
import { openQueue } from './runtime/queue.js';
import { Lane, costIn, judgeIn, type Worker } from './runtime/lane.js';

export interface Running {
  readonly port: number;
  readonly database: Knex;
  stop(): Promise<void>;
}

/** What threads run: marking and searching, and live benches. */
export interface Workers {
  readonly marking: Worker;
  readonly benches: Worker;
}

const HOUR = 3600_000;
/** Longest wait for the lines to the other processes before requests are answered, milliseconds. */
const READY_MS = 5_000;
/** Whoever does not send what was begun is cut off, milliseconds: its head, and all of it on a slow line. */
const TIMES = { headersTimeout: 15_000, requestTimeout: 120_000 };
/** Longest computation for which somebody waits, seconds. */
const WAITED_FOR = 60;

/**
 * Brings the tables up to date, before any process works with them; of several that are started at once each
 * in turn. Says whether there are no exercises yet, without which nobody can begin.
 */
export async function prepareTables(config: Config, log: Logger): Promise<boolean> {
  const database = openDatabase(config.databaseUrl, log);
  try {
    return await alone(config.databaseUrl, async () => {
      await migrate(database);
      const boss = await openQueue(config.databaseUrl, log, true);
      await boss.stop({ graceful: false });
      return !(await hasExercises(database));
    });
  } finally {
    await database.destroy();
  }
}

/** The exercises that come with this release, in the place of those of an older one. */
export async function prepareExercises(config: Config, log: Logger): Promise<void> {
  const database = openDatabase(config.databaseUrl, log);
  try {
    await alone(config.databaseUrl, () => loadExercises(database));
  } finally {
    await database.destroy();
  }
}

/**
 * For what somebody waits for, a lane for each kind: a heavy board of one kind holds up nobody who asks for
 * another.
 */
function lanesOf({ marking: worker }: Workers, { markingSeconds }: Config) {
  const lane = () => new Lane({ worker, seconds: WAITED_FOR });
  // What the floor's thread knows of the benches stays in it.
  return {
    marking: lane(),
    searches: lane(),
    sheets: lane(),
    setter: lane(),
    cost: new Lane({ worker, seconds: markingSeconds }),
    floor: new Lane({ worker, staying: 1, seconds: WAITED_FOR }),
  };
}

/** Ends a server once what it answers has been answered, or after three seconds. */
async function closed(server: Server): Promise<void> {
  server.closeIdleConnections();
  await new Promise<void>((resolve) => {
    server.close(() => resolve());
    globalThis.setTimeout(() => server.closeAllConnections(), 3000).unref();
  });
}

/** The application with everything that its routes ask. */
function appOver({
  boss,
  lanes,
  marking,
  ...parts
}: Omit<AppParts, 'desk' | 'hints' | 'alikeIn' | 'packs' | 'sheets' | 'drafts'> & {
  readonly boss: PgBoss;
  readonly lanes: ReturnType<typeof lanesOf>;
  readonly marking: Marking;
}): Express {
  const { config, database, pool, journal } = parts;
  return createApp({
    ...parts,
    desk: new Desk(pool, boss),
    hints: new Hints(database, journal, (exercise, bench, degree) =>
      lanes.setter.run<Hint | null>({ exercise, bench, degree }, 'hint'),
    ),
    alikeIn: (works) => lanes.setter.run<Likenesses>({ works }, 'alike'),
    packs: new Packs(database, journal, parts.slips, (slip) =>
      lanes.setter.run<Uint8Array>({ slip }, 'printSlip'),
    ),
    sheets: new Sheets(database, journal, boss, lanes.sheets, (id, by) => marking.markAgain(id, by)),
    drafts: {
      judge: judgeIn(lanes.setter),
      costIn: costIn(lanes.cost, config.markingSeconds),
      readIn: (task) => lanes.setter.run<ReadLibrary>(task, 'readLibrary'),
    },
  });
}

/** Ways in from elsewhere: learning platforms and the college's sign-on. */
function doorsOver(tasks: OpensTasks, visits: Visits, config: Config): DoorParts {
  const { database } = tasks;
  const keys = new DoorKeys(database);
  const platforms = new Platforms(database);
  const { publicUrl, secureCookie, signOn } = config;
  return {
    database,
    keys,
    platforms,
    launches: new Launches(database, platforms, visits, (id, student) => pageOfTask(tasks, id, student)),
    deepLinks: new DeepLinks(database, keys),
    rosters: new Rosters(database, platforms, new Services(keys)),
    signOn: signOn && new SignOn(database, visits, signOn),
    publicUrl,
    secureCookie,
  };
}

/** Physical boards, and slips whose permission may close a board's relay. */
function boardsOver(
  database: Knex,
  journal: Journal,
  marking: Marking,
  { sheets }: ReturnType<typeof lanesOf>,
): { readonly scanners: Scanners; readonly slips: Slips } {
  const scanners = new Scanners(database, journal, (task) => sheets.run<PermitCheck>(task, 'mayEnergise'));
  const slips = new Slips(database, journal, marking, (id, exercise, by) =>
    scanners.permit(id, exercise, by),
  );
  return { scanners, slips };
}

/** A process that answers requests. */
export async function startWeb(config: Config, workers: Workers, log: Logger): Promise<Running> {
  const { databaseUrl } = config;
  const database = openDatabase(databaseUrl, log);
  const pool = openPool(databaseUrl, log, 10);
  const journal = new Journal(pool, log);
  const boss = await openQueue(databaseUrl, log, false);
  const lanes = lanesOf(workers, config);
  const marking = new Marking(database, journal, lanes.marking);
  const sessions = new SessionStore(pool);
  const hub = new SessionManager(pool, databaseUrl, workers.benches, log);
  const searches = new Searches(database, hub, new SearchThreads(lanes.searches));
  const { scanners, slips } = boardsOver(database, journal, marking, lanes);
  const [places, visits] = [new Places(database), new Visits(database)];
  const variantIn: VariantIn = (exercise, seed) => lanes.setter.run<Exercise>({ exercise, seed }, 'vary');
  const doors = doorsOver({ database, searches, variantIn }, visits, config);
  const parts = { config, database, pool, journal, sessions, slips, places, scanners, doors, log };
  const app = appOver({ ...parts, boss, searches, variantIn, lanes, marking });
  const floor = new Floor({ ...parts, databaseUrl, lane: lanes.floor });
  const scannerLines = new ScannerLines(scanners, databaseUrl, log);
  const sockets = new SocketHandler(
    { config, people: sessions, log },
    [
      benchRoute(database, hub, places),
      benchOnFloor(database, floor),
      floorRoute(database, floor),
      scannerLines.board,
    ],
    [scannerLines.gateway],
  );
  const rights = listenTo(databaseUrl, RIGHTS_CHANNEL, log, () => sockets.look());
  const door = logHandler({ config, people: sessions, journal, places, log });
  const server = createServer({ keepAliveTimeout: 65_000, ...TIMES }, (request, response) => {
    if (!door(request, response)) app(request, response);
  });
  server.on('upgrade', (request, stream, head) => sockets.upgrade(request, stream, head));
  // Whoever comes at once is told what happens elsewhere; a database that is away keeps nobody waiting for
  // long.
  await Promise.race([Promise.all([floor.ready, hub.ready]), setTimeout(READY_MS)]);
  await listen(server, config);
  const failures = new SharedFailures(pool);
  const old = () => Promise.all([sessions.prune(), failures.prune(), visits.prune(), pruneLine(pool)]);
  const prune = setInterval(() => void old().catch(toldTo(log, 'old sessions')), HOUR);
  return {
    port: (server.address() as AddressInfo).port,
    database,
    async stop() {
      clearInterval(prune);
      await rights.stop();
      sockets.stop();
      await scannerLines.stop();
      await floor.stop();
      await hub.stop();
      await closed(server);
      await boss.stop({ graceful: false });
      await Promise.all([
        ...Object.values(lanes).map((lane) => lane.destroy()),
        database.destroy(),
        pool.end(),
      ]);
    },
  };
}

/** A process that marks and searches. */
export async function startWork(
  config: Config,
  { marking: worker }: Workers,
  log: Logger,
): Promise<{ stop(): Promise<void> }> {
  const database = openDatabase(config.databaseUrl, log);
  const pool = openPool(config.databaseUrl, log, 4);
  const background = await startBackground({
    database,
    pool,
    journal: new Journal(pool, log),
    databaseUrl: config.databaseUrl,
    worker,
    threads: config.markingThreads,
    turnSeconds: config.markingSeconds,
    searchSeconds: config.repairSeconds,
    statements: config.statements,
    log,
  });
  return {
    async stop() {
      await background.stop();
      await Promise.all([database.destroy(), pool.end()]);
    },
  };
}

/** Everything in one process. */
export async function startServer(config: Config, worker: Workers, log: Logger): Promise<Running> {
  await prepareTables(config, log);
  await prepareExercises(config, log);
  const work = await startWork(config, worker, log);
  const web = await startWeb(config, worker, log);
  return {
    ...web,
    async stop() {
      await Promise.all([web.stop(), work.stop()]);
    },
  };
}

function listen(server: Server, { host, port }: Config): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(host === undefined ? { port } : { port, host }, () => {
      server.off('error', reject);
      resolve();
    });
  });
}
