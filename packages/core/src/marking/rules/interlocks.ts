import { START_DUTIES, choice, list, optional } from '../../catalogue/index.js';
import {
  controlOf,
  isArmature,
  isFed,
  isMainPole,
  wiredTogether,
  type Circuit,
  type Coil,
} from '../../circuit/index.js';
import { Solver, coilWants, isShorted } from '../../electrics/index.js';
import { operated } from './operated.js';
import { rule, type Breach } from './rule.js';

export const INTERLOCK_KINDS = ['electrical', 'mechanical', 'push-button'] as const;
export type InterlockKind = (typeof INTERLOCK_KINDS)[number];

/** What is known of a kind of interlock. */
interface Form {
  readonly title: string;
  readonly words: string;
  /** What of it is missing between two contactors that exclude each other. */
  readonly missing: (circuit: Circuit, solver: Solver, a: Coil, b: Coil) => readonly string[];
}

const FORMS: { readonly [K in InterlockKind]: Form } = {
  electrical: {
    title: 'Electrical interlock: each coil behind the other’s NC contact',
    words: 'by auxiliary contacts',
    // With the NC contacts of one open and every other contact closed, the coil of the other must be cut off.
    missing: (circuit, _, a, b) =>
      fedTogether(circuit, a, b).map(
        ([held, other]) => `the coil of ${other.tag} can be fed while ${held.tag} is in`,
      ),
  },
  mechanical: {
    title: 'Mechanical interlock fitted',
    words: 'mechanically',
    missing: ({ interlocks }, _, a, b) =>
      interlocks.some((group) => group.includes(a.mechanism) && group.includes(b.mechanism))
        ? []
        : [`${a.tag} and ${b.tag} are not coupled`],
  },
  'push-button': {
    title: 'Push-button interlock: each start button’s NC contact in the other rung',
    words: 'by the push buttons’ own contacts',
    missing: (circuit, solver, a, b) =>
      eachOf(a, b).flatMap(([held, other]) => {
        const starters = startButtons(circuit).filter((tag) => starts(circuit, solver, tag, held));
        return starters.length > 0 && starters.every((tag) => !canBeFed(circuit, tag, other))
          ? []
          : [`the button that starts ${held.tag} does not cut off ${other.tag}`];
      }),
  },
};

export const interlocks = {
  ...rule<readonly InterlockKind[]>({
    each: (kinds) => kinds.map((kind) => [kind]),
    id: ([kind]) => `interlock-${kind ?? ''}`,
    title: ([kind]) => (kind ? FORMS[kind].title : ''),
    sentence: (kinds) =>
      kinds.length === 0
        ? ''
        : `Contactors that must not be in together are interlocked ${kinds.map((kind) => FORMS[kind].words).join(' and ')}.`,
    breach: (circuit, [kind]) => (kind ? interlockBreach(circuit, kind) : null),
  }),
  field: optional(list('Interlocks', choice('Interlock', INTERLOCK_KINDS), [0, 3])),
};

function interlockBreach(circuit: Circuit, kind: InterlockKind): Breach | null {
  const solver = new Solver(circuit);
  const pairs = rivalPairs(circuit, solver);
  if (pairs.length === 0) return { found: 'no two contactors of this wiring exclude each other' };
  const missing = pairs.flatMap(([a, b]) => FORMS[kind].missing(circuit, solver, a, b));
  if (missing.length === 0) return null;
  return { found: missing.join('; '), where: [...new Set(pairs.flatMap(([a, b]) => [a.tag, b.tag]))] };
}

/**
 * Contactors that exclude each other: both in short the lines, at once or as soon as a third feeds them and
 * they drive nothing of their own.
 */
export function rivalPairs(circuit: Circuit, solver: Solver): [Coil, Coil][] {
  const contactors = circuit.coils.filter(({ mechanism }) =>
    circuit.switches.some((contact) => contact.mechanism === mechanism && isMainPole(circuit, contact)),
  );
  const at = (...coils: Coil[]) => solver.at(operated(circuit, ...coils.map(({ tag }) => tag)));
  return contactors.flatMap((a, k) =>
    contactors.slice(k + 1).flatMap((b): [Coil, Coil][] => {
      if (isShorted(at(a, b))) return [[a, b]];
      // Star and delta short the lines only once the main contactor feeds them, with which each may be in
      // alone.
      const third = contactors.some(
        (c) => c !== a && c !== b && isShorted(at(a, b, c)) && !isShorted(at(a, c)) && !isShorted(at(b, c)),
      );
      return third && at(a, b).motors.every(({ driven }) => driven === 'none') ? [[a, b]] : [];
    }),
  );
}

const eachOf = (a: Coil, b: Coil): readonly (readonly [held: Coil, other: Coil])[] => [
  [a, b],
  [b, a],
];

/** Of two contactors, each that can be fed while the other is in. */
export const fedTogether = (circuit: Circuit, a: Coil, b: Coil): (readonly [held: Coil, other: Coil])[] =>
  eachOf(a, b).filter(([held, other]) => canBeFed(circuit, held.tag, other));

/** True where a coil can be fed with the NC contacts of one device open and every other contact closed. */
function canBeFed(circuit: Circuit, tag: string, coil: Coil): boolean {
  const sets = wiredTogether(
    circuit,
    (contact) => !(contact.tag === tag && contact.spec.normally === 'closed'),
  );
  return isFed(circuit, sets, coil);
}

/** Tags of momentary buttons that start something. */
const startButtons = ({ mechanisms }: Circuit): string[] =>
  mechanisms.flatMap((one) =>
    controlOf(one) === 'momentary' && START_DUTIES.includes(one.device.duty) ? [one.device.tag] : [],
  );

/** True where a button, pressed on a board at rest, energises a coil. */
function starts(circuit: Circuit, solver: Solver, button: string, coil: Coil): boolean {
  // A relay that watches the mains is in before anybody presses anything.
  const rest = operated(circuit);
  const before = solver.at(rest);
  const watching = circuit.coils.filter(
    ({ mechanism }, k) => isArmature(circuit.mechanisms[mechanism]!) && coilWants(circuit, before, rest, k),
  );
  const state = operated(circuit, button, ...watching.map(({ tag }) => tag));
  return coilWants(circuit, solver.at(state), state, circuit.coils.indexOf(coil));
}
