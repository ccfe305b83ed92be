import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Knex } from 'knex';
import { pino } from 'pino';
import type { Config } from './config.js';
import { migrate, openDatabase } from './database/database.js';
import { loadExercises } from './exercises.js';
import { createApp } from './http/app.js';
import { startMarker } from './marking/queue.js';

export interface Running {
  readonly port: number;
  readonly database: Knex;
  stop(): Promise<void>;
}

/** Opens the database, brings it up to date, starts marking, and listens. */
export async function startServer(config: Config, worker: { url: URL; arguments?: readonly string[] }): Promise<Running> {
  const log = pino({ level: config.logLevel });
  const database = openDatabase(config.databaseUrl);
  await migrate(database);
  await loadExercises(database, config.exercises);
  const marker = await startMarker({
    database,
    databaseUrl: config.databaseUrl,
    worker: worker.url,
    workerArguments: worker.arguments ?? [],
    threads: config.markingThreads,
    log,
  });
  const app = createApp(config, database, marker, log);
  const server = createServer(app.express);
  await listen(server, config.port);
  return {
    port: (server.address() as AddressInfo).port,
    database,
    async stop() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await marker.stop();
      await app.close();
      await database.destroy();
    },
  };
}

function listen(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve());
  });
}
