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

/** Asks the server; throws an `ApiError` with words that can be shown. */
export async function ask<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
  signal?: AbortSignal,
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
