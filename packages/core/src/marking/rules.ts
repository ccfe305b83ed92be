import { splitRef } from '../bench/index.js';
import { OPERATED, REST, type Device, type Duty } from '../catalogue/index.js';
import {
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type Coil,
  type MechanicalState,
  type Switch,
  type TerminalIndex,
  type UnionFind,
} from '../circuit/index.js';
import { Solver, coilWants, isShorted } from '../electrics/index.js';
import { unbondedEarths } from '../proof/index.js';
import { DIAL_LEAST, DIAL_MOST_IEC, DIAL_MOST_NEC, DIAL_MOST_NEC_SERVICE } from '../tolerances.js';
import type { InterlockKind, Rules } from './exercise.js';
import type { Evidence } from './report.js';

/** A rule that was looked at, and what breaks it. */
export interface RuleVerdict {
  readonly id: string;
  readonly title: string;
  readonly broken: Evidence | null;
  /** Part of the points that is kept although it is broken, 0 to 1; none by default. */
  readonly kept?: number;
}

const PROTECTIVE = new Set(['fuse', 'breaker', 'disconnector']);

/** House rules of the exercise, each judged on the wiring and settings alone. A rule that is off, or has nothing to judge, is left out. */
export function judgeRules(circuit: Circuit, rules: Rules): RuleVerdict[] {
  const verdicts: RuleVerdict[] = [];
  const judge = (on: unknown, id: string, title: string, broken: () => Evidence | null, applies = true) => {
    if (on !== undefined && on !== false && applies) verdicts.push({ id, title, broken: broken() });
  };
  const has = (test: (device: Device) => boolean) => circuit.bench.devices.some(test);
  // "either" accepts both schools: that the contact works at all is the safety property's to judge.
  const position = rules.overloadPosition === 'either' ? undefined : rules.overloadPosition;
  judge(
    position,
    'overload-position',
    position === 'coil' ? 'Overload contact between coil and neutral' : 'Overload contact at the line end',
    () => overloadPosition(circuit, position ?? 'line'),
  );
  judge(
    rules.coilReturnUnswitched,
    'coil-return-unswitched',
    'Coil return goes straight to the neutral',
    () => coilReturn(circuit),
  );
  judge(rules.fusedControl, 'fused-control', 'Control circuit is fused', () => fusedControl(circuit));
  judge(
    rules.stopUpstream,
    'stop-upstream',
    'Stop stands before Start',
    () => stopUpstream(circuit),
    has(({ duty }) => duty === 'stop'),
  );
  judge(
    rules.emergencyStopFirst,
    'emergency-stop-first',
    'Emergency stop stands before everything',
    () => emergencyStopFirst(circuit),
    has(({ duty }) => duty === 'emergency-stop'),
  );
  for (const kind of rules.interlocks ?? [])
    judge(true, `interlock-${kind}`, INTERLOCK_TITLES[kind], () => interlock(circuit, kind));
  judge(rules.noPoleSealing, 'no-pole-sealing', 'Nothing seals in through a power pole', () =>
    poleSealing(circuit),
  );
  judge(rules.neutralUnswitched, 'neutral-unswitched', 'Neutral is not taken from a switched pole', () =>
    switchedNeutral(circuit),
  );
  judge(rules.earthBonded, 'earth-bonded', 'Earth bonded everywhere', () => earthBonded(circuit));
  judge(
    rules.secondaryEarthed,
    'secondary-earthed',
    'One side of the transformer’s secondary is earthed',
    () => secondaryEarthed(circuit),
    circuit.transformers.length > 0,
  );
  judge(
    rules.overloadDial,
    'overload-dial',
    'Overload dial set to the motor’s plate',
    () => overloadDial(circuit),
    has(({ type }) => type === 'overload'),
  );
  judge(
    rules.timerSetting,
    'timer-setting',
    'Timer set as asked',
    () => timerSetting(circuit, rules.timerSetting ?? {}),
    has(({ type }) => type.includes('timer')),
  );
  judge(
    rules.freeContacts,
    'free-contacts',
    `At least ${rules.freeContacts ?? 0} auxiliary contacts left free`,
    () => freeContacts(circuit, rules.freeContacts ?? 0),
  );
  return verdicts;
}

const INTERLOCK_TITLES = {
  electrical: 'Electrical interlock: each coil behind the other’s NC contact',
  mechanical: 'Mechanical interlock fitted',
  'push-button': 'Push-button interlock: each start button’s NC contact in the other rung',
} as const;

/** Terminals that are the return of control circuits: earthed neutral, DC minus, the earthed side of a transformer's secondary. */
function returns(circuit: Circuit): number[] {
  return [
    ...circuit.terminals.flatMap((ref, k) => (isReturn(circuit, ref) ? [k] : [])),
    ...returnEnds(circuit),
  ];
}

/** By transformer, the side of its secondary that is meant as the return: the earthed one; where neither or both are, the one without a fuse. */
export function returnEnds(circuit: Circuit): TerminalIndex[] {
  const wires = wiredTogether(circuit);
  const earthed = (end: TerminalIndex) => circuit.earthed.some((k) => wires.find(k) === wires.find(end));
  const fused = (end: TerminalIndex) =>
    circuit.switches.some(
      (contact) =>
        isProtective(circuit, contact) &&
        [contact.a, contact.b].some((k) => wires.find(k) === wires.find(end)),
    );
  return circuit.transformers.map(({ secondary: [x1, x2] }) => {
    if (earthed(x1) !== earthed(x2)) return earthed(x1) ? x1 : x2;
    return fused(x2) && !fused(x1) ? x1 : x2;
  });
}

/** Terminals that feed: line conductors, DC plus, the side of a transformer's secondary that is not earthed. */
function feeds(circuit: Circuit): number[] {
  const back = returnEnds(circuit);
  return [
    ...circuit.sources.map(({ terminal }) => terminal),
    ...circuit.transformers.flatMap(({ secondary }) => secondary.filter((end) => !back.includes(end))),
  ];
}

const meets = (sets: UnionFind, goals: readonly number[], k: number): boolean =>
  goals.some((goal) => sets.find(goal) === sets.find(k));

function isReturn(circuit: Circuit, ref: string): boolean {
  const { tag, terminal } = splitRef(ref);
  const type = circuit.bench.devices.find((d) => d.tag === tag)?.type ?? '';
  return (type === 'supply-dc' && terminal === '-') || (type.startsWith('supply-') && terminal === 'N');
}

const deviceOfSwitch = (circuit: Circuit, { mechanism }: Switch): Device =>
  circuit.mechanisms[mechanism]?.device as Device;

const namesOf = (contacts: readonly Switch[]): string =>
  contacts.map(({ tag, spec }) => `${tag} ${spec.name}`).join(', ');
const endsOf = (contacts: readonly Switch[]): string[] =>
  contacts.flatMap(({ tag, spec }) => [`${tag}:${spec.a}`, `${tag}:${spec.b}`]);

const isProtective = (circuit: Circuit, contact: Switch): boolean => {
  const device = circuit.mechanisms[contact.mechanism]?.device;
  return device !== undefined && PROTECTIVE.has(device.type);
};

const isOverloadNc = ({ spec }: Switch): boolean => spec.role === 'overload-nc';

/** Coils that are wired at both ends. */
function wiredCoils(circuit: Circuit): Coil[] {
  const wired = wiredTerminals(circuit);
  return circuit.coils.filter(({ a, b }) => wired.has(a) && wired.has(b));
}

function coilReturn(circuit: Circuit): Evidence | null {
  const straight = wiredTogether(
    circuit,
    (contact) => isProtective(circuit, contact) || isOverloadNc(contact),
  );
  const goals = returns(circuit).map((k) => straight.find(k));
  // A control circuit between two lines has no earthed side: then one line may be unswitched instead.
  const lines = feeds(circuit).map((terminal) => straight.find(terminal));
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
  const wired = wiredTerminals(circuit);
  const unwired = contacts.filter(({ a, b }) => !wired.has(a) || !wired.has(b));
  if (unwired.length > 0) {
    return {
      found: `${unwired.map(({ tag, spec }) => `${tag} ${spec.name}`).join(', ')} is not in the control circuit`,
      where: unwired.flatMap(({ tag, spec }) => [`${tag}:${spec.a}`, `${tag}:${spec.b}`]),
    };
  }
  const atCoilEnd = contacts.filter(
    ({ a, b }) => (reaches(closed, a) && !reaches(bare, a)) || (reaches(closed, b) && !reaches(bare, b)),
  );
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
  const lines = feeds(circuit).map((terminal) => unfused.find(terminal));
  const bare = wiredCoils(circuit).filter(
    ({ a, b }) => lines.includes(unfused.find(a)) || lines.includes(unfused.find(b)),
  );
  if (bare.length === 0) return null;
  return {
    found: `${bare.map(({ tag }) => `the coil of ${tag}`).join(', ')} can be fed without passing a fuse`,
    where: bare.map(({ tag }) => tag),
  };
}

function earthBonded(circuit: Circuit): Evidence | null {
  const loose = unbondedEarths(circuit);
  return loose.length === 0
    ? null
    : { found: `${loose.join(', ')} not joined to the supply's PE`, where: loose };
}

const STARTS: readonly (Duty | undefined)[] = ['start', 'forward', 'reverse', 'jog'];

/** With the stop contacts open and every other contact closed, no start contact may be live. */
function stopUpstream(circuit: Circuit): Evidence | null {
  const wired = wiredTerminals(circuit);
  const sets = wiredTogether(
    circuit,
    (contact) => !(deviceOfSwitch(circuit, contact).duty === 'stop' && contact.spec.normally === 'closed'),
  );
  const live = feeds(circuit);
  const wrong = circuit.switches.filter((contact) => {
    const { duty } = deviceOfSwitch(circuit, contact);
    if (
      !STARTS.includes(duty) ||
      contact.spec.normally !== 'open' ||
      !wired.has(contact.a) ||
      !wired.has(contact.b)
    )
      return false;
    return meets(sets, live, contact.a) || meets(sets, live, contact.b);
  });
  return wrong.length === 0
    ? null
    : { found: `${namesOf(wrong)} is live with every stop button pressed`, where: endsOf(wrong) };
}

/** With the emergency stops set and every other contact closed, nothing else in the control circuit may be live. IEC 60204-1, 9.2.3.4.2 (from memory). */
function emergencyStopFirst(circuit: Circuit): Evidence | null {
  const wired = wiredTerminals(circuit);
  const sets = wiredTogether(
    circuit,
    (contact) =>
      !(deviceOfSwitch(circuit, contact).duty === 'emergency-stop' && contact.spec.normally === 'closed'),
  );
  const live = feeds(circuit);
  const coils = wiredCoils(circuit).filter(({ a, b }) => meets(sets, live, a) || meets(sets, live, b));
  const contacts = circuit.switches.filter((contact) => {
    const device = deviceOfSwitch(circuit, contact);
    if (
      contact.spec.role !== 'control' ||
      device.duty === 'emergency-stop' ||
      !wired.has(contact.a) ||
      !wired.has(contact.b)
    )
      return false;
    return meets(sets, live, contact.a) || meets(sets, live, contact.b);
  });
  if (coils.length + contacts.length === 0) return null;
  const names = [
    ...contacts.map(({ tag, spec }) => `${tag} ${spec.name}`),
    ...coils.map(({ tag }) => `the coil of ${tag}`),
  ];
  return {
    found: `${names.join(', ')} is live with the emergency stop set`,
    where: [...endsOf(contacts), ...coils.map(({ tag }) => tag)],
  };
}

/** A state in which some mechanisms are operated and all others are as on a fresh bench. */
function operated(circuit: Circuit, ...tags: string[]): MechanicalState {
  const state = circuit.initial.slice();
  for (const tag of tags) {
    const index = circuit.mechanismOf.get(tag);
    if (index !== undefined) state[index] = OPERATED;
  }
  return state;
}

/** Contactors that exclude each other: both in short the lines, at once or as soon as a third feeds them and they drive nothing of their own. */
export function rivalPairs(circuit: Circuit, solver: Solver): [Coil, Coil][] {
  const contactors = circuit.coils.filter(({ tag }) =>
    circuit.bench.devices.some((device) => device.tag === tag && device.type === 'contactor'),
  );
  const at = (...coils: Coil[]) => solver.at(operated(circuit, ...coils.map(({ tag }) => tag)));
  return contactors.flatMap((a, k) =>
    contactors.slice(k + 1).flatMap((b): [Coil, Coil][] => {
      if (isShorted(at(a, b))) return [[a, b]];
      // Star and delta short the lines only once the main contactor feeds them, with which each may be in alone.
      const third = contactors.some(
        (c) => c !== a && c !== b && isShorted(at(a, b, c)) && !isShorted(at(a, c)) && !isShorted(at(b, c)),
      );
      return third && at(a, b).motors.every(({ driven }) => driven === 'none') ? [[a, b]] : [];
    }),
  );
}

function interlock(circuit: Circuit, kind: InterlockKind): Evidence | null {
  const solver = new Solver(circuit);
  const pairs = rivalPairs(circuit, solver);
  if (pairs.length === 0) return { found: 'no two contactors of this wiring exclude each other' };
  const missing = pairs.flatMap(([a, b]) => missingInterlocks(circuit, solver, kind, a, b));
  return missing.length === 0
    ? null
    : { found: missing.join('; '), where: [...new Set(pairs.flatMap(([a, b]) => [a.tag, b.tag]))] };
}

function missingInterlocks(
  circuit: Circuit,
  solver: Solver,
  kind: InterlockKind,
  a: Coil,
  b: Coil,
): string[] {
  if (kind === 'mechanical') {
    const fitted = circuit.interlocks.some(
      (group) => group.includes(a.mechanism) && group.includes(b.mechanism),
    );
    return fitted ? [] : [`${a.tag} and ${b.tag} are not coupled`];
  }
  const both: [Coil, Coil][] = [
    [a, b],
    [b, a],
  ];
  if (kind === 'electrical') {
    // With the NC contacts of one open and every other contact closed, the coil of the other must be cut off.
    return both.flatMap(([held, other]) => {
      const sets = wiredTogether(
        circuit,
        (contact) => !(contact.tag === held.tag && contact.spec.normally === 'closed'),
      );
      return isFed(circuit, sets, other)
        ? [`the coil of ${other.tag} can be fed while ${held.tag} is in`]
        : [];
    });
  }
  const buttons = circuit.bench.devices.filter(
    ({ type, duty }) => type === 'pushbutton' && STARTS.includes(duty),
  );
  return both.flatMap(([held, other]) => {
    const starters = buttons.filter(({ tag }) => starts(circuit, solver, tag, held));
    const cuts = starters.every(({ tag }) => {
      const sets = wiredTogether(
        circuit,
        (contact) => !(contact.tag === tag && contact.spec.normally === 'closed'),
      );
      return !isFed(circuit, sets, other);
    });
    return starters.length > 0 && cuts
      ? []
      : [`the button that starts ${held.tag} does not cut off ${other.tag}`];
  });
}

function isFed(circuit: Circuit, sets: UnionFind, { a, b }: Coil): boolean {
  const [live, back] = [feeds(circuit), returns(circuit)];
  const fed = (p: TerminalIndex, q: TerminalIndex) =>
    meets(sets, live, p) &&
    (meets(sets, back, q) || (live.length > 1 && meets(sets, live, q) && sets.find(p) !== sets.find(q)));
  return fed(a, b) || fed(b, a);
}

/** True where a button, pressed on a board at rest, energises a coil. */
function starts(circuit: Circuit, solver: Solver, button: string, coil: Coil): boolean {
  const state = operated(circuit, button);
  return coilWants(circuit, solver.at(state), state, circuit.coils.indexOf(coil));
}

/** With only its own contactor in and nothing pressed, a coil that is fed must be fed without any main pole. */
function poleSealing(circuit: Circuit): Evidence | null {
  const wrong = wiredCoils(circuit).filter((coil) => {
    const state = operated(circuit, coil.tag);
    const closed = ({ mechanism, closedIn }: Switch) => closedIn[state[mechanism] ?? REST] ?? false;
    const isPole = (contact: Switch) =>
      contact.spec.role === 'pole' && deviceOfSwitch(circuit, contact).type === 'contactor';
    return (
      isFed(circuit, wiredTogether(circuit, closed), coil) &&
      !isFed(
        circuit,
        wiredTogether(circuit, (contact) => closed(contact) && !isPole(contact)),
        coil,
      )
    );
  });
  return wrong.length === 0
    ? null
    : {
        found: `${wrong.map(({ tag }) => tag).join(', ')} seals in through a power pole`,
        where: wrong.map(({ tag }) => tag),
      };
}

/** With every contactor's poles open, coils and lamps must still reach the return that they reach with them closed. Common practice, no source. */
function switchedNeutral(circuit: Circuit): Evidence | null {
  const isPole = (contact: Switch) =>
    contact.spec.role === 'pole' && deviceOfSwitch(circuit, contact).type === 'contactor';
  const closed = wiredTogether(circuit, () => true);
  const open = wiredTogether(circuit, (contact) => !isPole(contact));
  const back = returns(circuit);
  const wrong = [...wiredCoils(circuit), ...circuit.lamps].filter(
    ({ a, b }) =>
      [a, b].some((end) => meets(closed, back, end)) && ![a, b].some((end) => meets(open, back, end)),
  );
  return wrong.length === 0
    ? null
    : {
        found: `${wrong.map(({ tag }) => tag).join(', ')} has its neutral from a switched pole`,
        where: wrong.map(({ tag }) => tag),
      };
}

function secondaryEarthed(circuit: Circuit): Evidence | null {
  const wires = wiredTogether(circuit);
  const wrong = circuit.transformers.filter(
    ({ secondary }) => secondary.filter((k) => meets(wires, circuit.earthed, k)).length !== 1,
  );
  return wrong.length === 0
    ? null
    : {
        found: `${wrong.map(({ tag }) => tag).join(', ')}: neither or both of the secondary’s terminals are joined to PE`,
        where: wrong.map(({ tag }) => tag),
      };
}

/** Current that an overload relay's poles carry at rated load, amperes: the line's, or a winding's behind the joint of a delta; null without a motor. */
export function carriedAmps(
  circuit: Circuit,
  tag: string,
): { amps: number; inWinding: boolean; most: number } | null {
  const everything = wiredTogether(circuit, () => true);
  const poles = circuit.conductors.filter((conductor) => conductor.tag === tag && conductor.wire < 0);
  // Heaters are inner links; without them the load side of a pole shows what it alone feeds.
  const cut = wiredTogether(
    { ...circuit, conductors: circuit.conductors.filter((conductor) => conductor.tag !== tag) },
    (contact) => contact.spec.role === 'pole',
  );
  for (const motor of circuit.motors) {
    if (!poles.some(({ b }) => motor.terminals.some((end) => everything.find(end) === everything.find(b))))
      continue;
    const ends = poles.map(({ b }) => motor.terminals.filter((end) => cut.find(end) === cut.find(b)).length);
    const inWinding =
      motor.connection === 'open' && motor.plate.connection === 'delta' && ends.every((count) => count === 1);
    const { current, frequency, serviceFactor } = motor.plate;
    const most =
      frequency === 60 ? (serviceFactor >= 1.15 ? DIAL_MOST_NEC_SERVICE : DIAL_MOST_NEC) : DIAL_MOST_IEC;
    return { amps: inWinding ? current / Math.sqrt(3) : current, inWinding, most };
  }
  return null;
}

function overloadDial(circuit: Circuit): Evidence | null {
  const wrong = circuit.bench.devices.flatMap((device) => {
    if (device.type !== 'overload') return [];
    const carried = carriedAmps(circuit, device.tag);
    if (!carried) return [`${device.tag} protects no motor`];
    const { amps, inWinding, most } = carried;
    const { dial } = device.settings;
    const place = inWinding ? ' in the winding leg (plate current / √3)' : '';
    return dial >= amps * DIAL_LEAST && dial <= amps * most
      ? []
      : [
          `${device.tag} is set to ${dial} A; ${(amps * DIAL_LEAST).toFixed(2)} to ${(amps * most).toFixed(2)} A is right${place}`,
        ];
  });
  return wrong.length === 0
    ? null
    : {
        found: wrong.join('; '),
        where: circuit.bench.devices.filter(({ type }) => type === 'overload').map(({ tag }) => tag),
      };
}

function timerSetting(
  circuit: Circuit,
  { min = 0, max = Number.POSITIVE_INFINITY }: { min?: number | undefined; max?: number | undefined },
): Evidence | null {
  const timers = circuit.bench.devices.flatMap((device) =>
    device.type === 'timer' || device.type === 'star-delta-timer'
      ? [{ tag: device.tag, delay: device.settings.delay }]
      : [],
  );
  const wrong = timers.filter(({ delay }) => delay < min || delay > max);
  if (wrong.length === 0) return null;
  return {
    found: `${wrong.map(({ tag, delay }) => `${tag} is set to ${delay} s`).join(', ')}; ${min} to ${max} s is asked for`,
    where: wrong.map(({ tag }) => tag),
  };
}

function freeContacts(circuit: Circuit, least: number): Evidence | null {
  const wired = wiredTerminals(circuit);
  const free = circuit.switches.filter(
    ({ spec, tag, a, b }) =>
      spec.role === 'aux' && circuit.coils.some((coil) => coil.tag === tag) && !wired.has(a) && !wired.has(b),
  );
  return free.length >= least
    ? null
    : { found: free.length === 0 ? 'no auxiliary contact is left free' : `only ${namesOf(free)} left free` };
}
