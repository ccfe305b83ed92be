import { createHmac, randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { putBounded } from '../bounded.js';

/** scrypt cost: N 2^15, r 8, p 1 needs 32 MB; the limit must lie above it. */
const COST: ScryptOptions = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const KEY_BYTES = 32;

/** Derivations at one time: they fill processor caches and memory, and other requests want the rest. */
const AT_ONCE = 1;
let running = 0;
const waiting: (() => void)[] = [];

/** One derivation after the other, on a thread of its own. */
async function derive(password: string, salt: Buffer): Promise<Buffer> {
  if (running >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  running += 1;
  try {
    return await new Promise((resolve, reject) => {
      scrypt(password.normalize('NFKC'), salt, KEY_BYTES, COST, (error, key) =>
        error ? reject(error) : resolve(key),
      );
    });
  } finally {
    running -= 1;
    waiting.shift()?.();
  }
}

/** `scrypt$salt$key`, both base64. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString('base64')}$${(await derive(password, salt)).toString('base64')}`;
}

/** Right passwords of the last minute by a keyed digest that only this process can make, and checks under way: the same question is worked out once. */
const digestKey = randomBytes(32);
const proved = new Map<string, number>();
const asked = new Map<string, Promise<boolean>>();
const PROVED_MS = 60_000;
const PROVED_MOST = 1_000;

/** Checks a password in constant time; a missing user costs as much as a wrong password. */
export async function verifyPassword(password: string, stored: string | undefined): Promise<boolean> {
  const digest = createHmac('sha256', digestKey)
    .update(JSON.stringify([password, stored ?? '']))
    .digest('base64');
  if ((proved.get(digest) ?? 0) > Date.now()) return true;
  let check = asked.get(digest);
  if (!check) {
    check = checkPassword(password, stored).finally(() => asked.delete(digest));
    asked.set(digest, check);
  }
  const right = await check;
  if (right) putBounded(proved, digest, Date.now() + PROVED_MS, PROVED_MOST);
  return right;
}

async function checkPassword(password: string, stored: string | undefined): Promise<boolean> {
  const [scheme, salt, key] = (stored ?? 'scrypt$AAAAAAAAAAAAAAAAAAAAAA==$').split('$');
  const derived = await derive(password, Buffer.from(salt ?? '', 'base64'));
  const expected = Buffer.from(key ?? '', 'base64');
  return (
    scheme === 'scrypt' &&
    stored !== undefined &&
    expected.length === derived.length &&
    timingSafeEqual(expected, derived)
  );
}
