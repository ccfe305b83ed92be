import type { Knex } from 'knex';
import type { Person, PlatformRequest, PlatformRow } from '@contactum/contract';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { note } from '../people/audit.js';

/** A college's learning platform that launches exercises (LTI 1.3). */
export interface Platform {
  readonly id: string;
  readonly name: string;
  readonly issuer: string;
  readonly clientId: string;
  readonly authUrl: string;
  readonly tokenUrl: string;
  readonly keysUrl: string;
  readonly loginClaim: string | null;
  readonly deployments: readonly string[];
}

const viewOf = ({
  id,
  name,
  issuer,
  clientId,
  authUrl,
  tokenUrl,
  keysUrl,
  loginClaim,
  deployments,
}: Platform): PlatformRow => ({
  id,
  name,
  issuer,
  clientId,
  authUrl,
  tokenUrl,
  keysUrl,
  loginClaim,
  deployments: [...deployments],
});

const LOOPBACK = /^(localhost|127\.\d+\.\d+\.\d+|\[::1\])$/;

/** An address that secrets and marks may be sent to: by HTTPS, or on this machine. */
export function isSafeUrl(text: string): boolean {
  try {
    const { protocol, hostname, username, password } = new URL(text);
    if (username !== '' || password !== '') return false;
    return protocol === 'https:' || (protocol === 'http:' && LOOPBACK.test(hostname));
  } catch {
    return false;
  }
}

export const originOf = (url: string): string => new URL(url).origin;

/** True of an address at one of the sites that were registered for a platform. */
export function isOf({ authUrl, tokenUrl, keysUrl }: Platform, url: string): boolean {
  return isSafeUrl(url) && [authUrl, tokenUrl, keysUrl].map(originOf).includes(originOf(url));
}

export class Platforms {
  constructor(private readonly database: Knex) {}

  async list(): Promise<PlatformRow[]> {
    const rows = await this.database('platforms').orderBy('name').select<Platform[]>();
    return rows.map(viewOf);
  }

  async byId(id: string): Promise<Platform> {
    const row = await this.database('platforms').where({ id }).first<Platform | undefined>();
    if (!row) throw notFound('platform');
    return row;
  }

  /** The platform that an issuer means; it must say which client where it has several. */
  async of(issuer: string, clientId: string | undefined): Promise<Platform> {
    const rows = await this.database('platforms')
      .where({ issuer, ...(clientId === undefined ? {} : { client_id: clientId }) })
      .select<Platform[]>();
    const [only, other] = rows;
    if (!only || other) throw new Refusal('forbidden', 'The learning platform is not registered here.');
    return only;
  }

  async put(given: PlatformRequest, id: string | null, administrator: Person | null): Promise<PlatformRow> {
    for (const key of ['authUrl', 'tokenUrl', 'keysUrl'] as const)
      if (!isSafeUrl(given[key])) throw invalidAt(key, 'must be an address with https://');
    const columns = {
      name: given.name,
      issuer: given.issuer,
      client_id: given.clientId,
      auth_url: given.authUrl,
      token_url: given.tokenUrl,
      keys_url: given.keysUrl,
      login_claim: given.loginClaim,
      deployments: given.deployments,
    };
    const same = await this.database('platforms')
      .where({ issuer: given.issuer, client_id: given.clientId })
      .first<{ id: string } | undefined>('id');
    if (same && same.id !== id)
      throw invalidAt('clientId', 'this issuer has a platform with this client already');
    return this.database.transaction(async (trx) => {
      const [row] = await (id === null
        ? trx('platforms').insert(columns).returning<Platform[]>('*')
        : trx('platforms').where({ id }).update(columns).returning<Platform[]>('*'));
      if (!row) throw notFound('platform');
      await note(trx, {
        actor: administrator,
        name: 'the command line',
        kind: 'registered a platform',
        about: `${given.name} (${given.issuer})`,
      });
      return viewOf(row);
    });
  }

  async remove(id: string, administrator: Person): Promise<void> {
    const { name } = await this.byId(id);
    await this.database.transaction(async (trx) => {
      await trx('platforms').where({ id }).delete();
      await note(trx, { actor: administrator, kind: 'removed a platform', about: name });
    });
  }
}
