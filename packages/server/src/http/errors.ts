import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { ErrorResponse, ErrorType } from '@contactum/contract';
import { isAway, isFull, isRace } from '../database/database.js';
import { Refusal, notFound } from '../runtime/refusal.js';

const STATUS: Readonly<Record<ErrorType, number>> = {
  invalid: 400,
  unauthenticated: 401,
  forbidden: 403,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  'too-many': 429,
  unavailable: 503,
  internal: 500,
};

export const unknownRoute: RequestHandler = () => {
  throw notFound('address');
};

/** Seconds after which a browser may ask again while the database is away. */
const RETRY_SECONDS = '1';

/** Last handler: a refusal in its own words, anything else as an internal error that tells nothing. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, body } = answerTo(error, log);
    if (status === STATUS.unavailable) response.setHeader('Retry-After', RETRY_SECONDS);
    // What is refused before it was read is not read to its end.
    if (!request.complete) response.setHeader('Connection', 'close');
    response.status(status).json(body);
  };
}

/** What a browser is told of an error; what nobody foresaw goes into the log. */
export function answerTo(
  error: unknown,
  log: Logger,
): { readonly status: number; readonly body: ErrorResponse } {
  const { type, message, details } = asRefusal(error);
  if (type === 'internal' || isFull(error)) log.error({ err: error }, 'request failed');
  return { status: STATUS[type], body: { error: { type, message, ...details } } };
}

/**
 * Text that PostgreSQL cannot hold: NUL and broken encodings (SQLSTATE 22021, 22P05), or no value of its
 * type (22P02).
 */
const NO_VALUE: ReadonlySet<unknown> = new Set(['22021', '22P05', '22P02', '22003']);

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (isAway(error))
    return new Refusal(
      'unavailable',
      'The server cannot reach its database for a moment. Nothing was changed; try again.',
    );
  if (isFull(error))
    return new Refusal(
      'unavailable',
      'The server takes no changes at the moment: its disk is full, or its database is read-only. ' +
        'Nothing was changed; tell whoever keeps it.',
    );
  if (isRace(error))
    return new Refusal(
      'conflict',
      'Somebody has changed the same at the same moment. Look at it again, and try once more.',
    );
  const { type, status, code, nativeError } = error as {
    type?: unknown;
    status?: unknown;
    code?: unknown;
    nativeError?: { code?: unknown };
  };
  if (type === 'entity.too.large') return new Refusal('too-large', 'The request is too large.');
  if (type === 'entity.parse.failed') return new Refusal('invalid', 'The request is not JSON.');
  if (type === 'charset.unsupported' || type === 'encoding.unsupported')
    return new Refusal('invalid', 'The request has an encoding that is not read here.');
  if (error instanceof URIError) return new Refusal('invalid', 'The address is malformed.');
  if (NO_VALUE.has(code) || NO_VALUE.has(nativeError?.code))
    return new Refusal('invalid', 'The request holds text that cannot be stored.');
  if (status === 404) return notFound('file');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Refusal('invalid', 'The request cannot be read.');
  if (typeof code === 'string' && code.startsWith('Z_'))
    return new Refusal('invalid', 'The request is not compressed as it says.');
  return new Refusal('internal', 'Something went wrong on the server. Nothing was changed; try again.');
}
