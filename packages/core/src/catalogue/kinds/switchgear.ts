import { BARE, POLES, contactEnds, poleTerminals, type Anatomy, type ProtectionSpec } from '../anatomy.js';
import { CLOSED, OPEN } from '../states.js';

const POLES_MECHANISM = 'poles';

/** What a fuse or breaker opens by: a current in its poles. */
type Release<P = ProtectionSpec> = P extends unknown ? Omit<P, 'poles' | 'releases'> : never;

/** What breaker, fuse and disconnector have in common: poles that are closed, open, or tripped (blown). */
export function switchgear(
  count: number,
  closed: boolean,
  tripped: 'tripped' | 'blown',
  release?: Release,
): Anatomy {
  const poles = POLES.slice(0, count);
  return {
    ...BARE,
    terminals: poleTerminals(poles),
    actuators: [
      { name: POLES_MECHANISM, kind: 'switchgear', states: 3, initial: closed ? CLOSED : OPEN, tripped },
    ],
    contacts: poles.map((name) => {
      const [a, b] = contactEnds(name);
      return {
        name,
        a,
        b,
        movedBy: POLES_MECHANISM,
        role: 'pole',
        normally: 'none',
        closedIn: [true, false, false],
      };
    }),
    ...(release ? { protection: { ...release, poles, releases: POLES_MECHANISM } } : {}),
  };
}
