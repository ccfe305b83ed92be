import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import {
  SignJWT,
  createRemoteJWKSet,
  customFetch,
  exportJWK,
  generateKeyPair,
  importJWK,
  type JWK,
  type JWTPayload,
} from 'jose';

/** Signatures that every platform must take (LTI 1.3 security framework, 1EdTech). */
const ALGORITHM = 'RS256';
/** A retired key is told so long after: what it has signed may still be under way. */
const TOLD_AFTER = '1 day';

/** How long an address of keys may take, and how often it is asked at most, milliseconds. */
const FETCH_MS = 5_000;
const COOLDOWN_MS = 1_000;

export type RemoteKeys = ReturnType<typeof createRemoteJWKSet>;

/** Keys that others publish: they come from the address that is known and from no other. */
export const remoteKeys = (url: string): RemoteKeys =>
  createRemoteJWKSet(new URL(url), {
    timeoutDuration: FETCH_MS,
    cooldownDuration: COOLDOWN_MS,
    [customFetch]: (to, options) => fetch(to, { ...options, redirect: 'error' }),
  });

interface KeyRow {
  readonly kid: string;
  readonly privateJwk: JWK;
  readonly publicJwk: JWK;
}

/** Keys with which the server signs what it says to platforms; made when first wanted. */
export class DoorKeys {
  constructor(private readonly database: Knex) {}

  /** Makes a key; the one before it is retired. Returns its id. */
  async rotate(): Promise<string> {
    const { privateKey, publicKey } = await generateKeyPair(ALGORITHM, { extractable: true });
    const kid = randomUUID();
    const about = { kid, alg: ALGORITHM, use: 'sig' };
    await this.database.transaction(async (trx) => {
      await trx.raw('select pg_advisory_xact_lock(7461038)');
      await trx('door_keys').whereNull('retired_at').update({ retired_at: trx.fn.now() });
      await trx('door_keys').insert({
        kid,
        private_jwk: JSON.stringify({ ...(await exportJWK(privateKey)), ...about }),
        public_jwk: JSON.stringify({ ...(await exportJWK(publicKey)), ...about }),
      });
    });
    return kid;
  }

  private async current(): Promise<KeyRow> {
    const find = () => this.database('door_keys').whereNull('retired_at').first<KeyRow | undefined>();
    const known = await find();
    if (known) return known;
    await this.rotate();
    const made = await find();
    if (!made) throw new Error('the key that was made is gone');
    return made;
  }

  /** The public keys that platforms fetch: the present one, and those that were retired of late. */
  async published(): Promise<{ readonly keys: readonly JWK[] }> {
    await this.current();
    const rows = await this.database('door_keys')
      .whereNull('retired_at')
      .orWhereRaw(`retired_at > now() - interval '${TOLD_AFTER}'`)
      .orderBy('made_at', 'desc')
      .select<KeyRow[]>('public_jwk');
    return { keys: rows.map(({ publicJwk }) => publicJwk) };
  }

  /** Signs claims; good for a minute from now where nothing else is said. */
  async sign(
    claims: JWTPayload,
    { audience, issuer }: { audience: string; issuer: string },
  ): Promise<string> {
    const { kid, privateJwk } = await this.current();
    return new SignJWT({ ...claims, jti: randomUUID() })
      .setProtectedHeader({ alg: ALGORITHM, kid, typ: 'JWT' })
      .setIssuer(issuer)
      .setAudience(audience)
      .setIssuedAt()
      .setExpirationTime('1m')
      .sign(await importJWK(privateJwk, ALGORITHM));
  }
}
