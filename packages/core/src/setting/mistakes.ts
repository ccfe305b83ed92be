import type { Mistake, Maker } from './mistake.js';
import { spellWire, type TerminalRef, type Wire } from '../bench/index.js';
import {
  delaySetOn,
  isContactor,
  isDcSupply,
  isLimitSwitch,
  isPushbutton,
  isThreePhaseSupply,
  isTransformer,
  type Device,
} from '../catalogue/index.js';
import { referenceBench, type Exercise } from '../marking/index.js';
import { shuffled } from '../random/index.js';
import { POWER_MISTAKES } from './power-mistakes.js';
import { PROTECTION_MISTAKES } from './protection-mistakes.js';
import {
  alsoOn,
  bridged,
  detached,
  exchanged,
  inOrder,
  inSeries,
  isStart,
  isStop,
  jointsOf,
  moved,
  sealIns,
  without,
  type Contact,
  type Ground,
} from './wiring.js';

const say = ({ tag, name }: Contact): string => `${tag} ${name}`;

const noSealIn: Maker = (ground) =>
  sealIns(ground).map(({ seal, run }) => ({
    kind: 'seal-in left out',
    title: `No seal-in: ${say(seal)} not wired`,
    verdict: 'fails',
    change: inOrder(detached(run), detached(run === seal.a ? seal.b : seal.a)),
  }));

const sealBeforeStop: Maker = (ground) =>
  sealIns(ground).flatMap(({ seal, fed }): Mistake[] => {
    const { nets, contacts } = ground;
    const stop = contacts.find(
      (one) => isStop(one) && [one.a, one.b].some((ref) => nets.netOf.get(ref) === nets.netOf.get(fed)),
    );
    if (!stop) return [];
    const before = nets.netOf.get(stop.a) === nets.netOf.get(fed) ? stop.b : stop.a;
    return [
      {
        kind: 'seal-in from before Stop',
        title: `Seal-in ${say(seal)} from before ${stop.tag}`,
        verdict: 'fails',
        change: inOrder(detached(fed), bridged(fed, before)),
      },
    ];
  });

/** A contact taken for its opposite, where the device has a free one of that kind. */
const wrongKind: Maker = ({ contacts, free }) =>
  contacts.flatMap((contact): Mistake[] => {
    if (contact.normally === 'none') return [];
    const other = free.find((one) => one.tag === contact.tag && one.normally !== contact.normally);
    if (!other) return [];
    const words = contact.normally === 'open' ? 'NC in place of NO' : 'NO in place of NC';
    return [
      {
        kind: words,
        title: `${words}: ${other.tag} ${other.name} for ${contact.name}`,
        verdict: 'fails',
        change: moved(
          new Map([
            [contact.a, other.a],
            [contact.b, other.b],
          ]),
        ),
      },
    ];
  });

const stopAndStart: Maker = (ground) =>
  ground.contacts.filter(isStop).flatMap((stop) =>
    ground.contacts
      .filter((one) => isStart(one) && !inSeries(ground, stop, one))
      .map((start): Mistake => ({
        kind: 'Stop and Start exchanged',
        title: `${stop.tag} and ${start.tag} in each other’s place`,
        verdict: 'fails',
        change: exchanged([stop.a, stop.b], [start.a, start.b]),
      })),
  );

const WORDS = { closed: 'stop by-passed', open: 'start by-passed', none: 'selector by-passed' } as const;

/**
 * What is left where one interlock is by-passed: an armature that cannot move, buttons that exclude each
 * other, a timer.
 */
function hasOtherInterlock({ contacts, board, exercise }: Ground): boolean {
  const exclusive = contacts.some(
    ({ device, normally, duty }) =>
      isPushbutton(device) && normally === 'closed' && (duty === 'forward' || duty === 'reverse'),
  );
  return board.interlocks.length > 0 || exclusive || exercise.family === 'star-delta';
}

const bypassed: Maker = (ground) => {
  const { contacts } = ground;
  const seals = new Set(sealIns(ground).map(({ seal }) => say(seal)));
  const guarded = hasOtherInterlock(ground);
  return contacts.map((contact): Mistake => {
    // Of a contactor's contacts those that hold a start set it going by themselves; the others only let it.
    const isInterlock = contact.role === 'aux' && isContactor(contact.device) && !seals.has(say(contact));
    return {
      kind: isInterlock
        ? 'interlock by-passed'
        : contact.role === 'aux'
          ? 'contact by-passed'
          : WORDS[contact.normally],
      title: `${say(contact)} by-passed by a lead`,
      verdict: isInterlock && guarded ? 'not-full' : 'fails',
      change: bridged(contact.a, contact.b),
    };
  });
};

/** Two devices of one kind, the wired contacts of one kind of each in the other's place. */
const eachOthers: Maker = (ground) => {
  const { contacts } = ground;
  const groups: [string, (contact: Contact) => boolean][] = [
    ['interlock contacts exchanged', (one) => one.role === 'aux' && one.normally === 'closed'],
    ['seal-ins exchanged', (one) => one.role === 'aux' && one.normally === 'open'],
    ['limit switches exchanged', (one) => isLimitSwitch(one.device)],
    ['start buttons exchanged', isStart],
  ];
  return groups.flatMap(([kind, admits]) => {
    const own = contacts.filter(admits);
    return own.flatMap((one, k) =>
      own.slice(k + 1).flatMap((other): Mistake[] =>
        one.tag === other.tag || (one.duty === other.duty && isStart(one)) || inSeries(ground, one, other)
          ? []
          : [
              {
                kind,
                title: `${say(one)} and ${say(other)} in each other’s place`,
                verdict: 'fails',
                change: exchanged([one.a, one.b], [other.a, other.b]),
              },
            ],
      ),
    );
  });
};

const timerContacts: Maker = ({ contacts, board }) =>
  board.devices.flatMap((device): Mistake[] => {
    const own = contacts.filter(({ tag }) => tag === device.tag);
    const [first, second] = own;
    if (delaySetOn(device) === null || !first || !second) return [];
    return [
      {
        kind: 'timer contacts exchanged',
        title: `${device.tag}: ${first.name} and ${second.name} exchanged`,
        verdict: 'fails',
        change: exchanged([first.b], [second.b]),
      },
    ];
  });

const wrongOverloadContact: Maker = ({ contacts, free }) =>
  contacts.flatMap((contact): Mistake[] => {
    const other = free.find((one) => one.tag === contact.tag && one.role === 'overload-no');
    if (contact.role !== 'overload-nc' || !other) return [];
    return [
      {
        kind: '97-98 for 95-96',
        title: `${contact.tag}: 97-98 in place of 95-96`,
        verdict: 'fails',
        change: moved(
          new Map([
            [contact.a, other.a],
            [contact.b, other.b],
          ]),
        ),
      },
    ];
  });

/** Coils whose return is not where it should be. */
const coilReturns: Maker = (ground) => {
  const { board, nets, exercise } = ground;
  const contactors = board.devices.filter(isContactor);
  const lines = board.devices.find(isThreePhaseSupply);
  return contactors.flatMap(({ tag }): Mistake[] => {
    const [a2, pole]: TerminalRef[] = [`${tag}:A2`, `${tag}:2`];
    if (!a2 || !pole || !nets.wired.has(a2) || !nets.wired.has(pole)) return [];
    const open: Mistake = {
      kind: 'coil returns through an open pole',
      title: `Coil of ${tag} returned from ${tag} 2, behind its own open pole`,
      verdict: 'fails',
      change: inOrder(detached(a2), bridged(a2, pole)),
    };
    const other: TerminalRef = `${lines?.tag ?? ''}:L3`;
    if (!lines || exercise.bench.devices.some((one) => isTransformer(one) || isDcSupply(one))) return [open];
    const across: Mistake = {
      kind: 'coil between two lines',
      title: `Coil of ${tag} between two lines`,
      verdict: 'fails',
      change: inOrder(detached(a2), bridged(a2, other)),
    };
    return [open, across];
  });
};

/** Two starts that belong in parallel stand in series, two stops that belong in series stand in parallel. */
const stations: Maker = (ground) => {
  const { contacts, nets } = ground;
  const net = (ref: TerminalRef) => nets.netOf.get(ref);
  const pairs = (admits: (contact: Contact) => boolean) => {
    const own = contacts.filter(admits);
    return own.flatMap((one, k) => own.slice(k + 1).map((other) => [one, other] as const));
  };
  const series = pairs((one) => isStart(one) && one.duty !== 'jog').flatMap(([one, other]): Mistake[] => {
    if (net(one.a) !== net(other.a) || net(one.b) !== net(other.b)) return [];
    return [
      {
        kind: 'starts in series',
        title: `${one.tag} and ${other.tag} in series`,
        verdict: 'fails',
        change: inOrder(detached(one.b), detached(other.a), bridged(one.b, other.a)),
      },
    ];
  });
  const parallel = pairs((one) => isStop(one) && isPushbutton(one.device)).flatMap(
    ([one, other]): Mistake[] => {
      if (net(one.b) !== net(other.a)) return [];
      const [before, behind] = [alsoOn(ground, one.a, [one.tag]), alsoOn(ground, other.b, [other.tag])];
      if (!before || !behind) return [];
      return [
        {
          kind: 'stops in parallel',
          title: `${one.tag} and ${other.tag} in parallel`,
          verdict: 'fails',
          change: inOrder(
            detached(one.b),
            detached(other.a),
            bridged(one.b, behind),
            bridged(other.a, before),
          ),
        },
      ];
    },
  );
  return [...series, ...parallel];
};

const jogLikeStart: Maker = ({ contacts }) =>
  contacts.flatMap((jog): Mistake[] => {
    const start = contacts.find((one) => isStart(one) && one.duty !== 'jog');
    if (jog.duty !== 'jog' || jog.normally !== 'open' || !start) return [];
    return [
      {
        kind: 'jog in parallel with Start',
        title: `${jog.tag} in parallel with ${start.tag}`,
        verdict: 'fails',
        change: inOrder(detached(jog.a), detached(jog.b), bridged(jog.a, start.a), bridged(jog.b, start.b)),
      },
    ];
  });

const leftOut: Maker = ({ exercise }) => {
  const secondary = new Set(
    exercise.bench.devices.flatMap((one) => (isTransformer(one) ? [`${one.tag}:X1`, `${one.tag}:X2`] : [])),
  );
  return exercise.reference.map((wire: Wire) => {
    const { from, to } = wire;
    const earths =
      [from, to].some((ref) => ref.endsWith(':PE')) && [from, to].some((ref) => secondary.has(ref));
    return {
      kind: 'lead left out',
      title: `Lead ${spellWire(wire)} left out`,
      // A secondary that is not earthed works; what it lacks only a fault shows.
      verdict: earths ? 'not-full' : 'fails',
      change: without(wire),
    };
  });
};

/** In the order in which an instructor thinks of them. */
const MAKERS: readonly Maker[] = [
  noSealIn,
  sealBeforeStop,
  wrongKind,
  stopAndStart,
  bypassed,
  wrongOverloadContact,
  eachOthers,
  timerContacts,
  stations,
  jogLikeStart,
  coilReturns,
  ...POWER_MISTAKES,
  ...PROTECTION_MISTAKES,
  leftOut,
];

/** A wrong wiring of an exercise's board. */
export interface WrongWiring extends Omit<Mistake, 'change' | 'devices'> {
  readonly wires: readonly Wire[];
  readonly devices: readonly Device[];
}

/**
 * Wrong wirings made from a reference, kinds in turn, no two of the same joints; the order of one kind's
 * follows the random numbers.
 */
export function wrongWirings(ground: Ground, count: number, random: () => number): WrongWiring[] {
  const { exercise } = ground;
  const right = jointsOf(exercise, exercise.reference);
  const kinds = new Map<string, Mistake[]>();
  for (const mistake of MAKERS.flatMap((make) => make(ground)))
    kinds.set(mistake.kind, [...(kinds.get(mistake.kind) ?? []), mistake]);
  const queues = [...kinds.values()].map((list) => shuffled(list, random));
  const seen = new Set<string>();
  const chosen: WrongWiring[] = [];
  while (chosen.length < count && queues.some((queue) => queue.length > 0)) {
    for (const queue of queues) {
      const mistake = queue.shift();
      if (!mistake || chosen.length >= count) continue;
      const made = applied(exercise, mistake);
      const key = keyOf(exercise, made, mistake.verdict, right);
      if (seen.has(key) || key === right) continue;
      seen.add(key);
      chosen.push(made);
    }
  }
  return chosen;
}

function applied(exercise: Exercise, { kind, title, verdict, change, devices }: Mistake): WrongWiring {
  const wires = change(exercise.reference).filter(({ from, to }) => from !== to);
  return { kind, title, verdict, wires, devices: devices ?? referenceBench(exercise).devices };
}

/** What is joined; where that is not what is wrong, how it is wired and set. */
const keyOf = (
  exercise: Exercise,
  { wires, devices, kind }: WrongWiring,
  verdict: Mistake['verdict'],
  right: string,
): string => {
  const joints = jointsOf(exercise, wires);
  if (verdict === 'fails' || joints !== right) return joints;
  return `${joints} ${kind} ${JSON.stringify(wires)} ${JSON.stringify(devices.map(({ settings }) => settings))}`;
};
