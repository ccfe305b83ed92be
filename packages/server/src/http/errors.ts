import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { Problem } from '@contactum/core';
import type { ErrorResponse, ErrorType } from '@contactum/contract';

const STATUS: Readonly<Record<ErrorType, number>> = {
  invalid: 400,
  unauthenticated: 401,
  forbidden: 403,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  'too-many': 429,
  internal: 500,
};

/** A refusal that the browser is told about. */
export class Refusal extends Error {
  constructor(
    readonly type: ErrorType,
    message: string,
    readonly details: { readonly problems?: readonly Problem[]; readonly lastSeq?: number } = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string) => new Refusal('not-found', `There is no such ${what}.`);

export const unknownRoute: RequestHandler = () => {
  throw notFound('address');
};

/** Last handler: a refusal in its own words, anything else as an internal error that tells nothing. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const refusal = asRefusal(error);
    if (refusal.type === 'internal') log.error({ err: error }, 'request failed');
    const body: ErrorResponse = { error: { type: refusal.type, message: refusal.message, ...refusal.details } };
    response.status(STATUS[refusal.type]).json(body);
  };
}

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const type = (error as { type?: unknown }).type;
  if (type === 'entity.too.large') return new Refusal('too-large', 'The request is too large.');
  if (type === 'entity.parse.failed') return new Refusal('invalid', 'The request is not JSON.');
  if (type === 'charset.unsupported' || type === 'encoding.unsupported') return new Refusal('invalid', 'The request has an encoding that is not read here.');
  if (error instanceof URIError) return new Refusal('invalid', 'The address is malformed.');
  return new Refusal('internal', 'Something went wrong on the server. Nothing was changed; try again.');
}
