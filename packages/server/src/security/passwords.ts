import { createHmac, randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { LRUCache } from 'lru-cache';

/**
 * scrypt costs. A password of a person's own: N 2^15, r 8, p 1 needs 32 MB; the limit must lie above it. A
 * first one, made by the machine, good for one sign-in and some 40 bits long: less, so that a list of a
 * thousand students is taken in seconds.
 */
const COSTS: Readonly<Record<string, ScryptOptions>> = {
  scrypt: { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 },
  first: { N: 2 ** 12, r: 8, p: 1, maxmem: 64 * 1024 * 1024 },
};
const KEY_BYTES = 32;

/** Derivations at one time: they fill processor caches and memory, and other requests want the rest. */
const AT_ONCE = 1;
let running = 0;
let made = 0;
/** Milliseconds that one took of late. */
let takes = 80;
const waiting: (() => void)[] = [];

/** One derivation after the other, on a thread of its own. */
async function derive(password: string, salt: Buffer, scheme: string): Promise<Buffer> {
  if (running >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  running += 1;
  made += 1;
  const begun = performance.now();
  try {
    return await new Promise((resolve, reject) => {
      scrypt(password.normalize('NFKC'), salt, KEY_BYTES, COSTS[scheme] ?? {}, (error, key) =>
        error ? reject(error) : resolve(key),
      );
    });
  } finally {
    takes += (performance.now() - begun - takes) / 8;
    running -= 1;
    waiting.shift()?.();
  }
}

/** How many wait in this process for those before them, and the milliseconds that one takes. */
export const derivationsWaiting = (): number => waiting.length;
export const derivationMs = (): number => takes;

/** How many were made in this process. */
export const derivations = (): number => made;

/** `scheme$salt$key`, salt and key in base64. */
export async function hashPassword(password: string, scheme: 'scrypt' | 'first' = 'scrypt'): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password, salt, scheme);
  return `${scheme}$${salt.toString('base64')}$${key.toString('base64')}`;
}

/**
 * Right passwords of the last minute by a keyed digest that only this process can make, and checks under
 * way: the same question is worked out once.
 */
const digestKey = randomBytes(32);
const proved = new LRUCache<string, true>({ max: 1_000, ttl: 60_000 });
const asked = new Map<string, Promise<boolean>>();

/** Checks a password in constant time; a missing user costs as much as a wrong password. */
export async function verifyPassword(password: string, stored: string | undefined): Promise<boolean> {
  const digest = createHmac('sha256', digestKey)
    .update(JSON.stringify([password, stored ?? '']))
    .digest('base64');
  if (proved.has(digest)) return true;
  let check = asked.get(digest);
  if (!check) {
    check = checkPassword(password, stored).finally(() => asked.delete(digest));
    asked.set(digest, check);
  }
  const right = await check;
  if (right) proved.set(digest, true);
  return right;
}

async function checkPassword(password: string, stored: string | undefined): Promise<boolean> {
  const known = stored?.includes('$') ? stored : 'scrypt$AAAAAAAAAAAAAAAAAAAAAA==$';
  const [scheme = '', salt, key] = known.split('$');
  const salted = Buffer.from(salt ?? '', 'base64');
  const derived = await derive(password, salted, scheme);
  const expected = Buffer.from(key ?? '', 'base64');
  const isRight =
    scheme in COSTS &&
    stored !== undefined &&
    expected.length === derived.length &&
    timingSafeEqual(expected, derived);
  // A wrong one costs as much whatever is stored: nobody learns by the clock which accounts there are, or
  // which are new.
  if (!isRight)
    for (const other of Object.keys(COSTS)) if (other !== scheme) await derive(password, salted, other);
  return isRight;
}
