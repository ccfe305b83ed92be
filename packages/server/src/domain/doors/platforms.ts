import type { Knex } from 'knex';
import type { Person, PlatformRequest, PlatformRow } from '@contactum/contract';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { note } from '../people/audit.js';

/** A college's learning platform that launches exercises (LTI 1.3). */
export type Platform = PlatformRow;

const COLUMNS = [
  'id',
  'name',
  'issuer',
  'clientId',
  'authUrl',
  'tokenUrl',
  'keysUrl',
  'loginClaim',
  'deployments',
] as const;

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

  list(): Promise<Platform[]> {
    return this.database('platforms').orderBy('name').select<Platform[]>(COLUMNS);
  }

  async byId(id: string): Promise<Platform> {
    const row = await this.database('platforms').where({ id }).first<Platform | undefined>(COLUMNS);
    if (!row) throw notFound('platform');
    return row;
  }

  /** The platform that an issuer means; it must say which client where it has several. */
  async of(issuer: string, clientId: string | undefined): Promise<Platform> {
    const [only, other] = await this.database('platforms')
      .where({ issuer, ...(clientId === undefined ? {} : { clientId }) })
      .select<Platform[]>(COLUMNS);
    if (!only || other) throw new Refusal('forbidden', 'The learning platform is not registered here.');
    return only;
  }

  async put(given: PlatformRequest, id: string | null, administrator: Person | null): Promise<PlatformRow> {
    for (const key of ['authUrl', 'tokenUrl', 'keysUrl'] as const)
      if (!isSafeUrl(given[key])) throw invalidAt(key, 'must be an address with https://');
    const same = await this.database('platforms')
      .where({ issuer: given.issuer, clientId: given.clientId })
      .first<{ id: string } | undefined>('id');
    if (same && same.id !== id)
      throw invalidAt('clientId', 'this issuer has a platform with this client already');
    return this.database.transaction(async (trx) => {
      const [row] = await (id === null
        ? trx('platforms').insert(given).returning<Platform[]>(COLUMNS)
        : trx('platforms').where({ id }).update(given).returning<Platform[]>(COLUMNS));
      if (!row) throw notFound('platform');
      await note(trx, {
        actor: administrator,
        name: 'the command line',
        kind: 'registered a platform',
        about: `${given.name} (${given.issuer})`,
      });
      return row;
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
