import {
  feeds,
  isControlProtection,
  isFed,
  isMainPole,
  isOverloadNc,
  isProtective,
  returns,
  wiredTogether,
  type Circuit,
  type Switch,
} from '../../circuit/index.js';
import { operated } from './operated.js';
import { breachAt, coilsNamed, simple, touches, wiredCoils, type Breach } from './rule.js';

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
    `${coilsNamed(loose)} reaches the return of its supply only through a contact`,
  );
}

/** With every contact closed but the fuses taken out, no coil may still be reached by a line conductor. */
export const fusedControl = simple(
  'fused-control',
  'Control circuit is fused',
  'The control circuit is fed through a fuse.',
  {
    breach(circuit) {
      const unfused = wiredTogether(circuit, (contact) => !isControlProtection(circuit, contact));
      const bare = wiredCoils(circuit).filter((coil) => touches(unfused, feeds(circuit), coil));
      return breachAt(
        bare.map(({ tag }) => tag),
        `${coilsNamed(bare)} can be fed without passing a fuse`,
      );
    },
  },
);

/** With only its own contactor in and nothing pressed, a coil that is fed must be fed without any main pole. */
export const noPoleSealing = simple(
  'no-pole-sealing',
  'Nothing seals in through a power pole',
  'No sealing-in through a power pole.',
  {
    breach(circuit) {
      const wrong = wiredCoils(circuit).filter((coil) => {
        const state = operated(circuit, coil.tag);
        const closed = ({ mechanism, closedIn }: Switch) => closedIn[state[mechanism]!]!;
        const bare = (contact: Switch) => closed(contact) && !isMainPole(circuit, contact);
        return (
          isFed(circuit, wiredTogether(circuit, closed), coil) &&
          !isFed(circuit, wiredTogether(circuit, bare), coil)
        );
      });
      const tags = wrong.map(({ tag }) => tag);
      return breachAt(tags, `${tags.join(', ')} seals in through a power pole`);
    },
  },
);

/** With every contactor's poles open, coils and lamps must still reach the return that they reach with them closed. Common practice, no source. */
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
