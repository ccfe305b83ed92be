import { choice, optional } from '../../catalogue/index.js';
import {
  carriedAmps,
  resetOf,
  isTripBar,
  isOverloadNc,
  isProtective,
  meets,
  returns,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type Switch,
  type TerminalIndex,
} from '../../circuit/index.js';
import { DIAL_LEAST, DIAL_MOST_IEC, DIAL_MOST_NEC, DIAL_MOST_NEC_SERVICE } from '../../tolerances.js';
import { breachAt, endsOf, namesOf, rule, simple, type Breach } from './rule.js';

type Place = 'line' | 'coil' | 'either';

const TITLES = {
  line: 'Overload contact at the line end',
  coil: 'Overload contact between coil and neutral',
  either: 'Overload contact in the control circuit',
} as const;

const SENTENCES = {
  line: 'Overload contact at the line end, before Stop.',
  coil: 'Overload contact between coil and neutral.',
  either: 'Overload contact before Stop or after the coil: both are accepted.',
} as const;

/**
 * Where the overload's NC contact stands. "either" accepts both schools: that it works at all is the safety
 * property's to judge.
 */
export const overloadPosition = {
  ...rule<Place>({
    id: () => 'overload-position',
    title: (place) => TITLES[place],
    sentence: (place) => SENTENCES[place],
    applies: (_, place) => place !== 'either',
    breach: (circuit, place) => positionBreach(circuit, place),
  }),
  field: optional(choice('Overload contact', ['line', 'coil', 'either'])),
};

function positionBreach(circuit: Circuit, wanted: Place): Breach | null {
  const contacts = circuit.switches.filter(isOverloadNc);
  const wired = wiredTerminals(circuit);
  const ends = contacts.flatMap(({ a, b }) => [a, b]);
  const coilEnds = circuit.coils.flatMap(({ a, b, mechanism }) =>
    isTripBar(circuit.mechanisms[mechanism]!) ? [] : [a, b],
  );
  const unwired = contacts.filter(({ a, b }) => !wired.has(a) || !wired.has(b));
  if (unwired.length > 0)
    return { found: `${namesOf(unwired)} is not in the control circuit`, where: endsOf(unwired) };
  const anything = wiredTogether(circuit, () => true);
  const goals = returns(circuit).filter((one) => meets(anything, ends, one));
  const stands = (contact: Switch): Place =>
    goals.length > 0 ? placeByReturn(circuit, contact, goals) : placeByCoil(circuit, contact, coilEnds);
  const wrong = contacts.filter((contact) => stands(contact) !== wanted);
  const place = wanted === 'coil' ? 'at the line end' : 'between coil and neutral';
  return breachAt(endsOf(wrong), `${namesOf(wrong)} stands ${place}`);
}

/**
 * Between coil and neutral where one of its ends reaches the return through it alone, other overload
 * contacts aside.
 */
function placeByReturn(circuit: Circuit, { a, b }: Switch, goals: readonly TerminalIndex[]): Place {
  const bare = wiredTogether(circuit, (contact) => isProtective(circuit, contact));
  const closed = wiredTogether(circuit, (contact) => isProtective(circuit, contact) || isOverloadNc(contact));
  return [a, b].some((end) => meets(closed, goals, end) && !meets(bare, goals, end)) ? 'coil' : 'line';
}

/**
 * Between two lines nothing is the return: behind the coil stands what is joined to one, other overload
 * contacts aside.
 */
function placeByCoil(circuit: Circuit, contact: Switch, coilEnds: readonly TerminalIndex[]): Place {
  const sets = wiredTogether(
    circuit,
    (other) => other !== contact && (isProtective(circuit, other) || isOverloadNc(other)),
  );
  return meets(sets, coilEnds, contact.a) || meets(sets, coilEnds, contact.b) ? 'coil' : 'line';
}

type Reset = 'manual' | 'auto' | 'either';

const RESETS = { manual: 'reset by hand', auto: 'reset by itself', either: 'reset either way' } as const;

/** How the overload relay comes back after a trip. */
export const overloadReset = {
  ...rule<Reset>({
    id: () => 'overload-reset',
    title: (reset) => `Overload is ${RESETS[reset]}`,
    sentence: (reset) => (reset === 'either' ? '' : `The overload relay is ${RESETS[reset]}.`),
    applies: (circuit, reset) => reset !== 'either' && overloadsOf(circuit).length > 0,
    breach(circuit, reset) {
      const wrong = circuit.mechanisms.flatMap((one) => {
        const its = resetOf(one);
        return its !== null && its !== reset ? [one.device.tag] : [];
      });
      return breachAt(
        wrong,
        `${wrong.join(', ')} is set to ${reset === 'manual' ? 'automatic' : 'manual'} reset`,
      );
    },
  }),
  field: optional(choice('Overload reset', ['manual', 'auto', 'either'])),
};

export const overloadDial = simple(
  'overload-dial',
  'Overload dial set to the motor’s plate',
  'The overload’s dial stands at the motor’s plate current.',
  { applies: (circuit) => overloadsOf(circuit).length > 0, breach: dialBreach },
);

const overloadsOf = ({ protections }: Circuit): { tag: string; dial: number }[] =>
  protections.flatMap(({ tag, spec }) => (spec.curve === 'overload' ? [{ tag, dial: spec.dial }] : []));

function dialBreach(circuit: Circuit): Breach | null {
  const overloads = overloadsOf(circuit);
  const wrong = overloads.flatMap(({ tag, dial }) => {
    const carried = carriedAmps(circuit, tag);
    if (!carried) return [`${tag} protects no motor`];
    const { amps, inWinding, plate } = carried;
    const nec = plate.serviceFactor >= 1.15 ? DIAL_MOST_NEC_SERVICE : DIAL_MOST_NEC;
    const [low, high] = [amps * DIAL_LEAST, amps * (plate.frequency === 60 ? nec : DIAL_MOST_IEC)];
    if (dial >= low && dial <= high) return [];
    const place = inWinding ? ' in the winding leg (plate current / √3)' : '';
    return [`${tag} is set to ${dial} A; ${low.toFixed(2)} to ${high.toFixed(2)} A is right${place}`];
  });
  if (wrong.length === 0) return null;
  return { found: wrong.join('; '), where: overloads.map(({ tag }) => tag) };
}
