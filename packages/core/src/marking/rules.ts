import { conductorsByTerminal, splitRef, type Bench, type Wire } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import { wiredTogether, type Circuit, type Coil, type Switch } from '../circuit/index.js';
import { unbondedEarths } from '../proof/index.js';
import type { Rules } from './exercise.js';
import type { Evidence } from './report.js';

/** A rule that was looked at, and what breaks it. */
export interface RuleVerdict {
  readonly id: string;
  readonly title: string;
  readonly broken: Evidence | null;
}

const PROTECTIVE = new Set(['fuse', 'breaker', 'disconnector']);

/** House rules of the exercise, each judged on the wiring alone. */
export function judgeRules(circuit: Circuit, rules: Rules): RuleVerdict[] {
  const verdicts: RuleVerdict[] = [];
  // "either" accepts both schools: that the contact works at all is the safety property's to judge.
  if (rules.overloadPosition === 'line' || rules.overloadPosition === 'coil') {
    const title = { line: 'Overload contact at the line end', coil: 'Overload contact between coil and neutral' };
    verdicts.push({ id: 'overload-position', title: title[rules.overloadPosition], broken: overloadPosition(circuit, rules.overloadPosition) });
  }
  if (rules.coilReturnUnswitched) {
    verdicts.push({ id: 'coil-return-unswitched', title: 'Coil return goes straight to the neutral', broken: coilReturn(circuit) });
  }
  if (rules.fusedControl) verdicts.push({ id: 'fused-control', title: 'Control circuit is fused', broken: fusedControl(circuit) });
  if (rules.earthBonded) verdicts.push({ id: 'earth-bonded', title: 'Earth bonded everywhere', broken: earthBonded(circuit) });
  return verdicts;
}

/** Workmanship: conductors on each terminal, and green-yellow for earth alone. */
export function judgeWorkmanship(bench: Bench, rules: Rules): RuleVerdict[] {
  return [
    {
      id: 'conductors-per-terminal',
      title: rules.maxWiresPerTerminal === undefined ? 'No terminal overfilled' : `At most ${rules.maxWiresPerTerminal} conductors on a terminal`,
      broken: overfilled(bench, rules.maxWiresPerTerminal),
    },
    { id: 'earth-colour', title: 'Green-yellow for earth, and for earth alone', broken: earthColour(bench) },
  ];
}

/** Terminals of supplies that are the return of control circuits: earthed neutral, DC minus. */
function returns(circuit: Circuit): number[] {
  return circuit.terminals.flatMap((ref, k) => (isReturn(circuit, ref) ? [k] : []));
}

function isReturn(circuit: Circuit, ref: string): boolean {
  const { tag, terminal } = splitRef(ref);
  const type = circuit.bench.devices.find((d) => d.tag === tag)?.type ?? '';
  return (type === 'supply-dc' && terminal === '-') || (type.startsWith('supply-') && terminal === 'N');
}

const isProtective = (circuit: Circuit, contact: Switch): boolean => {
  const device = circuit.mechanisms[contact.mechanism]?.device;
  return device !== undefined && PROTECTIVE.has(device.type);
};

const isOverloadNc = ({ spec }: Switch): boolean => spec.role === 'overload-nc';

/** Coils that are wired at both ends. */
function wiredCoils(circuit: Circuit): Coil[] {
  const wired = new Set(circuit.conductors.filter(({ wire }) => wire >= 0).flatMap(({ a, b }) => [a as number, b as number]));
  return circuit.coils.filter(({ a, b }) => wired.has(a) && wired.has(b));
}

function coilReturn(circuit: Circuit): Evidence | null {
  const straight = wiredTogether(circuit, (contact) => isProtective(circuit, contact) || isOverloadNc(contact));
  const goals = returns(circuit).map((k) => straight.find(k));
  // A control circuit between two lines has no earthed side: then one line may be unswitched instead.
  const lines = circuit.sources.map(({ terminal }) => straight.find(terminal));
  const anything = wiredTogether(circuit, () => true);
  const neutrals = returns(circuit).map((k) => anything.find(k));
  const loose = wiredCoils(circuit).filter(({ a, b }) => {
    const usesReturn = neutrals.includes(anything.find(a)) || neutrals.includes(anything.find(b));
    const allowed = usesReturn ? goals : lines;
    return !allowed.includes(straight.find(a)) && !allowed.includes(straight.find(b));
  });
  if (loose.length === 0) return null;
  return {
    found: `${loose.map(({ tag }) => `the coil of ${tag}`).join(', ')} reaches the return of its supply only through a contact`,
    where: loose.map(({ tag }) => tag),
  };
}

function overloadPosition(circuit: Circuit, wanted: 'line' | 'coil'): Evidence | null {
  const contacts = circuit.switches.filter(isOverloadNc);
  if (contacts.length === 0) return null;
  const bare = wiredTogether(circuit, (contact) => isProtective(circuit, contact));
  const closed = wiredTogether(circuit, (contact) => isProtective(circuit, contact) || isOverloadNc(contact));
  const goals = returns(circuit);
  const reaches = (sets: typeof bare, k: number) => goals.some((goal) => sets.find(goal) === sets.find(k));
  const wired = new Set(circuit.conductors.filter(({ wire }) => wire >= 0).flatMap(({ a, b }) => [a as number, b as number]));
  const unwired = contacts.filter(({ a, b }) => !wired.has(a) || !wired.has(b));
  if (unwired.length > 0) {
    return {
      found: `${unwired.map(({ tag, spec }) => `${tag} ${spec.name}`).join(', ')} is not in the control circuit`,
      where: unwired.flatMap(({ tag, spec }) => [`${tag}:${spec.a}`, `${tag}:${spec.b}`]),
    };
  }
  const atCoilEnd = contacts.filter(({ a, b }) => (reaches(closed, a) && !reaches(bare, a)) || (reaches(closed, b) && !reaches(bare, b)));
  const wrong = contacts.filter((contact) => atCoilEnd.includes(contact) !== (wanted === 'coil'));
  if (wrong.length === 0) return null;
  const place = wanted === 'coil' ? 'at the line end' : 'between coil and neutral';
  return {
    found: `${wrong.map(({ tag, spec }) => `${tag} ${spec.name}`).join(', ')} stands ${place}`,
    where: wrong.flatMap(({ tag, spec }) => [`${tag}:${spec.a}`, `${tag}:${spec.b}`]),
  };
}

/** With every contact closed but the fuses taken out, no coil may still be reached by a line conductor. */
function fusedControl(circuit: Circuit): Evidence | null {
  const isControlProtection = (contact: Switch): boolean => {
    const device = circuit.mechanisms[contact.mechanism]?.device;
    return device?.type === 'fuse' || (device?.type === 'breaker' && device.options.poles < 3);
  };
  const unfused = wiredTogether(circuit, (contact) => !isControlProtection(contact));
  const lines = circuit.sources.map(({ terminal }) => unfused.find(terminal));
  const bare = wiredCoils(circuit).filter(({ a, b }) => lines.includes(unfused.find(a)) || lines.includes(unfused.find(b)));
  if (bare.length === 0) return null;
  return { found: `${bare.map(({ tag }) => `the coil of ${tag}`).join(', ')} can be fed without passing a fuse`, where: bare.map(({ tag }) => tag) };
}

function earthBonded(circuit: Circuit): Evidence | null {
  const loose = unbondedEarths(circuit);
  return loose.length === 0 ? null : { found: `${loose.join(', ')} not joined to the supply's PE`, where: loose };
}

function overfilled(bench: Bench, most: number | undefined): Evidence | null {
  const limits = new Map(bench.devices.flatMap((device) => anatomy(device).terminals.map(({ name, conductors }) => [`${device.tag}:${name}`, conductors] as const)));
  const full = [...conductorsByTerminal(bench.wires)].filter(([ref, count]) => {
    const own = limits.get(ref) ?? 2;
    // Supply terminals take any number and strips four; the house rule speaks of ordinary terminals.
    const limit = own === 2 && most !== undefined ? most : own;
    return count > limit;
  });
  if (full.length === 0) return null;
  return { found: full.map(([ref, count]) => `${count} conductors on ${ref}`).join(', '), where: full.map(([ref]) => ref) };
}

const GREEN_YELLOW = new Set(['green-yellow', 'green/yellow', 'gnye', 'gn-ye', 'gn/ye']);
const isGreenYellow = (colour: string) => GREEN_YELLOW.has(colour.toLowerCase());
const isEarthTerminal = (ref: string) => ref.endsWith(':PE');

/** IEC 60204-1, 13.2.2 (from memory): green-yellow marks the protective conductor and nothing else. Wires without a colour are not judged. */
function earthColour(bench: Bench): Evidence | null {
  const touching = new Map<string, Wire[]>();
  for (const wire of bench.wires) for (const end of [wire.from, wire.to]) touching.set(end, [...(touching.get(end) ?? []), wire]);
  // Earth reaches onwards from PE terminals through strips and busbars.
  const earth = new Set<string>();
  const queue = [...touching.keys()].filter(isEarthTerminal);
  const bars = new Map(bench.devices.filter(({ type }) => type === 'busbar').map((device) => [device.tag, anatomy(device).terminals.map(({ name }) => `${device.tag}:${name}`)]));
  for (const ref of queue) {
    if (earth.has(ref)) continue;
    earth.add(ref);
    queue.push(...(bars.get(splitRef(ref).tag) ?? []));
    for (const wire of touching.get(ref) ?? []) queue.push(wire.from === ref ? wire.to : wire.from);
  }
  const wrong = bench.wires.filter(({ from, to, colour }) => colour !== undefined && isGreenYellow(colour) !== (earth.has(from) && earth.has(to)));
  if (wrong.length === 0) return null;
  return { found: wrong.map(({ from, to, colour }) => `${from} to ${to} is ${colour ?? ''}`).join(', '), where: wrong.flatMap(({ from, to }) => [from, to]) };
}
