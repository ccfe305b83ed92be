import { isSwitchgear, type Circuit, type MechanismIndex, type Network } from '../circuit/index.js';
import { branchesOf, type Branch, type SearchMap } from './look.js';

/**
 * What all branches of a board hang on: the supply's conductors, and behind them the nets to which poles of
 * breakers, fuses and disconnectors lead that open and close together.
 *
 * Where every branch hangs on nets of one supply system, behind the same switchgear alone (`isDivided`), two
 * conductors are joined exactly where one branch by itself joins two that its switchgear feeds. For a way
 * from one conductor to another enters each branch from a net that is fed, and leaves it to one behind the
 * same switchgear, which is fed as well: the first branch that changes the conductor joins two.
 */
export class Trunk {
  /** By net: the class of the conductor that feeds it, or −1 of a net that is not of the trunk. */
  readonly potential: Int32Array;
  /** By contact: it is a pole of the trunk. */
  readonly isPole: Uint8Array;
  readonly branches: readonly Branch[];
  /**
   * One supply at most holds the conductors of a system, and no branch joins two systems: what joins
   * conductors ends at the first two.
   */
  readonly isBounded: boolean;
  /** And no branch hangs on nets behind different switchgear. */
  readonly isDivided: boolean;
  private readonly network: Network;
  /** By net of the trunk: the switchgear through which it is fed, in order from the supply. */
  private readonly feeders: MechanismIndex[][];

  constructor(circuit: Circuit, map: SearchMap) {
    const { network } = map;
    this.network = network;
    this.potential = new Int32Array(network.nets).fill(-1);
    this.isPole = new Uint8Array(network.contacts.length);
    this.feeders = Array.from({ length: network.nets }, () => []);
    for (const { net, potential } of network.supplyNodes) this.potential[net] = potential;
    this.grow(circuit);
    this.branches = branchesOf(
      map,
      (net) => this.potential[net]! >= 0,
      (c) => this.isPole[c] === 1,
    );
    const group = (net: number) => network.potentials[this.potential[net]!]!.group;
    const suppliesOf = new Map<string, Set<number>>();
    for (const { group: name, supply } of network.supplyNodes) {
      if (!suppliesOf.has(name)) suppliesOf.set(name, new Set());
      if (supply >= 0) suppliesOf.get(name)!.add(supply);
    }
    this.isBounded =
      [...suppliesOf.values()].every(({ size }) => size <= 1) &&
      this.branches.every(({ nets }) => new Set(nets.map(group)).size <= 1);
    this.isDivided =
      this.isBounded &&
      this.branches.every(({ nets }) => new Set(nets.map((net) => this.fedBy(net))).size <= 1);
  }

  /** Poles and switchgear by which a net of the trunk is fed. */
  feedersOf(net: number): readonly MechanismIndex[] {
    return this.feeders[net]!;
  }

  private fedBy(net: number): string {
    return this.feeders[net]!.join();
  }

  /** Takes in switchgear after switchgear, as long as some stands wholly between the trunk and new nets. */
  private grow(circuit: Circuit): void {
    const contactsOf = new Map<number, number[]>();
    this.network.contacts.forEach(({ mechanism }, c) => {
      if (!isSwitchgear(circuit.mechanisms[mechanism]!)) return;
      const known = contactsOf.get(mechanism);
      if (known) known.push(c);
      else contactsOf.set(mechanism, [c]);
    });
    for (let before = -1; before !== contactsOf.size;) {
      before = contactsOf.size;
      for (const [mechanism, poles] of contactsOf)
        if (this.takeIn(mechanism as MechanismIndex, poles)) contactsOf.delete(mechanism);
    }
  }

  private takeIn(mechanism: MechanismIndex, poles: readonly number[]): boolean {
    const { contacts } = this.network;
    const first = contacts[poles[0]!]!;
    const behind = new Map<number, { readonly potential: number; readonly net: number }>();
    for (const c of poles) {
      const { a, b, closedIn } = contacts[c]!;
      const [near, far] = this.potential[a]! >= 0 ? [a, b] : [b, a];
      if (this.potential[near]! < 0 || this.potential[far]! >= 0) return false;
      if (closedIn.some((closed, state) => closed !== first.closedIn[state])) return false;
      const known = behind.get(far);
      if (known && known.potential !== this.potential[near]) return false;
      behind.set(far, { potential: this.potential[near]!, net: near });
    }
    if (new Set([...behind.values()].map(({ net }) => this.fedBy(net))).size > 1) return false;
    for (const [far, { potential, net }] of behind) {
      this.potential[far] = potential;
      this.feeders[far] = [...this.feeders[net]!, mechanism];
    }
    for (const c of poles) this.isPole[c] = 1;
    return true;
  }
}
