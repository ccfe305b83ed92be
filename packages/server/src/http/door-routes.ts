import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import { randomBytes } from 'node:crypto';
import {
  deepLinkRequest,
  emptyRequest,
  personLinkRequest,
  platformRequest,
  type DeepLinkRequest,
  type Doors,
  type Person,
} from '@contactum/contract';
import type { Knex } from 'knex';
import type { DeepLinks } from '../domain/doors/deep-links.js';
import type { DoorKeys } from '../domain/doors/keys.js';
import type { Launches } from '../domain/doors/launch.js';
import { joinLink } from '../domain/doors/newcomers.js';
import type { Platforms } from '../domain/doors/platforms.js';
import type { Rosters } from '../domain/doors/roster.js';
import type { SignOn, SignedOn } from '../domain/doors/sign-on.js';
import { note } from '../domain/people/audit.js';
import { cookiesNamed } from './cookies.js';
import { ownPath } from '../runtime/own-path.js';
import { Refusal, notFound } from '../runtime/refusal.js';
import { Pace } from '../security/pace.js';
import {
  addressOf,
  administratorOf,
  baseOf,
  bodyOf,
  idOf,
  instructorOf,
  refuseLater,
  textOf,
} from './request.js';

declare module 'express-session' {
  interface SessionData {
    /** The college's sign-on, where it began the session. */
    signedOn?: SignedOn | undefined;
  }
}

export interface DoorParts {
  readonly database: Knex;
  readonly keys: DoorKeys;
  readonly platforms: Platforms;
  readonly launches: Launches;
  readonly deepLinks: DeepLinks;
  readonly rosters: Rosters;
  readonly signOn: SignOn | null;
  /** Address of the server where it is set; otherwise that of the request. */
  readonly publicUrl: string | null;
  readonly secureCookie: boolean;
}

/** What comes from other sites by design; each checks by itself that it was meant. */
export const FROM_ELSEWHERE: ReadonlySet<string> = new Set([
  '/lti/login',
  '/lti/launch',
  '/sign-on/backchannel',
]);
/** Largest body of these, bytes: a token with its claims. */
export const TOKEN_LIMIT = 20_000;

/** By which a browser is known between the two halves of a sign-in. */
const COOKIE = 'contactum.visit';
const MINUTES = 10;

const form: RequestHandler = express.urlencoded({ extended: false, limit: TOKEN_LIMIT, parameterLimit: 20 });

const words = (given: unknown): Record<string, string | undefined> =>
  Object.fromEntries(
    Object.entries((given ?? {}) as Record<string, unknown>).filter(([, value]) => typeof value === 'string'),
  ) as Record<string, string | undefined>;

const browserOf = ({ headers }: Request): string | null => cookiesNamed(headers.cookie, COOKIE)[0] ?? null;

const escaped = (text: string): string => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** A page of the server's own, for whoever comes from another site. */
const pageOf = (...parts: readonly string[]): string =>
  ['<!doctype html><meta charset="utf-8"><title>Contactum</title>', ...parts].join('\n');

/**
 * A page that goes on to one of ours. The session's cookie is not sent by what another site has begun, and this
 * page is ours: what follows is begun here.
 */
function goOn(response: Response, path: string): void {
  const to = escaped(path);
  response
    .type('html')
    .send(
      pageOf(
        `<meta http-equiv="refresh" content="0;url=${to}">`,
        `<p><a href="${to}">Go on to Contactum</a></p>`,
      ),
    );
}

/** A refusal as a page: whoever comes from another site has no page of ours open that could say it. */
const inWords =
  (answer: (request: Request, response: Response) => Promise<void>): RequestHandler =>
  async (request, response) => {
    try {
      await answer(request, response);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      response
        .status(403)
        .type('html')
        .send(
          pageOf(
            '<h1>You could not be signed in</h1>',
            `<p>${escaped(error.message)}</p>`,
            '<p><a href="/">Contactum</a></p>',
          ),
        );
    }
  };

type Begin = (request: Request, person: Person) => Promise<void>;

/** What the routes of a sign-in have in common. */
function handsOf({ database, publicUrl, secureCookie }: DoorParts, beginSession: Begin) {
  const pace = new Pace(600, 20);
  const paced: RequestHandler = (request, _response, next) => {
    if (pace.admits(addressOf(request))) next();
    else
      refuseLater(next, new Refusal('too-many', 'Too many sign-ins at once. Wait a moment and try again.'));
  };
  const base = (request: Request): string => baseOf(request, publicUrl);
  const sendOn = (response: Response, { to, browser }: { to: string; browser: string }): void => {
    response.cookie(COOKIE, browser, {
      httpOnly: true,
      // The answer is posted by the platform's page.
      sameSite: secureCookie ? 'none' : 'lax',
      secure: secureCookie,
      maxAge: MINUTES * 60_000,
      path: '/api',
    });
    response.redirect(302, to);
  };
  const signedIn = async (request: Request, person: Person, by: string): Promise<void> => {
    await beginSession(request, person);
    await note(database, { actor: person, kind: 'signed in', about: by, address: addressOf(request) });
  };
  return { paced, base, sendOn, signedIn };
}

type Hands = ReturnType<typeof handsOf>;

/** Signing in from elsewhere: launches of learning platforms, and the college's own sign-on. */
export function doorRoutes(parts: DoorParts, beginSession: Begin): Router {
  const router = Router();
  const hands = handsOf(parts, beginSession);
  launching(router, parts, hands);
  linking(router, parts);
  signingOn(router, parts, hands);
  registering(router, parts, hands);
  return router;
}

function launching(
  router: Router,
  { launches, keys }: DoorParts,
  { paced, base, sendOn, signedIn }: Hands,
): void {
  const beginLaunch = async (
    request: Request,
    response: Response,
    given: Record<string, string | undefined>,
  ) => sendOn(response, await launches.begin(given, { base: base(request), browser: browserOf(request) }));

  router.get('/lti/login', paced, (request, response) =>
    beginLaunch(request, response, words(request.query)),
  );
  router.post('/lti/login', paced, form, (request, response) =>
    beginLaunch(request, response, words(request.body)),
  );

  router.post(
    '/lti/launch',
    paced,
    form,
    inWords(async (request, response) => {
      const { person, path } = await launches.finish(words(request.body), browserOf(request));
      await signedIn(request, person, 'by a launch');
      goOn(response, path);
    }),
  );

  router.get('/lti/keys', async (_request, response) => {
    response.json(await keys.published());
  });
}

function linking(router: Router, { deepLinks }: DoorParts): void {
  router.get('/lti/links/:id', async (request, response) => {
    response.json(await deepLinks.choice(idOf(request, 'link'), instructorOf(request)));
  });

  router.post('/lti/links/:id', async (request, response) => {
    const instructor = instructorOf(request);
    const given = bodyOf<DeepLinkRequest>(request, deepLinkRequest);
    await deepLinks.choose(idOf(request, 'link'), given, instructor);
    response.status(204).end();
  });

  /** A page that posts the answer to the platform: no other page of ours may post elsewhere. */
  router.get('/lti/links/:id/answer', async (request, response) => {
    const { to, origin, token } = await deepLinks.answer(idOf(request, 'link'), instructorOf(request));
    const nonce = randomBytes(16).toString('base64');
    response
      .setHeader(
        'Content-Security-Policy',
        `default-src 'none'; script-src 'nonce-${nonce}'; form-action ${origin}; base-uri 'none'; frame-ancestors 'none'`,
      )
      .type('html')
      .send(
        pageOf(
          `<form method="post" action="${escaped(to)}">`,
          `<input type="hidden" name="JWT" value="${escaped(token)}">`,
          '<button>Back to the course</button></form>',
          `<script nonce="${nonce}">document.forms[0].submit()</script>`,
        ),
      );
  });
}

function signingOn(router: Router, { signOn }: DoorParts, { paced, base, sendOn, signedIn }: Hands): void {
  const requireSignOn = (): SignOn => {
    if (!signOn) throw notFound('sign-on');
    return signOn;
  };

  router.get('/sign-on', paced, async (request, response) => {
    const own = requireSignOn();
    const target = ownPath(textOf(request, 'to'));
    sendOn(response, await own.begin({ base: base(request), browser: browserOf(request), target }));
  });

  router.get(
    '/sign-on/callback',
    paced,
    inWords(async (request, response) => {
      const own = requireSignOn();
      const url = new URL(request.originalUrl, base(request));
      const { person, target, signedOn } = await own.finish(url, browserOf(request));
      await signedIn(request, person, `by ${own.config.name}`);
      request.session.signedOn = signedOn;
      await new Promise<void>((resolve, reject) =>
        request.session.save((error) => (error ? reject(error as Error) : resolve())),
      );
      goOn(response, target);
    }),
  );

  router.post('/sign-on/backchannel', paced, form, async (request, response) => {
    const { logout_token: token } = words(request.body);
    if (token === undefined) throw new Refusal('invalid', 'logout_token: is missing');
    await requireSignOn().endBy(token);
    response.status(200).end();
  });
}

/** Marks that were not taken when they were told last. */
const untoldMarks = (database: Knex) =>
  database('told_marks as t')
    .leftJoin('assignments as s', 's.id', 't.assignment_id')
    .leftJoin('assessments as x', 'x.id', 't.assessment_id')
    .join('people as p', 'p.id', 't.student_id')
    .whereNull('t.told_at')
    .whereNotNull('t.problem')
    .orderBy('t.next_at')
    .limit(50)
    .select<{ title: string; student: string; problem: string; tries: number }[]>(
      database.raw("coalesce(s.document->>'title', x.title) as title"),
      'p.name as student',
      't.problem',
      't.tries',
    );

/** Platforms, keys, accounts and rosters. */
function registering(
  router: Router,
  { database, platforms, keys, rosters }: DoorParts,
  { base: addressHere }: Hands,
): void {
  router.get('/doors', async (request, response) => {
    administratorOf(request);
    const base = addressHere(request);
    const untold = await untoldMarks(database);
    response.json({
      loginUrl: `${base}/api/lti/login`,
      launchUrl: `${base}/api/lti/launch`,
      keysUrl: `${base}/api/lti/keys`,
      platforms: await platforms.list(),
      untold,
    } satisfies Doors);
  });

  router.post('/doors/platforms', async (request, response) => {
    const administrator = administratorOf(request);
    response.status(201).json(await platforms.put(bodyOf(request, platformRequest), null, administrator));
  });

  router.put('/doors/platforms/:id', async (request, response) => {
    const administrator = administratorOf(request);
    const id = idOf(request, 'platform');
    response.json(await platforms.put(bodyOf(request, platformRequest), id, administrator));
  });

  router.delete('/doors/platforms/:id', async (request, response) => {
    const administrator = administratorOf(request);
    await platforms.remove(idOf(request, 'platform'), administrator);
    response.status(204).end();
  });

  router.post('/doors/keys', async (request, response) => {
    administratorOf(request);
    bodyOf(request, emptyRequest);
    response.status(201).json({ kid: await keys.rotate() });
  });

  router.post('/people/:id/link', async (request, response) => {
    const administrator = administratorOf(request);
    const id = idOf(request, 'person');
    await joinLink(database, id, bodyOf(request, personLinkRequest), administrator);
    response.status(204).end();
  });

  router.get('/classes/:id/roster', async (request, response) => {
    response.json(await rosters.preview(idOf(request, 'class'), instructorOf(request)));
  });

  router.post('/classes/:id/roster', async (request, response) => {
    const instructor = instructorOf(request);
    bodyOf(request, emptyRequest);
    response.status(201).json(await rosters.take(idOf(request, 'class'), instructor));
  });
}
