import { BlockList, isIP } from 'node:net';
import type { Knex } from 'knex';
import { LRUCache } from 'lru-cache';
import type { SetPlan } from '@contactum/contract';
import { Refusal } from '../../runtime/refusal.js';

/** Where an assessment is sat: on machines of some addresses and networks, or anywhere. */

/** Attempts whose place a process remembers: it never changes while they last. */
const REMEMBERED = 5_000;

const familyOf = (address: string): 'ipv4' | 'ipv6' => (isIP(address) === 6 ? 'ipv6' : 'ipv4');

/** Says of an address whether an assessment may be taken there. */
export type Place = (address: string) => boolean;

/** Made once where it is asked often: a list of networks takes longer to make than to ask. */
export function placeOf(addresses: SetPlan['addresses']): Place {
  if (addresses === undefined || addresses.length === 0) return () => true;
  const list = new BlockList();
  for (const one of addresses) {
    const [net = '', length] = one.split('/');
    if (length === undefined) list.addAddress(net, familyOf(net));
    else list.addSubnet(net, Number(length), familyOf(net));
  }
  return (address) => isIP(address) !== 0 && list.check(address, familyOf(address));
}

export function requirePlace(place: Place, address: string): void {
  if (!place(address))
    throw new Refusal(
      'forbidden',
      `This assessment can only be taken from the allowed addresses; this computer has ${address}.`,
    );
}

/** Refuses work at attempts of an assessment from addresses from which it is not taken. */
export class Places {
  private readonly ofAttempt = new LRUCache<string, Place>({ max: REMEMBERED });

  constructor(private readonly database: Knex) {}

  async require(attemptId: string, address: string): Promise<void> {
    let place = this.ofAttempt.get(attemptId);
    if (!place) {
      place = placeOf((await this.planOf(attemptId))?.addresses);
      this.ofAttempt.set(attemptId, place);
    }
    requirePlace(place, address);
  }

  private async planOf(attemptId: string): Promise<SetPlan | undefined> {
    const row = await this.database('attempts as a')
      .join('assignments as s', 's.id', 'a.assignment_id')
      .join('assessments as x', 'x.id', 's.assessment_id')
      .where('a.id', attemptId)
      .first<{ plan: SetPlan } | undefined>('x.plan');
    return row?.plan;
  }
}
