import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Request, Response } from 'express';
import { cookiesNamed } from './cookies.js';

/**
 * Device cookies: a browser in which somebody has signed in before is known again for that name, so that
 * wrong guesses from the same address, as of a whole college behind one, never make its owner wait. OWASP,
 * "Slow Down Online Guessing Attacks with Device Cookies" (from memory).
 */

const COOKIE = 'contactum.device';
const YEAR_MS = 365 * 24 * 3600 * 1000;

const signed = (secret: string, login: string, nonce: string): string =>
  createHmac('sha256', `device ${secret}`)
    .update(JSON.stringify([login, nonce]))
    .digest('base64url');

/**
 * The number of a browser in which a name has signed in before; null of another, or where the cookie is not
 * ours.
 */
export function knownDevice(request: Request, login: string, secret: string): string | null {
  for (const value of cookiesNamed(request.headers.cookie, COOKIE)) {
    const [nonce = '', mac = ''] = value.split('.');
    const [given, right] = [Buffer.from(mac), Buffer.from(signed(secret, login, nonce))];
    if (given.length === right.length && timingSafeEqual(given, right)) return nonce;
  }
  return null;
}

/** Makes a browser known for the name that has signed in in it; the next name there takes its place. */
export function rememberDevice(
  response: Response,
  login: string,
  { secret, secure }: { readonly secret: string; readonly secure: boolean },
): void {
  const nonce = randomBytes(16).toString('base64url');
  response.cookie(COOKIE, `${nonce}.${signed(secret, login, nonce)}`, {
    httpOnly: true,
    sameSite: 'strict',
    secure,
    maxAge: YEAR_MS,
    path: '/api/session',
  });
}
