import type { Problem } from '@contactum/core';
import type { ErrorType } from '@contactum/contract';

/** What is refused, in words that a person is told. */
export class Refusal extends Error {
  constructor(
    readonly type: ErrorType,
    message: string,
    readonly details: { readonly problems?: readonly Problem[]; readonly lastSeq?: number } = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): Refusal => new Refusal('not-found', `There is no such ${what}.`);

/** Something wrong at one place of what was sent. */
export const invalidAt = (path: string, message: string, lastSeq?: number): Refusal =>
  new Refusal('invalid', `${path}: ${message}`, {
    problems: [{ path, message }],
    ...(lastSeq === undefined ? {} : { lastSeq }),
  });
