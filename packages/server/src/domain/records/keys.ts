import { createPrivateKey, generateKeyPairSync, sign } from 'node:crypto';
import type { Knex } from 'knex';
import { keyFingerprint } from '@contactum/core';
import { Refusal } from '../../runtime/refusal.js';

/** A key that packs are signed with (Ed25519, RFC 8032). */
interface KeyRow {
  readonly id: string;
  /** Raw, base64. */
  readonly publicKey: string;
  /** PKCS #8, PEM. */
  readonly privateKey: string;
  readonly madeAt: Date;
  readonly retiredAt: Date | null;
}

const fingerprint = (publicKey: string): string => keyFingerprint(Buffer.from(publicKey, 'base64'));

/** Makes a key; the one before it is retired. Returns its fingerprint. */
export async function makeKey(database: Knex): Promise<string> {
  const pair = generateKeyPairSync('ed25519');
  const raw = (pair.publicKey.export({ format: 'jwk' }) as { x: string }).x;
  const text = Buffer.from(raw, 'base64url').toString('base64');
  await database.transaction(async (trx) => {
    await trx('signing_keys').whereNull('retiredAt').update({ retiredAt: trx.fn.now() });
    await trx('signing_keys').insert({
      publicKey: text,
      privateKey: pair.privateKey.export({ format: 'pem', type: 'pkcs8' }).toString(),
    });
  });
  return fingerprint(text);
}

export interface KnownKey {
  readonly fingerprint: string;
  readonly madeAt: Date;
  readonly retiredAt: Date | null;
}

/** Every key that packs were ever signed with, the newest first. */
export async function keysOf(database: Knex): Promise<KnownKey[]> {
  const rows = (await database('signing_keys').orderBy('madeAt', 'desc')) as KeyRow[];
  return rows.map((row) => ({
    fingerprint: fingerprint(row.publicKey),
    madeAt: row.madeAt,
    retiredAt: row.retiredAt,
  }));
}

/** Signs with the key that is in use now. */
export interface Signer {
  readonly publicKey: string;
  readonly sign: (message: Uint8Array) => Uint8Array;
}

export async function signerOf(database: Knex): Promise<Signer> {
  const row = await database('signing_keys').whereNull('retiredAt').first<KeyRow | undefined>();
  if (!row)
    throw new Refusal(
      'conflict',
      'The college has no key to sign evidence packs with yet. Whoever looks after the server makes one: npm run admin -- key',
    );
  const own = createPrivateKey(row.privateKey);
  return { publicKey: row.publicKey, sign: (message) => sign(null, message, own) };
}
