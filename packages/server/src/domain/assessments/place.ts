import { BlockList, isIP } from 'node:net';
import type { Knex } from 'knex';
import { LRUCache } from 'lru-cache';
import type { SetPlan } from '@contactum/contract';
import { Refusal } from '../../runtime/refusal.js';

/** Where an assessment is sat: on machines of some addresses and networks, or anywhere. */

/** Attempts whose place a process remembers: it never changes while they last. */
const REMEMBERED = 5_000;

const familyOf = (address: string): 'ipv4' | 'ipv6' => (isIP(address) === 6 ? 'ipv6' : 'ipv4');

function listOf(addresses: readonly string[]): BlockList {
  const list = new BlockList();
  for (const one of addresses) {
    const [net = '', length] = one.split('/');
    if (length === undefined) list.addAddress(net, familyOf(net));
    else list.addSubnet(net, Number(length), familyOf(net));
  }
  return list;
}

/** True where somebody at an address may sit what is set to these. */
export function isPlace(addresses: SetPlan['addresses'], address: string): boolean {
  if (addresses === undefined || addresses.length === 0) return true;
  return isIP(address) !== 0 && listOf(addresses).check(address, familyOf(address));
}

export function requirePlace(addresses: SetPlan['addresses'], address: string): void {
  if (!isPlace(addresses, address))
    throw new Refusal(
      'forbidden',
      `This assessment is sat on the machines of its room; this one, ${address}, is none of them.`,
    );
}

/** Refuses work at attempts of an assessment from machines on which it is not sat. */
export class Places {
  private readonly ofAttempt = new LRUCache<string, { readonly addresses: SetPlan['addresses'] }>({
    max: REMEMBERED,
  });

  constructor(private readonly database: Knex) {}

  async require(attemptId: string, address: string): Promise<void> {
    let place = this.ofAttempt.get(attemptId);
    if (!place) {
      const plan = await this.planOf(attemptId);
      place = { addresses: plan?.addresses };
      this.ofAttempt.set(attemptId, place);
    }
    requirePlace(place.addresses, address);
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
