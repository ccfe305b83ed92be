import { terminalsOf, type Bench, type TerminalRef } from '../bench/index.js';
import { anatomy, isSupply, isSwitchgearDevice } from '../catalogue/index.js';
import { UnionFind } from '../circuit/index.js';
import type { Net } from './drawing.js';
import { isUsBoard } from './usual-form.js';

/** What the wires join, with what devices join inside; contacts and heaters join nothing here. */
export interface Netlist {
  readonly nets: readonly Net[];
  /** Index into `nets`, by terminal; every terminal of the bench has one. */
  readonly netOf: ReadonlyMap<TerminalRef, number>;
  readonly wired: ReadonlySet<TerminalRef>;
}

/** Finds the nets of a bench and names each: by its supply conductor, by a ferrule's number, or in order. */
export function netlistOf(bench: Bench): Netlist {
  const terminals = terminalsOf(bench);
  const index = new Map(terminals.map((ref, k) => [ref, k] as const));
  const sets = new UnionFind(terminals.length);
  const join = (a: TerminalRef, b: TerminalRef) => sets.union(index.get(a)!, index.get(b)!);
  for (const { from, to } of bench.wires) join(from, to);
  for (const device of bench.devices)
    for (const [a, b] of anatomy(device).links) join(`${device.tag}:${a}`, `${device.tag}:${b}`);

  const members = new Map<number, TerminalRef[]>();
  terminals.forEach((ref, k) => {
    const root = sets.find(k);
    members.set(root, [...(members.get(root) ?? []), ref]);
  });
  const groups = [...members.values()];
  const names = nameNets(bench, groups);
  return {
    nets: groups.map((group, k) => ({ name: names[k]!, terminals: group })),
    netOf: new Map(groups.flatMap((group, k) => group.map((ref) => [ref, k] as const))),
    wired: new Set(bench.wires.flatMap(({ from, to }) => [from, to])),
  };
}

/** Names of conductors by what they are; numbers are for the others. */
type Naming = (group: readonly TerminalRef[]) => string | undefined;

function nameNets(bench: Bench, groups: readonly (readonly TerminalRef[])[]): string[] {
  const numbers = new Map(
    bench.wires.flatMap(({ from, number }) => (number ? [[from, number] as const] : [])),
  );
  const byName = [secondaryNames(bench), supplyNames(bench)];
  const also = isUsBoard(bench) ? [usNames(bench, groups)] : [];
  const used = new Set<string>();
  let next = 0;
  const fresh = (): string => {
    do next += 1;
    while (used.has(String(next)));
    return String(next);
  };
  const take = (name: string): string => {
    const free = used.has(name) ? fresh() : name;
    used.add(free);
    return free;
  };
  const named = groups.map((group) => {
    const name =
      byName.map((naming) => naming(group)).find((one) => one !== undefined) ??
      group.flatMap((ref) => numbers.get(ref) ?? [])[0] ??
      also.map((naming) => naming(group)).find((one) => one !== undefined);
    return name === undefined ? null : take(name);
  });
  // Control conductors are numbered first by US practice, as the current goes: 1 is behind the control fuse.
  const order = also.length > 0 ? alongCurrent(bench, groups) : groups.map((_, k) => k);
  const names = [...named];
  for (const k of order) names[k] ??= groups[k]!.length > 1 ? take(fresh()) : '';
  return names as string[];
}

/** The conductor of a supply: `L1`, with its designation where there are several. */
function supplyNames({ devices }: Bench): Naming {
  const supplies = devices.filter(isSupply).map(({ tag }) => tag);
  return (group) => {
    const ref = group.find((one) => supplies.some((tag) => one.startsWith(`${tag}:`)));
    if (ref === undefined) return undefined;
    return supplies.length > 1 ? ref.replace(':', ' ') : ref.split(':')[1]!;
  };
}

/** A transformer's secondary keeps its terminals' names, earthed or not: `X1`, `X2`. */
function secondaryNames({ devices }: Bench): Naming {
  const ends = devices.flatMap((device) =>
    (anatomy(device).transformer?.secondary ?? []).map((name) => `${device.tag}:${name}`),
  );
  const several = ends.length > 2;
  return (group) => {
    const ref = group.find((one) => ends.includes(one));
    if (ref === undefined) return undefined;
    return several ? ref.replace(':', ' ') : ref.split(':')[1]!;
  };
}

/** Lines behind what disconnects them, `1L1`, and leads of a motor, `T1` (NEMA ICS 1 and MG 1, from memory). */
function usNames({ devices }: Bench, groups: readonly (readonly TerminalRef[])[]): Naming {
  const names = new Map<string, string>();
  const groupOf = (ref: string) => groups.find((group) => group.some((one) => one === ref)) ?? [];
  const motors = devices.filter((device) => anatomy(device).motor !== undefined);
  motors.forEach((motor, k) => {
    const ends = anatomy(motor).terminals.filter(({ role }) => role === 'winding');
    ends.forEach(({ name }, n) =>
      names.set(`${motor.tag}:${name}`, `${motors.length > 1 ? k + 1 : ''}T${n + 1}`),
    );
  });
  const supplies = devices.filter(isSupply).map(({ tag }) => tag);
  for (const device of devices) {
    const { contacts } = anatomy(device);
    if (!isSwitchgearDevice(device) || contacts.length < 3) continue;
    for (const { a, b } of contacts) {
      const line = groupOf(`${device.tag}:${a}`).find((ref) =>
        supplies.some((tag) => ref.startsWith(`${tag}:L`)),
      );
      if (line) names.set(`${device.tag}:${b}`, `1${line.split(':')[1]!}`);
    }
  }
  return (group) => group.flatMap((ref) => names.get(ref) ?? [])[0];
}

/** True of nets on which poles, heaters, windings or a primary stand. */
function powerNets({ devices }: Bench): (group: readonly TerminalRef[]) => boolean {
  const refs = new Set(
    devices.flatMap((device) => {
      const body = anatomy(device);
      const poles =
        isSwitchgearDevice(device) && body.contacts.length < 3
          ? []
          : body.contacts.filter(({ role }) => role === 'pole');
      const ends = [
        ...poles.flatMap(({ a, b }) => [a, b]),
        ...body.heaters.flat(),
        ...(body.transformer?.primary ?? []),
        ...(body.motor ? body.terminals.map(({ name }) => name) : []),
      ];
      return ends.map((name) => `${device.tag}:${name}`);
    }),
  );
  return (group) => group.some((ref) => refs.has(ref));
}

/** Nets of the control circuit as the current reaches them from its feed, before those of the power circuit. */
function alongCurrent(bench: Bench, groups: readonly (readonly TerminalRef[])[]): number[] {
  const isPower = powerNets(bench);
  const netOf = new Map(groups.flatMap((group, k) => group.map((ref) => [ref as string, k] as const)));
  const ways = new Map<number, number[]>();
  const join = (a: number, b: number) => ways.set(a, [...(ways.get(a) ?? []), b]);
  for (const device of bench.devices) {
    const { contacts, coils, lamps } = anatomy(device);
    for (const { a, b } of [...contacts, ...coils, ...lamps]) {
      const [u, v] = [netOf.get(`${device.tag}:${a}`)!, netOf.get(`${device.tag}:${b}`)!];
      if (isPower(groups[u]!) && isPower(groups[v]!)) continue;
      join(u, v);
      join(v, u);
    }
  }
  const secondary = bench.devices.flatMap((device) =>
    (anatomy(device).transformer?.secondary.slice(0, 1) ?? []).map((name) =>
      netOf.get(`${device.tag}:${name}`)!,
    ),
  );
  const lines = groups.flatMap((group, k) => (isPower(group) ? [k] : []));
  const queue = secondary.length > 0 ? [...secondary] : [...lines];
  const reached = new Set(queue);
  for (const net of queue)
    for (const next of ways.get(net) ?? []) {
      if (reached.has(next)) continue;
      reached.add(next);
      queue.push(next);
    }
  const control = queue.filter((k) => !isPower(groups[k]!));
  const rest = groups.map((_, k) => k).filter((k) => !control.includes(k));
  return [...control, ...rest];
}
