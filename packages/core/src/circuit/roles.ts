/**
 * What feeds, what returns, what belongs to the power, the control or the earth circuit: decided here, by
 * the roles that terminals have by their kind of device, and by nobody else.
 */
import type { Bench } from '../bench/index.js';
import { isSwitchgearDevice, anatomy, type Device, type TerminalRole } from '../catalogue/index.js';
import { perObject } from '../per-object.js';
import { CONTROL_PROTECTION_MOST } from '../tolerances.js';
import type { Circuit, Coil, Mechanism, Switch, TerminalIndex } from './circuit.js';
import { isArmature, isSwitchgear } from './mechanisms/index.js';
import type { UnionFind } from './union-find.js';
import { wiredTogether } from './wiring.js';

/** Circuits that a terminal may belong to, as bits. */
export const POWER = 1;
export const CONTROL = 2;
export const EARTH = 4;

const ANY = POWER | CONTROL | EARTH;

/**
 * Supplies, switchgear, transformers and joints serve more than one circuit; poles of contactors, heaters
 * and windings are power.
 */
const CIRCUITS: { readonly [R in TerminalRole]: number } = {
  feed: POWER | CONTROL,
  return: POWER | CONTROL,
  earth: EARTH,
  line: POWER,
  load: POWER,
  winding: POWER,
  primary: ANY,
  secondary: ANY,
  coil: CONTROL,
  contact: CONTROL,
  signal: CONTROL,
  impedance: POWER | CONTROL,
  joint: ANY,
};

/** Main terminals: a lead between two of them is of the power circuit. */
const MAIN: ReadonlySet<TerminalRole> = new Set(['feed', 'return', 'line', 'load', 'winding']);

export interface TerminalPlace {
  readonly device: Device;
  readonly role: TerminalRole;
  /** Circuits that it may belong to, as bits. */
  readonly circuits: number;
}

/** By list of devices, which all wirings of one board have in common. */
const placesAmong = perObject(
  (devices: Bench['devices']): ReadonlyMap<string, TerminalPlace> =>
    new Map(devices.flatMap((device) => placesOn(device))),
);

/** Device and role of every terminal of a bench. */
export const placesOf = ({ devices }: Pick<Bench, 'devices'>): ReadonlyMap<string, TerminalPlace> =>
  placesAmong(devices);

function placesOn(device: Device): [string, TerminalPlace][] {
  const { brakes, terminals } = anatomy(device);
  // Fuses and breakers stand in both circuits, and a brake's coil is often fed with its motor.
  const isShared = isSwitchgearDevice(device) || brakes !== undefined;
  return terminals.map(({ name, role }) => {
    const circuits = isShared ? POWER | CONTROL : CIRCUITS[role];
    return [`${device.tag}:${name}`, { device, role, circuits }];
  });
}

/**
 * The circuit that a lead belongs to by its ends: power where both are main terminals, none where one is
 * earth.
 */
export function circuitOfLead(
  places: ReadonlyMap<string, TerminalPlace>,
  { from, to }: { readonly from: string; readonly to: string },
): 'power' | 'control' | null {
  const roles = [from, to].map((ref) => places.get(ref)?.role);
  if (roles.includes('earth')) return null;
  return roles.every((role) => role !== undefined && MAIN.has(role)) ? 'power' : 'control';
}

/** True of a contact that protects or isolates: of a fuse, a breaker or a disconnector. */
export const isProtective = (circuit: Circuit, { mechanism }: Switch): boolean =>
  isSwitchgear(circuit.mechanisms[mechanism]!);

/** True of a fuse's or breaker's pole that can protect a control circuit: one of fewer than three. */
export const isControlProtection = (circuit: Circuit, { mechanism }: Switch): boolean =>
  circuit.protections.some((one) => one.mechanism === mechanism && isOpening(one) && one.poles.length < 3);

/**
 * True of a protection that a motor's current runs through: one side lies towards a line, the other towards
 * a motor, by main poles and heaters alone.
 */
function isOfMotor(circuit: Circuit, { mechanism, poles }: Circuit['protections'][number]): boolean {
  const sets = wiredTogether(
    circuit,
    (contact) =>
      contact.mechanism !== mechanism && (isMainPole(circuit, contact) || isProtective(circuit, contact)),
  );
  const lines = circuit.sources.map(({ terminal }) => terminal);
  const motors = circuit.motors.flatMap(({ terminals }) => terminals);
  const lies = (p: number, q: number) => meets(sets, lines, p) && meets(sets, motors, q);
  return poles.some(([a, b]) => lies(a, b) || lies(b, a));
}

/**
 * Mechanisms of the fuses and breakers that protect a control circuit: rated for it, and not a motor's own.
 */
export const controlProtections = (circuit: Circuit): ReadonlySet<number> =>
  new Set(
    circuit.protections
      .filter(
        (one) =>
          'rating' in one.spec && one.spec.rating <= CONTROL_PROTECTION_MOST && !isOfMotor(circuit, one),
      )
      .map(({ mechanism }) => mechanism),
  );

/** True of what opens its own poles: a fuse or a breaker; an overload relay only tells a contact. */
export const isOpening = ({ spec }: Circuit['protections'][number]): boolean => spec.curve !== 'overload';

export const isOverloadNc = ({ spec }: Switch): boolean => spec.role === 'overload-nc';

/** True of a main pole that a coil moves. */
export const isMainPole = (circuit: Circuit, { spec, mechanism }: Switch): boolean =>
  spec.role === 'pole' && isArmature(circuit.mechanisms[mechanism]!);

/** Terminals of one role. */
export function terminalsOfRole(circuit: Circuit, role: TerminalRole): TerminalIndex[] {
  const places = placesOf(circuit.bench);
  return circuit.terminals.flatMap((ref, k) => (places.get(ref)?.role === role ? [k as TerminalIndex] : []));
}

/** The earth terminals of the supplies. */
export const supplyEarths = (circuit: Circuit): TerminalIndex[] =>
  terminalsOfRole(circuit, 'earth').filter((terminal) => circuit.earthed.includes(terminal));

/**
 * Terminals that are the return of control circuits: earthed neutral, DC minus, the return side of a
 * transformer's secondary.
 */
export const returns = (circuit: Circuit): TerminalIndex[] => [
  ...terminalsOfRole(circuit, 'return'),
  ...returnEnds(circuit),
];

/**
 * By transformer, the side of its secondary that is meant as the return: the earthed one; where neither or
 * both are, the one without a fuse.
 */
export function returnEnds(circuit: Circuit): TerminalIndex[] {
  const wires = wiredTogether(circuit);
  const earthed = (end: TerminalIndex) => meets(wires, circuit.earthed, end);
  const fused = (end: TerminalIndex) =>
    circuit.switches.some(
      (contact) => isProtective(circuit, contact) && meets(wires, [contact.a, contact.b], end),
    );
  return circuit.transformers.map(({ secondary: [x1, x2] }) => {
    if (earthed(x1) !== earthed(x2)) return earthed(x1) ? x1 : x2;
    return fused(x2) && !fused(x1) ? x1 : x2;
  });
}

/** Terminals of the line conductors of AC supplies. */
export const linesOf = ({ sources }: Circuit): TerminalIndex[] =>
  sources.flatMap(({ terminal, frequency }) => (frequency > 0 ? [terminal] : []));

/**
 * Terminals that feed: line conductors, DC plus, the side of a transformer's secondary that is not its
 * return.
 */
export function feeds(circuit: Circuit): TerminalIndex[] {
  const back = returnEnds(circuit);
  return [
    ...circuit.sources.map(({ terminal }) => terminal),
    ...circuit.transformers.flatMap(({ secondary }) => secondary.filter((end) => !back.includes(end))),
  ];
}

/** True where a terminal is joined to one of some others. */
export const meets = (sets: UnionFind, goals: readonly number[], terminal: number): boolean =>
  goals.some((goal) => sets.find(goal) === sets.find(terminal));

/** True where one end of a coil is fed and the other returns, or the two lie on different lines. */
export function isFed(circuit: Circuit, sets: UnionFind, { a, b }: Coil): boolean {
  const [live, back] = [feeds(circuit), returns(circuit)];
  const fed = (p: TerminalIndex, q: TerminalIndex) =>
    meets(sets, live, p) &&
    (meets(sets, back, q) || (live.length > 1 && meets(sets, live, q) && sets.find(p) !== sets.find(q)));
  return fed(a, b) || fed(b, a);
}

/** Earths of motors that no wire joins to a supply's earth. */
export function unbondedEarths(circuit: Circuit): string[] {
  const wires = wiredTogether(circuit);
  const bonded = supplyEarths(circuit);
  return circuit.motors.flatMap(({ earth }) =>
    meets(wires, bonded, earth) ? [] : [circuit.terminals[earth]!],
  );
}

/** The place of a contact, `"KM1:13-14"`. */
export const contactPlace = ({ tag, spec }: Switch): string => `${tag}:${spec.name}`;

export const contactAt = ({ switches }: Circuit, place: string): Switch | undefined =>
  switches.find((contact) => contactPlace(contact) === place);

/** A part of a device that moves, by its name; undefined where the device has none of it. */
export const partOf = ({ mechanisms }: Circuit, tag: string, name: string): Mechanism | undefined =>
  mechanisms.find((one) => one.device.tag === tag && one.name === name);
