import {
  feeds,
  isFed,
  isMainPole,
  closedIn,
  isClosed,
  isOverloadNc,
  isProtective,
  meets,
  returns,
  supplyEarths,
  wayBetween,
  wayWords,
  wiredTogether,
  type Circuit,
  type Coil,
  type Switch,
  type UnionFind,
} from '../../circuit/index.js';
import { operated } from './operated.js';
import { breachAt, simple, touches, wiredCoils, type Breach } from './rule.js';

export const coilReturnUnswitched = simple(
  'coil-return-unswitched',
  'Coil return goes straight to the neutral',
  'The coil’s return goes straight to the neutral; only the overload contact may lie in it.',
  { breach: returnBreach },
);

function returnBreach(circuit: Circuit): Breach | null {
  const straight = wiredTogether(
    circuit,
    (contact) => isProtective(circuit, contact) || isOverloadNc(contact),
  );
  const anything = wiredTogether(circuit, () => true);
  const [back, lines] = [returns(circuit), feeds(circuit)];
  // A control circuit between two lines has no earthed side: then one line may be unswitched instead.
  const loose = wiredCoils(circuit).filter(
    (coil) => !touches(straight, touches(anything, back, coil) ? back : lines, coil),
  );
  return breachAt(
    loose.map(({ tag }) => tag),
    loose.map((coil) => returnWords(circuit, coil, straight)).join('; '),
  );
}

/** Where the return of a coil goes instead of straight to its supply's. */
function returnWords(circuit: Circuit, { tag, a, b }: Coil, straight: UnionFind): string {
  const coil = `the coil of ${tag}`;
  const earth = supplyEarths(circuit).find((one) => meets(straight, [a, b], one));
  if (earth !== undefined)
    return `${coil} is returned on ${circuit.terminals[earth]!}, the protective conductor`;
  const way = wayBetween(circuit, [a, b], returns(circuit), () => true);
  if (!way) return `${coil} reaches no return of its supply`;
  return `${coil} reaches ${circuit.terminals[way.to]!} only${wayWords(way)}`;
}

/**
 * With only its own contactor in and nothing pressed, a coil that is fed must be fed without any main pole.
 */
export const noPoleSealing = simple(
  'no-pole-sealing',
  'Nothing seals in through a power pole',
  'No sealing-in through a power pole.',
  {
    breach(circuit) {
      const wrong = wiredCoils(circuit).filter((coil) => {
        const state = operated(circuit, coil.tag);
        const bare = (contact: Switch) => isClosed(contact, state) && !isMainPole(circuit, contact);
        return (
          isFed(circuit, wiredTogether(circuit, closedIn(state)), coil) &&
          !isFed(circuit, wiredTogether(circuit, bare), coil)
        );
      });
      const tags = wrong.map(({ tag }) => tag);
      return breachAt(tags, `${tags.join(', ')} seals in through a power pole`);
    },
  },
);

/**
 * With every contactor's poles open, coils and lamps must still reach the return that they reach with them
 * closed. Common practice, no source.
 */
export const neutralUnswitched = simple(
  'neutral-unswitched',
  'Neutral is not taken from a switched pole',
  'No contact switches the neutral.',
  {
    breach(circuit) {
      const closed = wiredTogether(circuit, () => true);
      const open = wiredTogether(circuit, (contact) => !isMainPole(circuit, contact));
      const back = returns(circuit);
      const wrong = [...wiredCoils(circuit), ...circuit.lamps].filter(
        (load) => touches(closed, back, load) && !touches(open, back, load),
      );
      const tags = wrong.map(({ tag }) => tag);
      return breachAt(tags, `${tags.join(', ')} has its neutral from a switched pole`);
    },
  },
);
