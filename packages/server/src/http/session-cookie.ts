import { LRUCache } from 'lru-cache';
import { unsign } from 'cookie-signature';
import { cookiesNamed } from './cookies.js';

export const SESSION_COOKIE = 'contactum.session';

/** Cookies whose signature was looked at before. */
const REMEMBERED = 5_000;

/** Sessions that signed cookies name. */
export class SessionCookies {
  private readonly sids = new LRUCache<string, { readonly sid: string | null }>({ max: REMEMBERED });

  constructor(private readonly secret: string) {}

  /** The session that a header's cookie names; null where none does. */
  sidOf(header: string | undefined): string | null {
    const [cookie] = cookiesNamed(header, SESSION_COOKIE);
    if (cookie === undefined) return null;
    const known = this.sids.get(cookie);
    if (known !== undefined) return known.sid;
    const value = decodeURIComponent(cookie);
    const sid = value.startsWith('s:') ? unsign(value.slice(2), this.secret) : false;
    const found = { sid: sid === false ? null : sid };
    this.sids.set(cookie, found);
    return found.sid;
  }
}
