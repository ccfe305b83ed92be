import { UnionFind, type Circuit, type Network } from '../circuit/index.js';
import { branchesOf, type SearchMap } from './look.js';
import type { Trunk } from './trunk.js';

/** Contacts through which two potentials could meet, whatever the rest of the board does. */
export interface ShortRegion {
  /** Places in `Network.contacts`; none where only whole solutions tell. */
  readonly contacts: readonly number[];
  /** By contact, 1 where it belongs to the region; null where a way may lead over any contact. */
  readonly within: Uint8Array | null;
}

/**
 * Regions that are short-circuited each by itself: the branches of the trunk where it divides the board,
 * otherwise what hangs together between conductors of the supplies.
 */
export function shortRegions(circuit: Circuit, map: SearchMap, trunk: Trunk): ShortRegion[] {
  const { network } = map;
  const groups = trunk.isDivided ? ofTrunk(network, trunk) : betweenConductors(map);
  const regions = merged(network, groups).map((contacts): ShortRegion => {
    // A supply that is off holds nothing: ways may lead over its conductors.
    if (!trunk.isBounded) return { contacts, within: null };
    const within = new Uint8Array(network.contacts.length);
    for (const c of contacts) within[c] = 1;
    return { contacts, within };
  });
  const isWhole = network.shortedAtRest || secondaryMayShort(circuit, network);
  return isWhole ? [{ contacts: [], within: null }, ...regions] : regions;
}

/** Regions that rest on the same mechanisms are one question. */
function merged({ contacts }: Network, groups: readonly (readonly number[])[]): number[][] {
  const regions = new Map<string, number[]>();
  for (const members of groups) {
    const key = [...new Set(members.map((c) => contacts[c]!.mechanism))].sort((a, b) => a - b).join();
    regions.set(key, [...new Set([...(regions.get(key) ?? []), ...members])]);
  }
  return [...regions.values()];
}

/** True where contacts could join the two ends of a transformer's secondary. */
function secondaryMayShort({ transformers }: Circuit, network: Network): boolean {
  const joinable = new UnionFind(network.nets);
  for (const { a, b } of network.contacts) joinable.union(a, b);
  return transformers.some(
    ({ secondary: [x1, x2] }) => joinable.find(network.net(x1)) === joinable.find(network.net(x2)),
  );
}

/** Branches that touch two potentials, each with the poles that feed it. */
function ofTrunk({ contacts }: Network, trunk: Trunk): number[][] {
  return trunk.branches.flatMap(({ contacts: members, nets }): number[][] => {
    if (new Set(nets.map((net) => trunk.potential[net])).size < 2) return [];
    const feeders = new Set(nets.flatMap((net) => trunk.feedersOf(net)));
    const poles = contacts.flatMap(({ mechanism }, c) =>
      trunk.isPole[c] === 1 && feeders.has(mechanism) ? [c] : [],
    );
    return [[...members, ...poles]];
  });
}

/** What hangs together between conductors of the supplies, where two potentials could meet. */
function betweenConductors(map: SearchMap): (readonly number[])[] {
  const { supplyNodeAt } = map.network;
  return branchesOf(map, (net) => supplyNodeAt[net] !== null).flatMap(({ contacts, nets }) =>
    new Set(nets.map((net) => supplyNodeAt[net]!.potential)).size < 2 ? [] : [contacts],
  );
}
