import { splitRef, type TerminalRef } from '../bench/index.js';
import {
  isContactor,
  isContactorOrRelay,
  isDcSupply,
  isFuseDevice,
  isOverloadRelay,
  isSupply,
  isSwitchgearDevice,
  isThreePhaseMotor,
  isThreePhaseSupply,
  isTransformer,
  type Device,
} from '../catalogue/index.js';
import { heatersOf, type Switch } from '../circuit/index.js';
import type { Maker, Mistake } from './mistake.js';
import { bridged, detached, inOrder, moved, sealIns, type Contact, type Ground } from './wiring.js';

/**
 * Mistakes that no order of working shows: the board runs as it should, and somebody is hurt or something
 * burns.
 */

type Is = (device: Device) => boolean;

const isAcSupply: Is = (device) => isSupply(device) && !isDcSupply(device);

const isOne = ({ board }: Ground, tag: string, is: Is): boolean =>
  board.devices.some((one) => one.tag === tag && is(one));

const terminalsOf = ({ board, circuit }: Ground, is: Is): TerminalRef[] =>
  circuit.terminals.filter((ref) => board.devices.some((one) => one.tag === splitRef(ref).tag && is(one)));

/** Lines of the supplies of a board: not their neutral, not their earth. */
const linesOf = (ground: Ground): TerminalRef[] =>
  terminalsOf(ground, isAcSupply).filter((ref) => /^L\d?$/.test(splitRef(ref).terminal));

const say = (ref: TerminalRef): string => ref.replace(':', ' ');

/**
 * Ends of a contact or pole: the one towards a supply first, by what is wired; null where neither or both
 * are.
 */
interface Pole {
  readonly tag: string;
  readonly name: string;
  readonly fed: TerminalRef;
  readonly load: TerminalRef;
}

/** Poles that stand between a line and a load, each with the end that is fed. */
function polesOf(ground: Ground, admits: (tag: string) => boolean): Pole[] {
  const { circuit, nets } = ground;
  const poles = circuit.switches.filter(({ spec, tag }) => spec.role === 'pole' || isSwitchgear(ground, tag));
  const net = (ref: TerminalRef): number | undefined => nets.netOf.get(ref);
  const ref = ({ tag }: Switch, name: string): TerminalRef => `${tag}:${name}`;
  const ways = [
    ...poles.map((pole) => [ref(pole, pole.spec.a), ref(pole, pole.spec.b), pole.tag] as const),
    ...heatersOf(circuit).map(
      ({ a, b, tag }) => [circuit.terminals[a]!, circuit.terminals[b]!, tag] as const,
    ),
  ];
  const starred = (one: Switch, other: Switch): boolean =>
    [one.spec.a, one.spec.b].some((end) =>
      [other.spec.a, other.spec.b].some((far) => net(ref(one, end)) === net(ref(other, far))),
    );
  /** Nets that lines reach without one device. */
  const reached = (without: string): ReadonlySet<number | undefined> => {
    const found = new Set(linesOf(ground).map(net));
    for (let size = -1; size !== found.size;) {
      size = found.size;
      for (const [a, b, tag] of ways)
        if (tag !== without && (found.has(net(a)) || found.has(net(b)))) {
          found.add(net(a));
          found.add(net(b));
        }
    }
    found.delete(undefined);
    return found;
  };
  return poles.flatMap((pole): Pole[] => {
    const { tag, spec } = pole;
    const [a, b] = [ref(pole, spec.a), ref(pole, spec.b)];
    // Past one pole of a star point nothing changes: the others open it.
    const isStar = poles.some((other) => other.tag === tag && other !== pole && starred(other, pole));
    if (isStar || !admits(tag) || !nets.wired.has(a) || !nets.wired.has(b)) return [];
    const live = reached(tag);
    const isFed = [live.has(net(a)), live.has(net(b))];
    if (isFed[0] === isFed[1]) return [];
    return [{ tag, name: spec.name, fed: isFed[0] ? a : b, load: isFed[0] ? b : a }];
  });
}

const isSwitchgear = (ground: Ground, tag: string): boolean => isOne(ground, tag, isSwitchgearDevice);

/** Things of one device together, in the order of the devices. */
function byDevice<T extends { readonly tag: string }>(things: readonly T[]): T[][] {
  const groups = new Map<string, T[]>();
  for (const one of things) groups.set(one.tag, [...(groups.get(one.tag) ?? []), one]);
  return [...groups.values()];
}

/** A motor line that goes on from the fed side of a pole. */
const pastContactor: Maker = (ground) =>
  polesOf(ground, (tag) => isOne(ground, tag, isContactor)).map(({ tag, name, fed, load }): Mistake => ({
    kind: 'a line past the contactor',
    title: `The lead from ${say(load)} taken from ${say(fed)}: a line past ${tag} ${name}`,
    verdict: 'fails',
    change: moved(new Map([[load, fed]])),
  }));

/** What switches and protects, by-passed: a breaker wholly or by one line; a control fuse. */
const pastSwitchgear: Maker = (ground) => {
  const { nets } = ground;
  const lines = new Set(linesOf(ground).map((ref) => nets.netOf.get(ref)));
  const motorPoles = polesOf(ground, (tag) => isOne(ground, tag, isContactor));
  const motors = new Set(motorPoles.map(({ fed }) => nets.netOf.get(fed)));
  return byDevice(polesOf(ground, (tag) => isSwitchgear(ground, tag))).flatMap((poles): Mistake[] => {
    const [{ tag, fed, load }] = poles as [Pole];
    // Behind a breaker that still isolates, a by-passed fuse costs its rule; what comes first on a line is
    // all that isolates.
    const isFirst = poles.some((pole) => lines.has(nets.netOf.get(pole.fed)));
    const isMotors = poles.some((pole) => motors.has(nets.netOf.get(pole.load)));
    const verdict = isFirst || isMotors ? 'fails' : 'not-full';
    if (verdict === 'not-full' && ground.exercise.rules.fusedControl !== true) return [];
    const kind =
      isOne(ground, tag, isFuseDevice) && !isMotors ? 'control fuse by-passed' : 'breaker by-passed';
    const whole: Mistake = {
      kind,
      title: `${tag} by-passed by leads`,
      verdict,
      change: inOrder(...poles.map((pole) => bridged(pole.fed, pole.load))),
    };
    if (poles.length === 1) return [whole];
    return [
      whole,
      {
        kind: `${kind} by one line`,
        title: `${tag} by-passed by one line, ${say(fed)} to ${say(load)}`,
        verdict,
        change: bridged(fed, load),
      },
    ];
  });
};

/** Heaters that nothing, or not all, of the motor's current goes through. */
const pastHeaters: Maker = (ground) => {
  const { circuit, nets } = ground;
  const heaters = heatersOf(circuit).flatMap(({ a, b, tag }) => {
    const [one, other] = [circuit.terminals[a]!, circuit.terminals[b]!];
    return nets.wired.has(one) && nets.wired.has(other) ? [{ tag, one, other }] : [];
  });
  /** Heaters of a relay, or of another one, that come before or after one of them. */
  const besides = (heater: (typeof heaters)[number]) =>
    heaters.filter(
      (one) =>
        one !== heater &&
        [one.one, one.other].some((ref) =>
          [heater.one, heater.other].some((end) => nets.netOf.get(end) === nets.netOf.get(ref)),
        ),
    );
  return byDevice(heaters).flatMap((own): Mistake[] => {
    const others = own.flatMap(besides);
    // Past one heater of several in series, as with a single-phase motor, the current still goes through
    // the others.
    const single = others.length > 0 ? [] : own;
    const another = others.some(({ tag }) => tag !== own[0]!.tag);
    return [
      ...single.map(({ tag, one, other }): Mistake => ({
        kind: 'one heater by-passed',
        title: `${tag}: heater ${splitRef(one).terminal}-${splitRef(other).terminal} by-passed by a lead`,
        verdict: 'fails',
        change: bridged(one, other),
      })),
      ...(another
        ? []
        : [
            {
              kind: 'all heaters by-passed',
              title: `${own[0]!.tag}: all heaters by-passed`,
              verdict: 'fails',
              change: inOrder(...own.map(({ one, other }) => bridged(one, other))),
            } as const,
          ]),
    ];
  });
};

/** Neutral or earth under the terminal of a breaker where a line belongs. */
const returnForLine: Maker = (ground) => {
  const { circuit, nets, board } = ground;
  return linesOf(ground).flatMap((line) => {
    const { tag } = splitRef(line);
    if (!isOne(ground, tag, isThreePhaseSupply) || !nets.wired.has(line)) return [];
    const feedsMotor = board.devices.some(isThreePhaseMotor);
    if (!feedsMotor) return [];
    return (['N', 'PE'] as const).flatMap((name): Mistake[] => {
      const other: TerminalRef = `${tag}:${name}`;
      if (!circuit.indexOf.has(other)) return [];
      return [
        {
          kind: `${name} in a line’s place`,
          title: `${say(other)} in the place of ${say(line)}`,
          verdict: 'fails',
          change: moved(new Map([[line, other]])),
        },
      ];
    });
  });
};

/** Coils that return on the protective conductor, one by one. */
const returnOnEarth: Maker = (ground) => {
  const { board, nets } = ground;
  const earth = terminalsOf(ground, isAcSupply).find((ref) => splitRef(ref).terminal === 'PE');
  const coils = board.devices.filter(isContactorOrRelay);
  if (!earth) return [];
  return coils.flatMap(({ tag }): Mistake[] => {
    const a2: TerminalRef = `${tag}:A2`;
    if (!nets.wired.has(a2)) return [];
    return [
      {
        kind: 'control returned on PE',
        title: `Coil of ${tag} returned to ${say(earth)}`,
        verdict: 'fails',
        change: inOrder(detached(a2), bridged(a2, earth)),
      },
    ];
  });
};

/** The control fed from before the breaker that isolates the motor. */
const controlAhead: Maker = (ground) => {
  const { exercise, nets } = ground;
  if (exercise.rules.controlIsolated !== true) return [];
  const holds = sealIns(ground).length > 0;
  const motors = polesOf(ground, (tag) => isOne(ground, tag, isContactor)).map(({ fed }) => fed);
  const neutrals = terminalsOf(ground, isAcSupply).filter((ref) => splitRef(ref).terminal === 'N');
  /** A breaker of which a pole stands in the neutral takes the control's return with it. */
  const opensNeutral = (tag: string): boolean =>
    neutrals.some((ref) =>
      nets.nets[nets.netOf.get(ref) ?? -1]?.terminals.some((other) => splitRef(other).tag === tag),
    );
  const gear = polesOf(ground, (tag) => isSwitchgear(ground, tag));
  const feeds = gear
    // Where fuses alone stand before a motor there is no breaker to be ahead of.
    .filter(({ tag }) => !isOne(ground, tag, isFuseDevice))
    .flatMap(({ tag, fed, load }) =>
      exercise.reference.flatMap((wire) => {
        if (wire.from !== load && wire.to !== load) return [];
        const other = wire.from === load ? wire.to : wire.from;
        const isFused = isOne(ground, splitRef(other).tag, isFuseDevice);
        // A breaker of the control's own is a school of its own.
        const isControl =
          (isFused || isOne(ground, splitRef(other).tag, isTransformer)) && !motors.includes(other);
        return isControl ? [{ tag, fed, load, wire, other, isFused }] : [];
      }),
    );
  return feeds.map(({ tag, fed, load, wire, other, isFused }): Mistake => {
    // Where nothing holds by itself, and where another conductor still goes with the breaker, nothing
    // starts again.
    const isWhole = feeds.filter((one) => one.tag === tag).length === 1 && !opensNeutral(tag);
    return {
      kind: 'control taken ahead of the breaker',
      title: `${say(other)} fed from ${say(fed)}, ahead of ${tag}`,
      verdict: holds && isWhole && isFused ? 'fails' : 'not-full',
      change: (wires) =>
        wires.map((one) =>
          one.from === wire.from && one.to === wire.to
            ? { ...one, from: one.from === load ? fed : one.from, to: one.to === load ? fed : one.to }
            : one,
        ),
    };
  });
};

/** A secondary that stands on a line as well. */
const secondaryOnLine: Maker = (ground) => {
  const [line] = linesOf(ground).slice(-1);
  return terminalsOf(ground, isTransformer)
    .filter((ref) => splitRef(ref).terminal === 'X1')
    .flatMap((ref): Mistake[] =>
      line
        ? [
            {
              kind: 'secondary tied to a line',
              title: `${say(ref)} tied to ${say(line)}`,
              verdict: 'fails',
              change: bridged(ref, line),
            },
          ]
        : [],
    );
};

/** A motor line that goes through an auxiliary contact, which is not made for its current. */
const throughAuxiliary: Maker = (ground) => {
  const { exercise } = ground;
  if (exercise.rules.contactDuty !== true) return [];
  return byDevice(polesOf(ground, (tag) => isOne(ground, tag, isContactor))).flatMap((poles): Mistake[] => {
    const pole = poles.at(-1)!;
    const aux = ground.free.find(
      ({ tag, normally, role }) => tag === pole.tag && normally === 'open' && role === 'aux',
    );
    if (!aux) return [];
    return [
      {
        kind: 'a motor line through an auxiliary contact',
        title: `${pole.tag}: a line through ${aux.name} in place of ${pole.name}`,
        verdict: exercise.essentialRules?.includes('contactDuty') ? 'fails' : 'not-full',
        change: moved(
          new Map([
            [pole.fed, aux.a],
            [pole.load, aux.b],
          ]),
        ),
      },
    ];
  });
};

const LAMP = 'lamp';

/** Contacts that feed a lamp and nothing else, with the end that comes from the control. */
function lampFeeds(
  ground: Ground,
): { readonly contact: Contact; readonly fed: TerminalRef; readonly lamp: string }[] {
  const { contacts, nets, board } = ground;
  const lamps = board.devices.filter(({ type }) => type === LAMP).map(({ tag }) => tag);
  return contacts.flatMap((contact) =>
    (
      [
        [contact.a, contact.b],
        [contact.b, contact.a],
      ] as const
    ).flatMap(([fed, load]) => {
      const own = nets.nets[nets.netOf.get(load) ?? -1]?.terminals ?? [];
      const lamp = lamps.find((tag) => own.length === 2 && own.some((ref) => splitRef(ref).tag === tag));
      return lamp ? [{ contact, fed, lamp }] : [];
    }),
  );
}

/** Lamps fed without the control fuse, or from another line. */
const lampsUnfused: Maker = (ground) => {
  const { exercise, nets } = ground;
  if (exercise.rules.fusedControl !== true) return [];
  const gear = polesOf(ground, (tag) => isSwitchgear(ground, tag));
  return lampFeeds(ground).flatMap(({ contact, fed, lamp }): Mistake[] => {
    const fuse = gear.find((pole) => nets.netOf.get(pole.load) === nets.netOf.get(fed));
    if (!fuse) return [];
    const breaker = gear.find(
      (pole) =>
        pole.tag !== fuse.tag &&
        nets.netOf.get(pole.load) !== nets.netOf.get(fuse.fed) &&
        gear.some((one) => one.tag === pole.tag && nets.netOf.get(one.load) === nets.netOf.get(fuse.fed)),
    );
    const taken = (from: TerminalRef, kind: string): Mistake => ({
      kind,
      title: `${lamp} by ${contact.tag} ${contact.name} from ${say(from)}, without ${fuse.tag}`,
      verdict: 'not-full',
      change: inOrder(detached(fed), bridged(fed, from)),
    });
    return [
      taken(fuse.fed, 'a lamp without the control fuse'),
      ...(breaker ? [taken(breaker.load, 'a lamp from another line')] : []),
    ];
  });
};

/** A relay that resets itself where the exercise asks for a hand. */
const automaticReset: Maker = ({ board, exercise: { rules, essentialRules } }) =>
  board.devices.flatMap((device): Mistake[] => {
    if (
      !isOverloadRelay(device) ||
      rules.overloadReset !== 'manual' ||
      (device.settings as { reset?: string }).reset !== 'manual'
    )
      return [];
    const devices = board.devices.map((one) =>
      one.tag === device.tag ? ({ ...one, settings: { ...one.settings, reset: 'auto' } } as Device) : one,
    );
    return [
      {
        kind: 'overload on automatic reset',
        title: `${device.tag} on automatic reset`,
        verdict: essentialRules?.includes('overloadReset') ? 'fails' : 'not-full',
        change: (wires) => [...wires],
        devices,
      },
    ];
  });

/** A seal that comes in behind the interlock, at the coil itself. */
const sealPastInterlock: Maker = (ground) => {
  const { contacts, nets } = ground;
  const net = (ref: TerminalRef) => nets.netOf.get(ref);
  const isInterlock = ({ role, normally }: Contact) => role === 'aux' && normally === 'closed';
  return contacts.flatMap((interlock): Mistake[] => {
    if (!isInterlock(interlock)) return [];
    return (
      [
        [interlock.a, interlock.b],
        [interlock.b, interlock.a],
      ] as const
    ).flatMap(([before, behind]): Mistake[] => {
      const a1 = nets.nets[net(behind) ?? -1]?.terminals.find((ref) => splitRef(ref).terminal === 'A1');
      const coil = a1 && splitRef(a1).tag;
      if (!a1 || !coil || coil === interlock.tag) return [];
      return contacts.flatMap((seal): Mistake[] => {
        const end = [seal.a, seal.b].find((ref) => net(ref) === net(before));
        if (seal.tag !== coil || seal.role !== 'aux' || seal.normally !== 'open' || !end) return [];
        return [
          {
            kind: 'seal past the interlock',
            title: `Seal ${seal.tag} ${seal.name} taken past ${interlock.tag} ${interlock.name} to ${say(a1)}`,
            verdict: 'fails',
            change: inOrder(detached(end), bridged(end, a1)),
          },
        ];
      });
    });
  });
};

export const PROTECTION_MISTAKES: readonly Maker[] = [
  pastContactor,
  pastSwitchgear,
  pastHeaters,
  returnForLine,
  returnOnEarth,
  controlAhead,
  secondaryOnLine,
  throughAuxiliary,
  lampsUnfused,
  automaticReset,
  sealPastInterlock,
];
