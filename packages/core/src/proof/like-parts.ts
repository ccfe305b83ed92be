import { splitRef } from '../bench/index.js';
import type { Device } from '../catalogue/index.js';
import type { Circuit, MechanicalState, MechanismIndex, MovingContact } from '../circuit/index.js';
import { without } from '../without.js';
import type { Decisions } from './decisions.js';
import type { Members } from './part.js';

/** The other device of each that is exchanged. */
type Partners = ReadonlyMap<Device, Device>;

/** Two parts of a board that are the same but for which devices they consist of. */
export interface Likeness {
  /** A state of the first part as one of the second. */
  readonly state: (state: MechanicalState) => MechanicalState;
}

/**
 * Finds parts of a board that are alike: devices can be exchanged between them, each for one of its kind,
 * so that the whole circuit stays what it is. Whatever one part does the other does as well, so one search
 * stands for both. The exchange is guessed from the order of devices and of what hangs on their nets, then
 * tried on everything that a proof looks at; where anything differs the parts count as unlike.
 */
export class LikeParts {
  private readonly circuit: Circuit;
  private readonly terminalsOn: readonly number[][];
  private readonly own = new Map<Device, OwnParts>();
  private readonly deviceOf = new Map<string, Device>();
  /** By terminal: whose it is, and its name there. */
  private readonly lying: readonly { readonly device: Device; readonly name: string }[];
  private readonly isPossible: boolean;

  constructor(
    circuit: Circuit,
    private readonly decisions: Decisions,
  ) {
    this.circuit = circuit;
    for (const device of circuit.bench.devices) this.deviceOf.set(device.tag, device);
    // A lead's own resistance hangs on no device.
    this.isPossible = circuit.elements.every(({ wire }) => wire === undefined);
    this.terminalsOn = Array.from({ length: decisions.network.terminalNets }, () => []);
    for (const device of circuit.bench.devices) this.own.set(device, new OwnParts());
    this.lying = circuit.terminals.map((ref) => {
      const { tag, terminal: name } = splitRef(ref);
      return { device: this.deviceOf.get(tag)!, name };
    });
    this.gather();
    this.lying.forEach(({ device }, k) => {
      // What only joins conductors changes nothing on the net that it lies on.
      if (!this.own.get(device)!.isPassive) this.terminalsOn[decisions.network.net(k)]!.push(k);
    });
  }

  /** How one part is like another; null where it is not, or cannot be shown to be. */
  likeness(one: Members, other: Members): Likeness | null {
    if (!this.isPossible || one.inside.size !== other.inside.size) return null;
    if (one.motors.length !== other.motors.length || one.regions.length !== other.regions.length) return null;
    const partners = this.partners(one.inside, other.inside);
    if (!partners) return null;
    const nets = this.nets(partners);
    if (!nets) return null;
    if (!this.areAlike(partners)) return null;
    const to = this.exchangedMechanisms(partners);
    if (![...one.inside].every((m) => other.inside.has(to[m]!))) return null;
    if (!this.areMotors(one.motors, other.motors, partners)) return null;
    if (!this.areRegions(one.regions, other.regions, { to, nets })) return null;
    return {
      state: (state) => {
        const exchanged = state.slice();
        to.forEach((m, k) => (exchanged[m] = state[k]!));
        return exchanged;
      },
    };
  }

  private ownOf(tag: string): OwnParts | undefined {
    const device = this.deviceOf.get(tag);
    return device && this.own.get(device);
  }

  /** Notes what each device consists of. */
  private gather(): void {
    const { circuit } = this;
    this.lying.forEach(({ device, name }, k) => this.own.get(device)!.terminals.set(name, k));
    for (const { device, index } of circuit.mechanisms) this.own.get(device)?.mechanisms.push(index);
    circuit.switches.forEach(({ mechanism }, k) => this.ownAt(mechanism)?.switches.push(k));
    circuit.elements.forEach(({ tag }, k) => this.ownOf(tag)?.elements.push(k));
    circuit.coils.forEach(({ tag }, k) => this.ownOf(tag)?.coils.push(k));
    circuit.lamps.forEach(({ tag }, k) => this.ownOf(tag)?.lamps.push(k));
    circuit.motors.forEach(({ tag }, k) => this.ownOf(tag)?.motors.push(k));
    circuit.protections.forEach(({ tag }, k) => this.ownOf(tag)?.protections.push(k));
    for (const { tag } of [...circuit.sources, ...circuit.transformers, ...circuit.controllers]) {
      const own = this.ownOf(tag);
      if (own) own.isUnique = true;
    }
    for (const { mechanism, motor } of circuit.travels)
      for (const own of [this.ownAt(mechanism), this.ownOf(circuit.motors[motor]!.tag)])
        if (own) own.isUnique = true;
  }

  private ownAt(mechanism: number): OwnParts | undefined {
    return this.own.get(this.circuit.mechanisms[mechanism]!.device);
  }

  // ── the guess ────────────────────

  /** The devices to exchange, from the mechanisms of two parts on through the nets that they lie on. */
  private partners(one: ReadonlySet<number>, other: ReadonlySet<number>): Partners | null {
    const { mechanisms } = this.circuit;
    const only = (here: ReadonlySet<number>, there: ReadonlySet<number>) =>
      [...here].filter((m) => !there.has(m)).sort((a, b) => a - b);
    const [left, right] = [only(one, other), only(other, one)];
    if (left.length === 0 || left.length !== right.length) return null;
    const pairing = new Pairing();
    for (const [k, m] of left.entries())
      if (!pairing.join(mechanisms[m]!.device, mechanisms[right[k]!]!.device)) return null;
    for (const [device, partner] of pairing.order) {
      const [own, its] = [this.own.get(device)!, this.own.get(partner)!];
      if (own.isUnique || its.isUnique || own.terminals.size !== its.terminals.size) return null;
      for (const [name, terminal] of own.terminals) {
        const opposite = its.terminals.get(name);
        if (opposite === undefined || !this.joinAround(terminal, opposite, pairing)) return null;
      }
    }
    return pairing.partner;
  }

  /** Pairs what else lies on the nets of two terminals, by kind and terminal and in the bench's order. */
  private joinAround(terminal: number, opposite: number, pairing: Pairing): boolean {
    const { network } = this.decisions;
    const [net, facing] = [network.net(terminal), network.net(opposite)];
    if (net === facing) return true;
    const waiting = (on: number) =>
      this.terminalsOn[on]!.map((k) => this.lying[k]!).filter(({ device }) => !pairing.partner.has(device));
    const theirs = waiting(facing);
    return waiting(net).every(({ device, name }) => {
      if (pairing.partner.has(device)) return true;
      const match = theirs.find(
        (one) => one.device.type === device.type && one.name === name && !pairing.partner.has(one.device),
      );
      return match !== undefined && pairing.join(device, match.device);
    });
  }

  // ── whether it holds ────────────────────

  /** By net: the one that it becomes; null where terminals of a net come to lie on several. */
  private nets(partners: Partners): Map<number, number> | null {
    const { network } = this.decisions;
    const nets = new Map<number, number>();
    for (const [device, partner] of partners)
      for (const [name, terminal] of this.own.get(device)!.terminals) {
        const net = network.net(terminal);
        const facing = network.net(this.own.get(partner)!.terminals.get(name)!);
        if ((nets.get(net) ?? facing) !== facing) return null;
        nets.set(net, facing);
      }
    for (const [net, facing] of nets) {
      if (nets.get(facing) !== net || this.terminalsOn[net]!.length !== this.terminalsOn[facing]!.length)
        return null;
      for (const k of this.terminalsOn[net]!) {
        const { device, name } = this.lying[k]!;
        const partner = partners.get(device);
        const there = partner ? this.own.get(partner)!.terminals.get(name)! : k;
        if (network.net(there) !== facing) return null;
      }
    }
    return nets;
  }

  private exchangedMechanisms(partners: Partners): Int32Array {
    const to = Int32Array.from(this.circuit.mechanisms, (_, k) => k);
    for (const [device, partner] of partners)
      this.own.get(device)!.mechanisms.forEach((m, k) => {
        to[m] = this.own.get(partner)!.mechanisms[k]!;
      });
    return to;
  }

  private areMotors(one: readonly number[], other: readonly number[], partners: Partners): boolean {
    const { motors } = this.circuit;
    return one.every((k) => {
      const device = this.deviceOf.get(motors[k]!.tag)!;
      const partner = partners.get(device) ?? device;
      return other.some((o) => motors[o]!.tag === partner.tag);
    });
  }

  private areRegions(
    one: readonly number[],
    other: readonly number[],
    { to, nets }: { readonly to: Int32Array; readonly nets: ReadonlyMap<number, number> },
  ): boolean {
    const { network } = this.decisions;
    const written = (k: number, contact: (c: MovingContact) => MovingContact) =>
      this.decisions
        .regionContacts(k)
        .map((c) => contact(network.contacts[c]!))
        .map(({ a, b, mechanism }) => `${mechanism} ${[a, b].sort((x, y) => x - y).join('-')}`)
        .sort()
        .join();
    const there = new Set(other.map((k) => written(k, (contact) => contact)));
    const net = (one: number) => nets.get(one) ?? one;
    return one.every((k) =>
      there.has(
        written(k, ({ a, b, mechanism, closedIn }) => ({
          a: net(a),
          b: net(b),
          mechanism: to[mechanism] as MechanismIndex,
          closedIn,
        })),
      ),
    );
  }

  /** True where each device, with others exchanged in what is said of it, is what its partner is. */
  private areAlike(partners: Partners): boolean {
    for (const [device, partner] of partners) {
      const [one, other] = [this.record(device), this.record(partner)];
      if (one.text !== other.text || one.named.length !== other.named.length) return false;
      if (!one.named.every((named, k) => (partners.get(named) ?? named) === other.named[k])) return false;
    }
    return true;
  }

  private record(device: Device): DeviceRecord {
    const own = this.own.get(device)!;
    own.record ??= this.recordOf(device, own);
    return own.record;
  }

  /** What a mechanism is, and what keeps it from moving. */
  private spokenOf(m: number, mechanism: (m: number) => number): unknown {
    const { circuit } = this;
    const { index, coils, ...mechanic } = circuit.mechanisms[m]!;
    const spec = without(mechanic, 'device');
    const barred = circuit.blocked.filter((one) => one.mechanism === index).map(({ what }) => what);
    const jams = [circuit.jammed.includes(index), circuit.jammedIn.includes(index)];
    const rivals = circuit.interlocks
      .filter((group) => group.includes(index))
      .map((group) => group.map(mechanism));
    const state = [circuit.initial[m], this.decisions.fixed[m]];
    return [spec, state, coils.map((k) => circuit.coils[k]!.name), barred, jams, rivals];
  }

  private recordOf(device: Device, own: OwnParts): DeviceRecord {
    const { circuit } = this;
    const named: Device[] = [];
    const terminal = (k: number): string | number => {
      if (k < 0) return k;
      const { device: of, name } = this.lying[k]!;
      named.push(of);
      return name;
    };
    const mechanism = (m: number): number => {
      if (m < 0) return -1;
      const { device: of, index } = circuit.mechanisms[m]!;
      named.push(of);
      return this.own.get(of)!.mechanisms.indexOf(index);
    };
    const ends = (pairs: readonly (readonly [number, number])[]) => pairs.map((pair) => pair.map(terminal));
    // Names of other devices among what the bench says of it stand apart.
    const options = JSON.stringify(without(device, 'at'), (_, value: unknown) => {
      const other = typeof value === 'string' ? this.deviceOf.get(value) : undefined;
      if (other) named.push(other);
      return other ? 0 : value;
    });
    const text = JSON.stringify([
      own.mechanisms.map((m) => this.spokenOf(m, mechanism)),
      own.switches.map((k) => {
        const { a, b, mechanism: by, closedIn, spec } = circuit.switches[k]!;
        return [terminal(a), terminal(b), mechanism(by), closedIn, spec];
      }),
      own.elements.map((k) => {
        const { windings, law } = circuit.elements[k]!;
        if (law.kind !== 'impedance') return [ends(windings), law.kind];
        const { burns = -1, sealed, ...rest } = law;
        const by = sealed && [sealed.impedance, sealed.asks, mechanism(sealed.by)];
        return [ends(windings), rest, mechanism(burns), by];
      }),
      own.coils.map((k) => {
        const { a, b, mechanism: moves, winding, ...coil } = circuit.coils[k]!;
        const rest = without(coil, 'tag', 'element');
        return [terminal(a), terminal(b), mechanism(moves), mechanism(winding), rest];
      }),
      own.lamps.map((k) => {
        const { a, b, mechanism: burns, voltage } = circuit.lamps[k]!;
        return [terminal(a), terminal(b), mechanism(burns), voltage];
      }),
      own.motors.map((k) => {
        const { windings, terminals, earth, brake, ...motor } = circuit.motors[k]!;
        const rest = without(motor, 'tag');
        return [ends(windings), terminals.map(terminal), terminal(earth), mechanism(brake), rest];
      }),
      own.protections.map((k) => {
        const { spec, mechanism: trips, poles } = circuit.protections[k]!;
        return [spec, mechanism(trips), ends(poles)];
      }),
    ]);
    return { text: options + text, named };
  }
}

/** Everything that a proof may look at of a device: as text, and the devices that it names, in order. */
interface DeviceRecord {
  readonly text: string;
  readonly named: readonly Device[];
}

/** What a device of a circuit consists of, as places in the circuit's lists. */
class OwnParts {
  readonly terminals = new Map<string, number>();
  readonly mechanisms: MechanismIndex[] = [];
  readonly switches: number[] = [];
  readonly elements: number[] = [];
  readonly coils: number[] = [];
  readonly lamps: number[] = [];
  readonly motors: number[] = [];
  readonly protections: number[] = [];
  record: DeviceRecord | undefined;
  /** A supply, a transformer, a controller, or what a load works: never exchanged. */
  isUnique = false;

  /** True of what only joins conductors. */
  get isPassive(): boolean {
    return !this.isUnique && this.mechanisms.length + this.elements.length === 0;
  }
}

/** Devices exchanged in pairs. */
class Pairing {
  readonly partner = new Map<Device, Device>();
  /** Each pair once, in the order in which they were joined. */
  readonly order: [Device, Device][] = [];

  /** False where one of the two is exchanged for another already, or they are of different kinds. */
  join(one: Device, other: Device): boolean {
    const known = this.partner.get(one);
    if (known) return known === other;
    if (one === other || one.type !== other.type || this.partner.has(other)) return false;
    this.partner.set(one, other);
    this.partner.set(other, one);
    this.order.push([one, other]);
    return true;
  }
}
