import type { IncomingMessage } from 'node:http';
import type { Request, RequestHandler } from 'express';
import proxyAddress from 'proxy-addr';
import type { z } from 'zod';
import { readWith } from '@contactum/core/documents';
import type { Person } from '@contactum/contract';
import {
  requireAdministrator,
  requireInstructor,
  requireKnown,
  requirePerson,
  requireStudent,
} from '../domain/people/permissions.js';
import { Refusal, notFound } from '../runtime/refusal.js';
import type { Pace } from '../security/pace.js';

declare module 'express-session' {
  interface SessionData {
    person?: Person | undefined;
  }
}

/** Reads a request's body through a schema; a refusal names the JSON path. */
export const bodyOf = <T>(request: Request, schema: z.ZodType<T>): T =>
  valueOf((request.body as unknown) ?? {}, schema);

export function valueOf<T>(body: unknown, schema: z.ZodType<T>): T {
  const read = readWith(schema, body);
  if (read.ok) return read.value;
  const [first] = read.problems;
  throw new Refusal('invalid', `${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}`, {
    problems: read.problems,
  });
}

/** An id in an address. */
export const ID = '[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}';
const WHOLE_ID = new RegExp(`^${ID}$`, 'i');

/** An id from the address; one that cannot be an id names nothing. */
export function idOf(request: Request, what: string, name = 'id'): string {
  const id = request.params[name];
  if (typeof id !== 'string' || !WHOLE_ID.test(id)) throw notFound(what);
  return id;
}

/** A word of the query; undefined where there is none, or more than one. */
export function textOf(request: Request, name: string): string | undefined {
  const value = request.query[name];
  return typeof value === 'string' && value !== '' ? value.slice(0, 2_000) : undefined;
}

/** An IPv4 address that came in through an IPv6 socket, as what it is. */
const plainAddress = (address: string): string => address.replace(/^::ffff:/, '');

/** The address at which a request came in: the one that is set, or that of the request. */
export const baseOf = ({ protocol, headers }: Request, publicUrl: string | null): string =>
  publicUrl ?? `${protocol}://${headers.host ?? ''}`;

/** From where a request comes. */
export const addressOf = ({ ip = '' }: Pick<Request, 'ip'>): string => plainAddress(ip);

/** The same of a request that passes no middleware, behind some proxies of our own. */
export const remoteOf = (request: IncomingMessage, proxies: number): string =>
  plainAddress(proxyAddress(request, (_address, hop) => hop < proxies));

export const personOf = (request: Request): Person => requirePerson(request.session.person);
export const instructorOf = (request: Request): Person => requireInstructor(request.session.person);
export const administratorOf = (request: Request): Person => requireAdministrator(request.session.person);
/** Somebody who is signed in, also with a first password. */
export const knownOf = (request: Request): Person => requireKnown(request.session.person);
export const studentOf = (request: Request): Person => requireStudent(request.session.person);

/**
 * How long whoever asks too much waits for being told so, milliseconds: asking again at once gains nothing.
 */
const LATER_MS = 500;

/** Hands a refusal on, after a while. */
export function refuseLater(next: (error: unknown) => void, refusal: unknown): void {
  setTimeout(() => next(refusal), LATER_MS);
}

/** Refuses, after a while, what one person asks for more often than a hand does. */
export async function requirePace(pace: Pace, { id }: Person): Promise<void> {
  if (pace.admits(id)) return;
  await new Promise((resolve) => refuseLater(resolve, null));
  throw new Refusal('too-many', 'That is much at once. Wait a moment and try again.');
}

/**
 * Plain addresses and the machine's own name: a page elsewhere cannot make a browser send them for its own
 * name.
 */
const PLAIN_HOST = /^(localhost|\d{1,3}(\.\d{1,3}){3}|\[[0-9a-f:.]+\])(:\d+)?$/i;

/** The server answers to its own names alone. */
export function knownHostOnly(allowed: readonly string[]): RequestHandler {
  return (request, _response, next) => {
    refuseForeignHost(request.headers.host ?? '', allowed);
    next();
  };
}

export function refuseForeignHost(host: string, allowed: readonly string[]): void {
  if (!PLAIN_HOST.test(host) && !allowed.includes(host.toLowerCase().replace(/:\d+$/, ''))) {
    throw new Refusal('invalid', 'The server does not go by this name. Add it to ALLOWED_HOSTS.');
  }
}

/**
 * Text that no database column can hold, anywhere in an address or a body: NUL characters and halves of
 * characters.
 */
export const wholeTextOnly: RequestHandler = (request, _response, next) => {
  if (!isWhole(decodeURIComponent(request.originalUrl)))
    throw new Refusal('invalid', 'The address holds characters that cannot be stored.');
  refuseBrokenText(request.body);
  next();
};

export function refuseBrokenText(body: unknown): void {
  const queue: unknown[] = [body];
  for (const value of queue) {
    if (typeof value === 'string' && !isWhole(value))
      throw new Refusal('invalid', 'The request holds characters that cannot be stored.');
    if (typeof value === 'object' && value !== null) {
      for (const [key, inner] of Object.entries(value)) {
        if (!isWhole(key))
          throw new Refusal('invalid', 'The request holds characters that cannot be stored.');
        queue.push(inner);
      }
    }
  }
}

const isWhole = (text: string): boolean =>
  !text.includes('\u0000') &&
  !/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.test(text);

/** A request that changes something must come from our own pages. */
export const sameOriginOnly: RequestHandler = (request, _response, next) => {
  const safe = request.method === 'GET' || request.method === 'HEAD' || request.method === 'OPTIONS';
  if (!safe) refuseForeignOrigin(request.headers);
  next();
};

export function refuseForeignOrigin({
  origin,
  host,
}: {
  readonly origin?: string | undefined;
  readonly host?: string | undefined;
}): void {
  if (origin !== undefined && hostOf(origin) !== host)
    throw new Refusal('forbidden', 'The request came from another site.');
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
