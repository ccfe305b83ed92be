import { join } from 'node:path';
import connectPgSimple from 'connect-pg-simple';
import express, { type Express } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import type { Knex } from 'knex';
import pg from 'pg';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Config } from '../config.js';
import type { Marker } from '../marking/queue.js';
import { attemptRoutes } from './attempt-routes.js';
import { classRoutes } from './class-routes.js';
import { errorHandler, unknownRoute } from './errors.js';
import { exerciseRoutes } from './exercise-routes.js';
import { sameOriginOnly } from './request.js';
import { sessionRoutes } from './session-routes.js';

/** Largest request body; a whole bench of 600 wires is far below it. */
const BODY_LIMIT = '200kb';
const SESSION_DAYS = 7;

export interface App {
  readonly express: Express;
  close(): Promise<void>;
}

/** The application over one database: interface under /api, the browser's files beside it. */
export function createApp(config: Config, database: Knex, marker: Marker, log: Logger): App {
  const app = express();
  const pool = new pg.Pool({ connectionString: config.databaseUrl, max: 4 });
  const PgStore = connectPgSimple(session);
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'default-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:'],
          'font-src': ["'self'"],
          'worker-src': ["'self'", 'blob:'],
          // Plain HTTP on a lab network: nothing is upgraded.
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  if (config.logLevel === 'info') app.use(pinoHttp({ logger: log }));

  const api = express.Router();
  api.use(sameOriginOnly);
  api.use(express.json({ limit: BODY_LIMIT, strict: true }));
  api.use(
    session({
      name: 'contactum.session',
      secret: config.sessionSecret,
      store: new PgStore({ pool, tableName: 'sessions', createTableIfMissing: true }),
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'strict', maxAge: SESSION_DAYS * 24 * 3600 * 1000 },
    }),
  );
  api.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  api.use('/session', sessionRoutes(database, config.signInLimit));
  api.use(exerciseRoutes(database));
  api.use(attemptRoutes(database, marker));
  api.use(classRoutes(database));
  api.use(unknownRoute);
  app.use('/api', api);

  if (config.webRoot !== undefined) {
    const { webRoot } = config;
    app.use('/assets', express.static(join(webRoot, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false, setHeaders: undefined }));
    app.use(express.static(webRoot, { index: false }));
    app.get(/^\/(?!api\/).*/, (_request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(join(webRoot, 'index.html'));
    });
  }
  app.use(errorHandler(log));
  return { express: app, close: () => pool.end() };
}
