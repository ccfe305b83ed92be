import { join } from 'node:path';
import express, { type Express, type Request, type RequestHandler, type Router } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import type { Knex } from 'knex';
import type pg from 'pg';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { isDeep } from '../runtime/depth.js';
import type { Config } from '../config.js';
import type { Journal } from '../domain/attempts/journal.js';
import { signInFirst } from '../domain/people/permissions.js';
import { Refusal } from '../runtime/refusal.js';
import type { Searches } from '../domain/searches/searches.js';
import type { Scanners } from '../domain/scanners/scanners.js';
import type { Sheets } from '../domain/attempts/sheets.js';
import type { Slips } from '../domain/attempts/slips.js';
import type { Places } from '../domain/assessments/place.js';
import { Desk, type HandIn } from '../domain/attempts/desk.js';
import { Pace } from '../security/pace.js';
import { SignInLine } from '../security/sign-in-line.js';
import { SharedFailures, Throttle } from '../security/throttle.js';
import type { Packs } from '../domain/records/packs.js';
import type { AlikeIn } from '../domain/assessments/likeness.js';
import type { VariantIn } from '../domain/attempts/attempts.js';
import type { Hints } from '../domain/attempts/hints.js';
import { assessmentRoutes } from './assessment-routes.js';
import { attemptRoutes } from './attempt-routes.js';
import { classRoutes } from './class-routes.js';
import { draftRoutes, type DraftParts } from './draft-routes.js';
import { errorHandler, unknownRoute } from './errors.js';
import { exerciseRoutes } from './exercise-routes.js';
import { healthRoutes } from './health-routes.js';
import { peopleRoutes } from './people-routes.js';
import { repairRoutes } from './repair-routes.js';
import { knownHostOnly, refuseLater, sameOriginOnly, wholeTextOnly } from './request.js';
import { beginSession, sessionRoutes } from './session-routes.js';
import { slipRoutes } from './slip-routes.js';
import { FROM_ELSEWHERE, TOKEN_LIMIT, doorRoutes, type DoorParts } from './door-routes.js';
import { scannerRoutes } from './scanner-routes.js';
import { searchRoutes } from './search-routes.js';
import { sheetRoutes } from './sheet-routes.js';
import { SESSION_COOKIE } from './session-cookie.js';
import type { SessionStore } from './session-store.js';

/** Largest request body; an exercise on a bench of 600 wires is below it. */
const BODY_LIMIT = '600kb';
const SESSION_DAYS = 7;

export interface AppParts {
  readonly config: Config;
  readonly database: Knex;
  readonly pool: pg.Pool;
  readonly journal: Journal;
  readonly sessions: SessionStore;
  readonly desk: Desk;
  readonly hints: Hints;
  readonly slips: Slips;
  readonly searches: Searches;
  readonly places: Places;
  readonly sheets: Sheets;
  readonly scanners: Scanners;
  readonly doors: DoorParts;
  readonly variantIn: VariantIn;
  readonly alikeIn: AlikeIn;
  readonly packs: Packs;
  readonly drafts: DraftParts;
  readonly log: Logger;
}

/** The application over one database: interface under /api, the browser's files beside it. */
export function createApp(parts: AppParts): Express {
  const { config, pool, log } = parts;
  const app = express();
  app.set('trust proxy', config.trustProxy);
  app.set('etag', false);
  app.disable('x-powered-by');
  app.use(protectiveHeaders());
  if (config.logLevel === 'info') app.use(pinoHttp({ logger: log }));
  app.use(healthRoutes(pool));
  app.use(knownHostOnly(config.allowedHosts));
  app.use('/api', api(parts));
  if (config.webRoot !== undefined) servePages(app, config.webRoot);
  app.use(errorHandler(log));
  return app;
}

const protectiveHeaders = (): RequestHandler =>
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
  });

/** Everything under /api, behind the checks that every request passes. */
function api(parts: AppParts): Router {
  const { config, database, pool, journal, sessions, desk, hints, slips, searches, sheets, drafts } = parts;
  const router = express.Router();
  // Each of these checks by itself that it was meant.
  router.use((request, response, next) => {
    if (FROM_ELSEWHERE.has(request.path)) next();
    else sameOriginOnly(request, response, next);
  });
  router.use(
    session({
      name: SESSION_COOKIE,
      secret: config.sessionSecret,
      store: sessions,
      resave: false,
      saveUninitialized: false,
      cookie: {
        httpOnly: true,
        sameSite: 'strict',
        secure: config.secureCookie,
        maxAge: SESSION_DAYS * 24 * 3600 * 1000,
      },
    }),
  );
  // Nobody's body is read before it is known whose it is.
  router.use(knownBeforeBody);
  router.use(requestPace());
  router.use(express.json({ limit: BODY_LIMIT, strict: true, verify: refuseDeep }));
  router.use(wholeTextOnly);
  router.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  const pair = config.signInLimit;
  const line = new SignInLine(pool, Math.max(1, config.webProcesses));
  const throttle = new Throttle({ pair, whole: 20 * pair }, new SharedFailures(pool));
  const device = { secret: config.sessionSecret, secure: config.secureCookie };
  const { stayDays, passwords, publicUrl } = config;
  const { signOn } = parts.doors;
  router.use(
    '/session',
    sessionRoutes({ database, throttle, line, stayDays, device, passwords, signOn, publicUrl }),
  );
  router.use(doorRoutes(parts.doors, beginSession));
  router.use(peopleRoutes(database));
  router.use(exerciseRoutes(database));
  const handIn: HandIn = (id, studentId) => searches.handIn(id, () => desk.handIn(id, studentId));
  const { packs, variantIn, alikeIn } = parts;
  router.use(attemptRoutes({ database, journal, handIn, hints, searches, places: parts.places, variantIn }));
  router.use(assessmentRoutes({ database, journal, handIn, packs, variantIn, alikeIn }));
  router.use(searchRoutes(searches));
  router.use(slipRoutes(slips, packs));
  router.use(sheetRoutes(database, sheets));
  router.use(scannerRoutes(parts.scanners));
  router.use(repairRoutes({ database, journal, desk }));
  router.use(classRoutes(database, throttle));
  router.use(draftRoutes(database, drafts));
  router.use(unknownRoute);
  return router;
}

/** What somebody who is not signed in may send: the sign-in, and joining by a code. */
const BEFORE_SIGN_IN: ReadonlySet<string> = new Set(['/session', '/session/', '/session/join']);
/** Largest body of somebody who is not signed in, bytes. */
const STRANGERS_LIMIT = 4_000;

const knownBeforeBody: RequestHandler = (request, _response, next) => {
  const hasBody = request.headers['transfer-encoding'] !== undefined || contentLength(request) > 0;
  if (request.session.person || !hasBody) {
    next();
    return;
  }
  const { path } = request;
  if (!BEFORE_SIGN_IN.has(path) && !FROM_ELSEWHERE.has(path)) refuseLater(next, signInFirst());
  else if (isLarge(request, FROM_ELSEWHERE.has(path) ? TOKEN_LIMIT : STRANGERS_LIMIT))
    refuseLater(next, new Refusal('too-large', 'The request is too large.'));
  else next();
};

/**
 * Requests of one person that are answered at once in a process, and in the long run: more than all their
 * windows make.
 */
const AT_ONCE = 100;
const RATE = { burst: 600, perSecond: 60 };

/**
 * Refuses more of one person's requests, after a while; what they hold in memory and what they cost others
 * is bounded by it.
 */
function requestPace(): RequestHandler {
  const under = new Map<string, number>();
  const pace = new Pace(RATE.burst, RATE.perSecond);
  return (request, response, next) => {
    const id = request.session.person?.id;
    if (id === undefined) {
      next();
      return;
    }
    const now = (under.get(id) ?? 0) + 1;
    under.set(id, now);
    response.once('close', () => {
      const left = (under.get(id) ?? 1) - 1;
      if (left > 0) under.set(id, left);
      else under.delete(id);
    });
    if (now <= AT_ONCE && pace.admits(id)) next();
    else
      refuseLater(next, new Refusal('too-many', 'Too many requests at once. Wait a moment and try again.'));
  };
}

const isLarge = (request: Request, most: number): boolean =>
  request.headers['transfer-encoding'] !== undefined || contentLength(request) > most;

const contentLength = ({ headers }: Request): number => Number(headers['content-length'] ?? 0);

/** Refuses what is nested too deeply before it is parsed. */
function refuseDeep(_request: unknown, _response: unknown, body: Buffer): void {
  if (isDeep(body.toString('utf8'))) throw new Refusal('invalid', 'The request is nested too deeply.');
}

/** The browser's files, and its one page for every other address. */
function servePages(app: Express, webRoot: string): void {
  const assets = join(webRoot, 'assets');
  app.use('/assets', express.static(assets, { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(webRoot, { index: false }));
  app.get(/^\/(?!api\/).*/, wholeTextOnly, (_request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(join(webRoot, 'index.html'));
  });
}
