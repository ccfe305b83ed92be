import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

/** scrypt cost: N 2^15, r 8, p 1 needs 32 MB; the limit must lie above it. */
const COST: ScryptOptions = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const KEY_BYTES = 32;

function derive(password: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, KEY_BYTES, COST, (error, key) => (error ? reject(error) : resolve(key)));
  });
}

/** `scrypt$salt$key`, both base64. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString('base64')}$${(await derive(password, salt)).toString('base64')}`;
}

/** Checks a password in constant time; a missing user costs as much as a wrong password. */
export async function verifyPassword(password: string, stored: string | undefined): Promise<boolean> {
  const [scheme, salt, key] = (stored ?? 'scrypt$AAAAAAAAAAAAAAAAAAAAAA==$').split('$');
  const derived = await derive(password, Buffer.from(salt ?? '', 'base64'));
  const expected = Buffer.from(key ?? '', 'base64');
  return scheme === 'scrypt' && stored !== undefined && expected.length === derived.length && timingSafeEqual(expected, derived);
}
