import type { Problem } from '@contactum/core';
import type { ErrorResponse, ErrorType } from '@contactum/contract';

/** A refusal or failure in the server's own words. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly type: ErrorType | 'offline',
    message: string,
    readonly lastSeq?: number,
    readonly problems?: readonly Problem[],
  ) {
    super(message);
  }
}

/** Answers that were asked for before the page that wants them was there. */
const early = new Map<string, Promise<unknown>>();
/** So long may such an answer wait for its page, milliseconds. */
const EARLY_MS = 5_000;

/** Asks for what a page will ask for as soon as it is there; the answer is given once. */
export function askEarly(path: string): void {
  const answer = ask('GET', path);
  // Told where it is wanted, or asked again.
  answer.catch(() => early.delete(path));
  early.set(path, answer);
  setTimeout(() => early.delete(path), EARLY_MS);
}

/** Asks the server; throws an `ApiError` with words that can be shown. */
export function ask<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<T> {
  const asked = method === 'GET' ? early.get(path) : undefined;
  // What is changed meanwhile is not in what was asked for before.
  if (method !== 'GET') early.clear();
  early.delete(path);
  return (asked as Promise<T> | undefined) ?? send<T>(method, path, body, signal);
}

async function send<T>(
  method: string,
  path: string,
  body: unknown,
  signal: AbortSignal | undefined,
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      ...(signal ? { signal } : {}),
      ...(body === undefined
        ? {}
        : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new ApiError(
      0,
      'offline',
      'The server cannot be reached. Check the network; what is not stored yet will be sent again.',
    );
  }
  if (response.status === 204) return undefined as T;
  const value: unknown = await response.json().catch(() => null);
  if (response.ok) return value as T;
  const { error } = (value ?? {}) as Partial<ErrorResponse>;
  throw new ApiError(
    response.status,
    error?.type ?? 'internal',
    error?.message ?? `The server answered ${response.status}.`,
    error?.lastSeq,
    error?.problems,
  );
}
